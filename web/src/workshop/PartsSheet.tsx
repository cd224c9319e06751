/** All parts of a project: found by typing, put in order, shown or kept out of sight. */
import { ArrowDown, ArrowUp, Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { moved, useDeletedParts, usePartChanges } from '../projects/partQueries';
import type { Project } from '../projects/projectQueries';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { IconButton } from '../ui/Button';
import { DeletedList } from '../ui/DeletedList';
import { Sheet } from '../ui/Sheet';

interface Props {
  project: Project;
  partId: number | null;
  onPart: (part: number) => void;
}

export function PartsSheet({ project, partId, onPart }: Props) {
  const open = useStore(sheetStore, (s) => s.sheet === 'parts');
  const [words, setWords] = useState('');
  const { hide, arrange, restore } = usePartChanges();
  const { data: deleted } = useDeletedParts(project.id);
  const { parts } = project;
  const found = parts.filter(({ name }) => name.toLowerCase().includes(words.trim().toLowerCase()));
  const take = (part: number) => {
    openSheet(null);
    onPart(part);
  };
  return (
    <Sheet title={`Parts of ${project.name}`} open={open} onClose={() => openSheet(null)} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (found[0]) take(found[0].id);
        }}
      >
        <input
          // biome-ignore lint/a11y/noAutofocus: the sheet is opened to type in it
          autoFocus
          aria-label="A part's name"
          placeholder="Type a part's name"
          value={words}
          onChange={(event) => setWords(event.currentTarget.value)}
          className="mb-2 h-9 w-full rounded border border-rule bg-paper px-2"
        />
      </form>
      {found.length === 0 && <p className="p-2 text-soft">No part has this name.</p>}
      <ul data-testid="parts-list" className="max-h-[52vh] overflow-auto">
        {found.map((part) => (
          <li key={part.id} className="flex items-center gap-1 rounded pr-1 hover:bg-rule/40">
            <button
              type="button"
              aria-current={part.id === partId}
              onClick={() => take(part.id)}
              title={part.name}
              className={`min-w-0 flex-1 truncate px-2 py-1 text-left ${part.id === partId ? 'font-semibold' : ''} ${part.hidden ? 'text-soft italic' : ''}`}
            >
              {part.name}
            </button>
            {found.length === parts.length && (
              <>
                <IconButton
                  label={`Move ${part.name} up`}
                  disabled={part === parts[0]}
                  onClick={() => arrange(project.id, moved(parts, part.id, -1))}
                >
                  <ArrowUp size={16} />
                </IconButton>
                <IconButton
                  label={`Move ${part.name} down`}
                  disabled={part === parts.at(-1)}
                  onClick={() => arrange(project.id, moved(parts, part.id, 1))}
                >
                  <ArrowDown size={16} />
                </IconButton>
              </>
            )}
            <IconButton
              label={
                part.hidden ? `Show ${part.name} in the row of parts` : `Keep ${part.name} out of the row of parts`
              }
              aria-pressed={part.hidden}
              onClick={() => hide(part.id, !part.hidden)}
            >
              {part.hidden ? <EyeOff size={16} /> : <Eye size={16} />}
            </IconButton>
          </li>
        ))}
      </ul>
      <DeletedList testId="deleted-parts" deleted={deleted} onRestore={(id) => void restore(id)} />
    </Sheet>
  );
}
