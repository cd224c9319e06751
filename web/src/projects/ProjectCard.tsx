import { useQuery } from '@tanstack/react-query';
import { Copy, Ellipsis, Pencil, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { IconButton } from '../ui/Button';
import { NameSheet } from '../ui/NameSheet';
import { formatWhen } from '../ui/numbers';
import { pictureOf } from '../viewport/picture';
import type { Project } from './projectQueries';

interface Props {
  project: Project;
  onOpen: (part: number | null) => void;
  onRename: (name: string) => void;
  onDuplicate: () => void;
  onDelete: () => void;
}

export function ProjectCard({ project, onOpen, onRename, onDuplicate, onDelete }: Props) {
  const [naming, setNaming] = useState(false);
  const snapshot = project.parts[0]?.snapshot;
  const picture = useQuery({
    queryKey: ['picture', snapshot],
    queryFn: () => pictureOf(snapshot as number),
    enabled: snapshot !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <li
      data-testid="project"
      data-name={project.name}
      className="overflow-hidden rounded-lg border border-rule bg-card"
    >
      <button
        type="button"
        onClick={() => onOpen(null)}
        aria-label={`Open ${project.name}`}
        className="drafting block h-[210px] w-full"
      >
        {picture.data && (
          <img src={picture.data} alt="" data-testid="picture" className="mx-auto h-full object-contain" />
        )}
        {snapshot === undefined && <span className="text-soft">no part yet</span>}
      </button>
      <div className="border-rule border-t px-4 py-3">
        <div className="flex items-center justify-between">
          <h2 className="truncate font-display font-semibold text-[17px]">{project.name}</h2>
          <DropdownMenu.Root>
            <DropdownMenu.Trigger asChild>
              <IconButton label={`More for ${project.name}`}>
                <Ellipsis size={18} />
              </IconButton>
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content
                align="end"
                className="z-40 min-w-40 rounded-md border border-rule bg-card p-1 shadow-md"
              >
                <Item icon={<Pencil size={15} />} words="Rename" onChoose={() => setNaming(true)} />
                <Item icon={<Copy size={15} />} words="Duplicate" onChoose={onDuplicate} />
                <Item icon={<Trash2 size={15} />} words="Delete" onChoose={onDelete} />
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        </div>
        <p className="mb-2 text-[13px] text-soft">changed {formatWhen(project.changed)}</p>
        <ul className="flex flex-wrap gap-1.5">
          {project.parts.map((part) => (
            <li key={part.id}>
              <button
                type="button"
                onClick={() => onOpen(part.id)}
                className="rounded border border-rule px-2 py-0.5 text-[13.5px] hover:border-soft"
              >
                {part.name}
              </button>
            </li>
          ))}
        </ul>
      </div>
      <NameSheet
        title={`Rename ${project.name}`}
        open={naming}
        initial={project.name}
        answer="Rename"
        onClose={() => setNaming(false)}
        onName={onRename}
      />
    </li>
  );
}

function Item({ icon, words, onChoose }: { icon: ReactNode; words: string; onChoose: () => void }) {
  return (
    <DropdownMenu.Item
      onSelect={onChoose}
      className="flex cursor-pointer items-center gap-2 rounded px-2 py-1.5 outline-none data-[highlighted]:bg-rule/50"
    >
      {icon}
      {words}
    </DropdownMenu.Item>
  );
}
