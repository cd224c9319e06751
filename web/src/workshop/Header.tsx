import { Download, Keyboard, List, PanelRight, Plus, Redo2, SlidersHorizontal, Undo2 } from 'lucide-react';
import { useStore } from 'zustand';
import { commandOf, keysOf } from '../hand/commands';
import { useOffered } from '../hand/offered';
import { go } from '../page/route';
import { ThemeButton } from '../page/ThemeButton';
import { Wordmark } from '../page/Wordmark';
import { PART_FILES } from '../projects/importFile';
import { useDeletedParts } from '../projects/partQueries';
import { type Project, useProjectChanges } from '../projects/projectQueries';
import { useNext } from '../projects/undoing';
import { partStore } from '../stores/partStore';
import { openSheet } from '../stores/sheetStore';
import { toast } from '../stores/toastStore';
import { IconButton } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { FileButton } from '../ui/FileButton';
import { UNITS } from '../ui/lengths';
import { PartMenu } from './PartMenu';

interface Props {
  project: Project | undefined;
  partId: number | null;
  onFiles: (files: File[]) => void;
  /** Runs what would leave the plan, once that is agreed. */
  onLeave: (run: () => void) => void;
  folded: boolean;
  onFold: () => void;
}

function Import({ ask }: { ask: () => void }) {
  useOffered('import', ask);
  return (
    <IconButton label="Import a file as a part" onClick={ask}>
      <Download size={18} />
    </IconButton>
  );
}

const run = (id: string) => () => commandOf(id)?.run();

export function Header({ project, partId, onFiles, onLeave, folded, onFold }: Props) {
  const { setUnit } = useProjectChanges();
  const { data: deleted } = useDeletedParts(project?.id);
  const part = project?.parts.find((one) => one.id === partId);
  const onGone = () => project && go({ screen: 'workshop', project: project.id, part: null }, { replace: true });
  const goTo = (id: number) => project && onLeave(() => go({ screen: 'workshop', project: project.id, part: id }));
  const row = project?.parts.filter((one) => !one.hidden || one.id === partId) ?? [];
  const busy = useStore(partStore, (s) => s.busy);
  const undo = useNext('undo');
  const redo = useNext('redo');
  return (
    <header className="flex items-center gap-4 border-rule border-b bg-card px-4 max-[760px]:gap-2 max-[760px]:px-2">
      <Wordmark onLeave={onLeave} />
      <h1 className="max-w-40 truncate text-soft max-[760px]:hidden" title={project?.name}>
        {project?.name ?? 'Workshop'}
      </h1>
      {project && (
        <span className="-ml-2 text-[13.5px] max-[760px]:ml-0">
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
      <nav aria-label="Parts" className="flex min-w-0 flex-1 items-center gap-2.5">
        <div className="flex min-w-0 items-center gap-2.5 overflow-x-auto">
          {row.map((part) => (
            <button
              key={part.id}
              type="button"
              aria-current={part.id === partId}
              onClick={() => part.id !== partId && goTo(part.id)}
              title={part.name}
              className={`h-7 max-w-44 shrink-0 truncate rounded border px-2.5 ${part.id === partId ? 'border-ink font-semibold' : 'border-rule text-soft hover:text-ink'}`}
            >
              {part.name}
            </button>
          ))}
        </div>
        {part && project && (
          <PartMenu part={part} parts={project.parts} project={project.id} onGone={onGone} onPart={goTo} />
        )}
        {project && (project.parts.length > 1 || (deleted?.length ?? 0) > 0) && (
          <IconButton label="All parts: find, order, show" onClick={() => openSheet('parts')}>
            <List size={17} />
          </IconButton>
        )}
        <IconButton label="Add a part from a starter shape" onClick={() => openSheet('shapes')}>
          <Plus size={17} />
        </IconButton>
      </nav>
      <div className="flex items-center gap-1">
        <span data-testid="saved" className="mr-1 w-14 text-right text-[13px] text-soft max-[760px]:hidden">
          {busy ? 'saving…' : part ? 'saved' : ''}
        </span>
        <IconButton
          label={`Undo${undo ?? ''}`}
          keys={keysOf('undo')}
          disabled={undo === null && !busy}
          onClick={run('undo')}
        >
          <Undo2 size={18} />
        </IconButton>
        <IconButton label={`Redo${redo ?? ''}`} keys={keysOf('redo')} disabled={redo === null} onClick={run('redo')}>
          <Redo2 size={18} />
        </IconButton>
        <span className="mx-1 h-5 w-px bg-rule" />
        <FileButton accept={`${PART_FILES},.zip`} onFiles={onFiles}>
          {(ask) => <Import ask={ask} />}
        </FileButton>
        <span className="mx-1 h-5 w-px bg-rule" />
        <IconButton label={folded ? 'Unfold the right column' : 'Fold the right column away'} onClick={onFold}>
          <PanelRight size={18} />
        </IconButton>
        <IconButton label="Preferences" keys={keysOf('preferences')} onClick={() => openSheet('preferences')}>
          <SlidersHorizontal size={18} />
        </IconButton>
        <IconButton label="Keys" keys="?" onClick={() => openSheet('keys')}>
          <Keyboard size={18} />
        </IconButton>
        <ThemeButton />
      </div>
    </header>
  );
}
