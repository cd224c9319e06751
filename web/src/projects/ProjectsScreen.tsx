/** Projects: where work begins and is found again. */
import { Plus } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Foot } from '../page/Foot';
import { go } from '../page/route';
import { ThemeButton } from '../page/ThemeButton';
import { Wordmark } from '../page/Wordmark';
import { ShapeSheet } from '../shapes/ShapeSheet';
import { addShape, type Shape } from '../shapes/shapeQueries';
import { toast } from '../stores/toastStore';
import { Button } from '../ui/Button';
import { DeletedList } from '../ui/DeletedList';
import { DropZone } from '../ui/DropZone';
import { FileButton } from '../ui/FileButton';
import type { Unit } from '../ui/lengths';
import { NameSheet } from '../ui/NameSheet';
import { importFile, importObjects, mayHoldObjects, PART_FILES } from './importFile';
import { ProjectCard } from './ProjectCard';
import { importProject, isProjectFile } from './projectFile';
import { tell, useDeletedProjects, useProjectChanges, useProjects } from './projectQueries';
import { UnitQuestion } from './UnitQuestion';

export function ProjectsScreen({ lessons }: { lessons: ReactNode }) {
  const { data, error, refetch } = useProjects();
  const { data: deleted } = useDeletedProjects();
  const changes = useProjectChanges();
  const [naming, setNaming] = useState(false);
  const [shaping, setShaping] = useState(false);
  /** Files that wait until their unit is said. */
  const [brought, setBrought] = useState<File[] | null>(null);
  const ask = (files: File[]) => {
    const parts = files.filter((file) => !isProjectFile(file));
    if (parts.length > 0) setBrought(parts);
    for (const file of files.filter(isProjectFile)) void bringIn(file);
  };
  const bringIn = async (file: File) => {
    try {
      const project = await importProject(file);
      toast({ title: `${project.name} was imported` });
      void refetch();
    } catch (refusal) {
      tell(refusal);
    }
  };

  const open = (project: number, part: number | null) => go({ screen: 'workshop', project, part });
  const create = (name: string) => changes.create.mutate(name, { onSuccess: (project) => open(project.id, null) });
  const createWith = async (shape: Shape) => {
    setShaping(false);
    try {
      const project = await changes.create.mutateAsync(`New ${shape.shape}`);
      open(project.id, await addShape(project.id, shape));
    } catch {
      // the change told why
    }
  };
  /** A project for files: nothing is left behind if none of them can be read. */
  const createFrom = async (files: File[], unit: Unit, apart: boolean) => {
    setBrought(null);
    const [first] = files;
    if (!first) return;
    try {
      const project = await changes.create.mutateAsync(first.name.replace(/\.[^.]+$/, ''));
      let read = 0;
      for (const file of files) {
        try {
          if (apart && mayHoldObjects(file)) await importObjects(project.id, file, unit);
          else await importFile(project.id, file, unit);
          read += 1;
        } catch (refusal) {
          tell(refusal);
        }
      }
      if (read > 0) open(project.id, null);
      else changes.remove.mutate(project);
    } catch {
      // the change told why
    }
  };

  return (
    <DropZone words="Drop a file to begin a project with it" onFiles={ask}>
      <div className="h-full overflow-auto" data-testid="projects">
        <header className="flex items-center justify-between border-rule border-b bg-card px-6 py-2.5">
          <Wordmark />
          <ThemeButton />
        </header>
        <main className="mx-auto max-w-[1120px] px-6 py-7">
          <div className="mb-5 flex items-end justify-between gap-4">
            <div>
              <h1 className="font-display font-semibold text-2xl">Projects</h1>
              <p className="text-soft">Open one to cut its parts, or begin another with a shape or a file.</p>
            </div>
            <div className="flex gap-2">
              <Button onClick={() => setShaping(true)}>From a shape…</Button>
              <FileButton accept={`${PART_FILES},.zip`} onFiles={ask}>
                {(ask) => <Button onClick={ask}>From a file…</Button>}
              </FileButton>
              <Button look="primary" onClick={() => setNaming(true)}>
                <Plus size={17} aria-hidden /> New project
              </Button>
            </div>
          </div>
          {error && (
            <div role="alert" className="rounded border border-ochre bg-card p-4">
              <p className="mb-3">The projects could not be read. {error.message}</p>
              <Button onClick={() => void refetch()}>Try again</Button>
            </div>
          )}
          {data?.length === 0 && (
            <p className="rounded-lg border border-rule border-dashed p-10 text-center text-soft">
              No project yet. Begin with a shape, or drop a file anywhere on this page.
            </p>
          )}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(330px,1fr))] gap-5">
            {data?.map((project) => (
              <ProjectCard
                key={project.id}
                project={project}
                onOpen={(part) => open(project.id, part)}
                onRename={(name) => changes.rename.mutate({ id: project.id, name })}
                onDuplicate={() =>
                  changes.duplicate.mutate(project.id, {
                    onSuccess: (copy) => toast({ title: `${copy.name} was made` }),
                  })
                }
                onDelete={() => changes.remove.mutate(project)}
              />
            ))}
          </ul>
          <section aria-labelledby="lessons" className="mt-9 border-rule border-t pt-4">
            <h2 id="lessons" className="font-display font-semibold text-lg">
              Lessons
            </h2>
            <p className="mb-3 text-soft">
              A few sentences each, beside the real workshop, on a copy of the Skerry Light that is let go afterwards.
            </p>
            {lessons}
          </section>
          <DeletedList testId="deleted-projects" deleted={deleted} onRestore={(id) => changes.restore.mutate(id)} />
          <Foot />
        </main>
        <ShapeSheet open={shaping} onClose={() => setShaping(false)} onShape={(shape) => void createWith(shape)} />
        <UnitQuestion
          files={brought}
          usual={data?.[0]?.file_unit ?? 'mm'}
          project="mm"
          onAnswer={(files, unit, apart) => void createFrom(files, unit, apart)}
          onClose={() => setBrought(null)}
        />
        <NameSheet
          title="New project"
          open={naming}
          initial=""
          answer="Make it"
          onClose={() => setNaming(false)}
          onName={create}
        />
      </div>
    </DropZone>
  );
}
