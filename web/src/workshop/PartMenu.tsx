/** What can be done with the part on the table as a whole: exported as a file, renamed, copied, ordered, deleted. */
import { MoreHorizontal } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { useOffered } from '../hand/offered';
import { download } from '../page/download';
import { moved, usePartChanges } from '../projects/partQueries';
import { openSheet } from '../stores/sheetStore';
import { TOGETHER, takeProject, takeTogether } from '../table/commands';
import { NameSheet } from '../ui/NameSheet';

/** The formats a part can be exported in, each with what it keeps. */
export const EXPORTS = [
  ['obj', 'OBJ', 'n-gons, texture places, materials, patches'],
  ['ply', 'PLY', 'n-gons, all digits'],
  ['glb', 'glb', 'triangles to show, and everything to read back here'],
  ['stl', 'STL', 'triangles only'],
] as const;

export const exportPart = (part: number, ending: string): void => void download(`/api/parts/${part}/export.${ending}`);

const ITEM =
  'flex cursor-pointer items-baseline gap-3 rounded px-3 py-1 outline-none data-[highlighted]:bg-rule/50 data-[disabled]:opacity-45';

interface Props {
  part: { id: number; name: string; hidden: boolean };
  /** All parts of the project, in order. */
  parts: { id: number }[];
  project: number;
  onGone: () => void;
  onPart: (part: number) => void;
}

export function PartMenu({ part, parts, project, onGone, onPart }: Props) {
  const [naming, setNaming] = useState(false);
  const { rename, hide, duplicate, arrange, remove } = usePartChanges();
  const { id, name } = part;
  const copy = () => void duplicate(id).then((made) => made && onPart(made.id));
  const drop = () => void remove(id, name).then((gone) => gone && onGone());
  useOffered('rename', () => setNaming(true));
  useOffered('duplicate', copy);
  useOffered('delete-part', drop);
  const move = (by: number) => () => arrange(project, moved(parts, id, by));
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          aria-label="Part: export, rename, copy, order, delete"
          className="inline-flex h-8 w-8 shrink-0 items-center justify-center rounded hover:bg-rule/50"
        >
          <MoreHorizontal size={18} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-40 rounded-md border border-rule bg-card p-1 shadow-md"
        >
          {EXPORTS.map(([ending, words, keeps]) => (
            <DropdownMenu.Item key={ending} className={ITEM} onSelect={() => exportPart(id, ending)}>
              <span className="w-28">Export as {words}</span>
              <span className="text-[13px] text-soft">{keeps}</span>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          {TOGETHER.map(([ending, words, keeps]) => (
            <DropdownMenu.Item key={ending} className={ITEM} onSelect={() => takeTogether(ending)}>
              <span className="w-28">All as {words}</span>
              <span className="text-[13px] text-soft">{keeps}</span>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={ITEM} onSelect={takeProject}>
            <span className="w-28">The project</span>
            <span className="text-[13px] text-soft">one file with everything, to be imported again</span>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => openSheet('picture')}>
            <span className="w-28">The view</span>
            <span className="text-[13px] text-soft">a picture of it, or its lines</span>
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Item className={ITEM} onSelect={() => setNaming(true)}>
            Rename the part…
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={copy}>
            Duplicate the part
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} disabled={parts[0]?.id === id} onSelect={move(-1)}>
            Move it to the left
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} disabled={parts.at(-1)?.id === id} onSelect={move(1)}>
            Move it to the right
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => hide(id, !part.hidden)}>
            {part.hidden ? 'Show it in the row of parts' : 'Keep it out of the row of parts'}
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Item className={ITEM} onSelect={drop}>
            Delete the part
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Root>
      <NameSheet
        title="Rename the part"
        open={naming}
        initial={name}
        answer="Rename it"
        onClose={() => setNaming(false)}
        onName={(next) => rename(id, next)}
      />
    </>
  );
}
