/** All parts of a project by their names, to be found by typing. */
import { Command } from 'cmdk';
import { useStore } from 'zustand';
import type { Project } from '../projects/projectQueries';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { Sheet } from '../ui/Sheet';

interface Props {
  project: Project;
  onPart: (part: number) => void;
}

export function PartsSheet({ project, onPart }: Props) {
  const open = useStore(sheetStore, (s) => s.sheet === 'parts');
  return (
    <Sheet title={`Parts of ${project.name}`} open={open} onClose={() => openSheet(null)} wide>
      <Command label="Parts">
        <Command.Input
          autoFocus
          placeholder="Type a part's name"
          className="mb-2 h-9 w-full rounded border border-rule bg-paper px-2"
        />
        <Command.List className="max-h-[52vh] overflow-auto">
          <Command.Empty className="p-2 text-soft">No part has this name.</Command.Empty>
          {project.parts.map((part) => (
            <Command.Item
              key={part.id}
              value={`${part.name} ${part.id}`}
              onSelect={() => {
                openSheet(null);
                onPart(part.id);
              }}
              className="cursor-pointer truncate rounded px-2 py-1 data-[selected=true]:bg-rule/60"
            >
              {part.name}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Sheet>
  );
}
