import { Button } from '../ui/Button';
import { countOf } from '../ui/numbers';
import { useDeletedProjects } from './projectQueries';

/** What was deleted lately, each with the way back and how long there is one. */
export function DeletedProjects({ onRestore }: { onRestore: (id: number) => void }) {
  const { data } = useDeletedProjects();
  if (!data?.length) return null;
  return (
    <section aria-labelledby="deleted-title" data-testid="deleted-projects" className="mt-9 border-rule border-t pt-4">
      <h2 id="deleted-title" className="mb-2 font-display font-semibold text-lg">
        Deleted
      </h2>
      <ul className="divide-y divide-rule">
        {data.map(({ id, name, days_left }) => (
          <li key={id} className="flex items-center justify-between gap-4 py-1.5">
            <span className="min-w-0 truncate" title={name}>
              {name}
            </span>
            <span className="flex flex-none items-center gap-3 text-soft">
              gone for good in {countOf(days_left, 'day')}
              <Button onClick={() => onRestore(id)}>Bring it back</Button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
