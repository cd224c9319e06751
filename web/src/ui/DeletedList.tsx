import { Button } from './Button';
import { countOf } from './numbers';

interface Props {
  testId: string;
  /** What was deleted, with words on how, and for how many days there is a way back. */
  deleted: { id: number; name: string; words?: string; days_left: number }[] | undefined;
  onRestore: (id: number) => void;
}

/** What was deleted lately, each with the way back and how long there is one; nothing if there is none. */
export function DeletedList({ testId, deleted, onRestore }: Props) {
  if (!deleted?.length) return null;
  return (
    <section aria-label="Deleted" data-testid={testId} className="mt-9 border-rule border-t pt-4">
      <h2 className="mb-2 font-display font-semibold text-lg">Deleted</h2>
      <ul className="divide-y divide-rule">
        {deleted.map(({ id, name, words, days_left }) => (
          <li key={id} className="flex items-center justify-between gap-4 py-1.5">
            <span className="min-w-0 truncate" title={name}>
              {name}
              {words && <span className="text-soft"> · {words}</span>}
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
