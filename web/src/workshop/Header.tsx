import { Download, Keyboard, PanelRight, Plus, Redo2, Undo2, Upload } from 'lucide-react';
import { useStore } from 'zustand';
import { commandOf, keysOf } from '../hand/commands';
import { go } from '../page/route';
import { ThemeButton } from '../page/ThemeButton';
import { Wordmark } from '../page/Wordmark';
import { PART_FILES } from '../projects/importFile';
import { type Project, useProjectChanges } from '../projects/projectQueries';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { openSheet } from '../stores/sheetStore';
import { toast } from '../stores/toastStore';
import { IconButton } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { FileButton } from '../ui/FileButton';
import { UNITS } from '../ui/lengths';

interface Props {
  project: Project | undefined;
  partId: number | null;
  onFiles: (files: File[]) => void;
  /** Runs what would leave the plan, once that is agreed. */
  onLeave: (run: () => void) => void;
  folded: boolean;
  onFold: () => void;
}

const run = (id: string) => () => commandOf(id)?.run();

export function Header({ project, partId, onFiles, onLeave, folded, onFold }: Props) {
  const { setUnit } = useProjectChanges();
  const canUndo = useStore(partStore, (s) => s.part?.can_undo ?? false);
  const canRedo = useStore(partStore, (s) => s.part?.can_redo ?? false);
  const planned = useStore(planStore, (s) => s.planned);
  const retaken = useStore(planStore, (s) => s.retaken);
  return (
    <header className="flex items-center gap-4 border-rule border-b bg-card px-4">
      <Wordmark onLeave={onLeave} />
      <span className="max-w-40 truncate text-soft">{project?.name}</span>
      {project && (
        <span className="-ml-2 text-[13.5px]">
          <Choice
            label="Unit of the project"
            testId="unit"
            value={project.unit}
            options={UNITS}
            onChange={(unit) =>
              setUnit.mutate(
                { id: project.id, unit },
                {
                  onSuccess: () =>
                    toast({
                      title: `This project is in ${unit} now`,
                      words: `The numbers stay as they are: what was 1 ${project.unit} is 1 ${unit}.`,
                    }),
                },
              )
            }
          />
        </span>
      )}
      <nav aria-label="Parts" className="flex min-w-0 flex-1 items-center gap-2.5 overflow-x-auto">
        {project?.parts.map((part) => (
          <button
            key={part.id}
            type="button"
            aria-current={part.id === partId}
            onClick={() =>
              part.id !== partId && onLeave(() => go({ screen: 'workshop', project: project.id, part: part.id }))
            }
            className={`h-7 whitespace-nowrap rounded border px-2.5 ${part.id === partId ? 'border-ink font-semibold' : 'border-rule text-soft hover:text-ink'}`}
          >
            {part.name}
          </button>
        ))}
        <IconButton label="Add a part from a starter shape" onClick={() => openSheet('shapes')}>
          <Plus size={17} />
        </IconButton>
      </nav>
      <div className="flex items-center gap-1">
        <IconButton
          label={planned ? 'Take back the last point' : 'Undo'}
          keys={keysOf('undo')}
          disabled={!canUndo && !planned}
          onClick={run('undo')}
        >
          <Undo2 size={18} />
        </IconButton>
        <IconButton
          label={planned || retaken ? 'Put the point again' : 'Redo'}
          keys={keysOf('redo')}
          disabled={!canRedo && !retaken}
          onClick={run('redo')}
        >
          <Redo2 size={18} />
        </IconButton>
        <span className="mx-1 h-5 w-px bg-rule" />
        <FileButton accept={PART_FILES} onFiles={onFiles}>
          {(ask) => (
            <IconButton label="Import: bring a file in as a part" onClick={ask}>
              <Download size={18} />
            </IconButton>
          )}
        </FileButton>
        <IconButton
          label="Export the part as OBJ"
          disabled={partId === null}
          onClick={() => partId !== null && window.location.assign(`/api/parts/${partId}/export.obj`)}
        >
          <Upload size={18} />
        </IconButton>
        <span className="mx-1 h-5 w-px bg-rule" />
        <IconButton label={folded ? 'Unfold the right column' : 'Fold the right column away'} onClick={onFold}>
          <PanelRight size={18} />
        </IconButton>
        <IconButton label="Keys" keys="?" onClick={() => openSheet('keys')}>
          <Keyboard size={18} />
        </IconButton>
        <ThemeButton />
      </div>
    </header>
  );
}
