/** What can be done with the part on the table as a whole: taken out as a file, renamed, deleted. */
import { MoreHorizontal } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { client, expectData, expectDone } from '../api/client';
import { download } from '../page/download';
import { tell, useProjectsChanged } from '../projects/projectQueries';
import { partStore } from '../stores/partStore';
import { toast } from '../stores/toastStore';
import { NameSheet } from '../ui/NameSheet';

/** The formats a part can be taken out in, each with what it keeps. */
export const EXPORTS = [
  ['obj', 'OBJ', 'n-gons, texture places, materials, patches'],
  ['ply', 'PLY', 'n-gons, all digits'],
  ['glb', 'glb', 'triangles to show, and everything to read back here'],
  ['stl', 'STL', 'triangles only'],
] as const;

export const exportPart = (part: number, ending: string): void => download(`/api/parts/${part}/export.${ending}`);

const ITEM =
  'flex cursor-pointer items-baseline gap-3 rounded px-3 py-1 outline-none data-[highlighted]:bg-rule/50 data-[disabled]:opacity-45';

export function PartMenu({ part, name, onGone }: { part: number; name: string; onGone: () => void }) {
  const [naming, setNaming] = useState(false);
  const changed = useProjectsChanged();
  const at = { params: { path: { part_id: part } } };
  const rename = (next: string) =>
    void expectData(client.PATCH('/api/parts/{part_id}', { ...at, body: { name: next } }))
      .then((renamed) => {
        if (partStore.getState().part?.id === part) partStore.setState({ part: renamed });
      })
      .catch(tell)
      .finally(changed);
  const bringBack = () => void expectData(client.POST('/api/parts/{part_id}/restore', at)).catch(tell).finally(changed);
  const remove = () =>
    void expectDone(client.DELETE('/api/parts/{part_id}', at))
      .then(() => {
        toast({ title: `${name} was deleted`, action: { label: 'Bring it back', run: bringBack } });
        onGone();
      })
      .catch(tell)
      .finally(changed);
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label="Part: take out, rename, delete"
          className="inline-flex h-8 w-8 shrink-0 items-center justify-center rounded hover:bg-rule/50"
        >
          <MoreHorizontal size={18} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={6}
            className="z-40 rounded-md border border-rule bg-card p-1 shadow-md"
          >
            {EXPORTS.map(([ending, words, keeps]) => (
              <DropdownMenu.Item key={ending} className={ITEM} onSelect={() => exportPart(part, ending)}>
                <span className="w-28">Take out as {words}</span>
                <span className="text-[13px] text-soft">{keeps}</span>
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Separator className="my-1 h-px bg-rule" />
            <DropdownMenu.Item className={ITEM} onSelect={() => setNaming(true)}>
              Rename the part…
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={remove}>
              Delete the part
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <NameSheet
        title="Rename the part"
        open={naming}
        initial={name}
        answer="Rename it"
        onClose={() => setNaming(false)}
        onName={rename}
      />
    </>
  );
}
