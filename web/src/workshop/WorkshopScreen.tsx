/** The workshop: one part on the table, the plan beside it, the bench at the foot. */
import { lazy, Suspense, useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { go } from '../page/route';
import { tell, useProject, useProjectsChanged } from '../projects/projectQueries';
import { UnitQuestion } from '../projects/UnitQuestion';
import { addShape } from '../shapes/shapeQueries';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { keepView } from '../table/pickUp';
import { TableList } from '../table/TableList';
import { DropZone } from '../ui/DropZone';
import { unitStore } from '../ui/lengths';
import { Bench } from './Bench';
import { useBringIn } from './bringIn';
import { Header } from './Header';
import { listenToKeys } from './keyboard';
import { LeaveQuestion } from './LeaveQuestion';
import { useLeaving } from './leaving';
import { PartArea } from './PartArea';
import { useGone, usePartInHand } from './partInHand';
import { RightColumn } from './RightColumn';

// Sheets are fetched when they are opened.
const CommandSheet = lazy(() => import('./CommandSheet').then((file) => ({ default: file.CommandSheet })));
const KeysSheet = lazy(() => import('./KeysSheet').then((file) => ({ default: file.KeysSheet })));
const LessonsSheet = lazy(() => import('./LessonsSheet').then((file) => ({ default: file.LessonsSheet })));
const LessonStrip = lazy(() => import('../lessons/LessonStrip'));
const PartsSheet = lazy(() => import('./PartsSheet').then((file) => ({ default: file.PartsSheet })));
const PictureSheet = lazy(() => import('./PictureSheet').then((file) => ({ default: file.PictureSheet })));
const PreferencesSheet = lazy(() => import('./PreferencesSheet').then((file) => ({ default: file.PreferencesSheet })));
const ShapeSheet = lazy(() => import('../shapes/ShapeSheet').then((file) => ({ default: file.ShapeSheet })));

const FIRST_PICTURE_WITHIN_MS = 1200;
/** In a narrower window, or one that is magnified so far, the right column lies over the part, folded away at first. */
const NARROW_PX = 760;

interface Props {
  projectId: number;
  partId: number | null;
}

export function WorkshopScreen({ projectId, partId }: Props) {
  const { data: project, error } = useProject(projectId);
  const sheet = useStore(sheetStore, (s) => s.sheet);
  const written = useStore(unitStore, ({ unit, size }) => `${unit} ${size}`);
  const changed = useProjectsChanged();
  const [folded, setFolded] = useState(() => innerWidth < NARROW_PX);
  const [there, setThere] = useThere();
  const { leave, asked, onStay, onLeave } = useLeaving();
  const goTo = (part: number) => {
    changed();
    leave(() => go({ screen: 'workshop', project: projectId, part }));
  };
  const pickUp = (part: number) => {
    keepView(part);
    goTo(part);
  };
  const files = useBringIn(projectId, leave, goTo);
  const first = project?.parts.find((part) => !part.hidden) ?? project?.parts[0];
  const shown = partId ?? first?.id ?? null;
  useEffect(() => listenToKeys(), []);
  useEffect(() => {
    if (project) unitStore.setState({ unit: project.unit });
  }, [project]);
  usePartInHand(shown);
  useGone(error);

  return (
    <DropZone words="Drop a file to import it as a part" onFiles={files.take}>
      <a
        href="#part"
        className="sr-only focus:not-sr-only focus:absolute focus:top-1 focus:left-2 focus:z-50 focus:rounded focus:bg-card focus:px-3 focus:py-2"
      >
        Skip to the part
      </a>
      <div
        className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[48px_auto_minmax(0,1fr)_56px]"
        data-testid="workshop"
      >
        <Header
          project={project}
          partId={shown}
          onFiles={files.take}
          onLeave={leave}
          folded={folded}
          onFold={() => setFolded(!folded)}
        />
        <div>
          {project?.lesson && (
            <Suspense>
              <LessonStrip name={project.lesson} onLeave={leave} />
            </Suspense>
          )}
        </div>
        <div className="relative flex min-h-0">
          <TableList project={projectId} partId={shown} onPart={pickUp} />
          <PartArea
            project={projectId}
            shown={shown}
            empty={project !== undefined && shown === null}
            error={error}
            onDrawn={() => setThere(true)}
            onPart={pickUp}
          />
          {!folded && (
            <aside
              // Every number is said anew in another unit, or with other digits.
              key={written}
              aria-label="Plan, flow and steps"
              className="flex w-[304px] shrink-0 flex-col border-rule border-l bg-card max-[760px]:absolute max-[760px]:inset-y-0 max-[760px]:right-0 max-[760px]:z-20 max-[760px]:shadow-lg"
            >
              {there && <RightColumn project={projectId} about={shown !== null} onPart={goTo} />}
            </aside>
          )}
        </div>
        <Bench />
        <Suspense>
          {sheet === 'keys' && <KeysSheet />}
          {sheet === 'parts' && project && <PartsSheet project={project} partId={shown} onPart={goTo} />}
          {sheet === 'commands' && <CommandSheet />}
          {sheet === 'preferences' && <PreferencesSheet />}
          {sheet === 'picture' && <PictureSheet />}
          {sheet === 'lessons' && <LessonsSheet onLeave={leave} />}
        </Suspense>
        <UnitQuestion
          files={files.waiting}
          usual={project?.file_unit ?? 'mm'}
          project={project?.unit ?? 'mm'}
          onAnswer={(brought, answered, apart) => void files.asParts(brought, answered, apart)}
          onClose={files.forget}
        />
        <Suspense>
          {sheet === 'shapes' && (
            <ShapeSheet
              open
              onClose={() => openSheet(null)}
              onShape={(shape) => {
                openSheet(null);
                void addShape(projectId, shape).then(goTo).catch(tell);
              }}
            />
          )}
        </Suspense>
      </div>
      <LeaveQuestion open={asked} onStay={onStay} onLeave={onLeave} />
    </DropZone>
  );
}

/** The part is drawn first; what is said about it comes right after, or where there is nothing to draw. */
function useThere(): [boolean, (there: boolean) => void] {
  const [there, setThere] = useState(false);
  useEffect(() => {
    const anyway = setTimeout(() => setThere(true), FIRST_PICTURE_WITHIN_MS);
    return () => clearTimeout(anyway);
  }, []);
  return [there, setThere];
}
