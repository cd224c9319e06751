/** The workshop: one part on the table, the plan beside it, the bench at the foot. */
import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { Refusal } from '../api/client';
import { DrawingMarks, DrawingPicture } from '../drawing/DrawingLayer';
import { drawingStore } from '../drawing/drawingStore';
import {
  clearOtherPlans,
  discard,
  isAnythingPlanned,
  isLostWithThePage,
  planAgain,
  takeUpOpenPlan,
} from '../hand/planning';
import { bringInSvg, USUAL_TOLERANCE_MM } from '../outlines/bringInSvg';
import { go, holdNavigation } from '../page/route';
import { PatchCard } from '../patches/PatchCard';
import { PatchSigns } from '../patches/PatchSigns';
import { importFile, importObjects, mayHoldObjects } from '../projects/importFile';
import { importProject, isProjectFile } from '../projects/projectFile';
import { tell, useProject, useProjectsChanged } from '../projects/projectQueries';
import { UnitQuestion } from '../projects/UnitQuestion';
import { addShape } from '../shapes/shapeQueries';
import { drawerStore } from '../stores/drawerStore';
import { openPart, partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { tableStore } from '../stores/tableStore';
import { toast } from '../stores/toastStore';
import { toolStore } from '../stores/toolStore';
import { PlaceCard } from '../table/PlaceCard';
import { PlaceHandles } from '../table/PlaceHandles';
import { keepView, partAt } from '../table/pickUp';
import { TableList } from '../table/TableList';
import { MendCard } from '../tools/mend/MendCard';
import { openElementMenu } from '../tools/pick/elementMenu';
import { MeasureCard } from '../tools/pick/MeasureCard';
import { WorkCard } from '../tools/reshape/WorkCard';
import { DropZone } from '../ui/DropZone';
import { type Unit, unitStore } from '../ui/lengths';
import { countOf } from '../ui/numbers';
import { Viewport } from '../viewport/Viewport';
import { Bench } from './Bench';
import { ElementMenu } from './ElementMenu';
import { FlowCard } from './FlowCard';
import { Header } from './Header';
import { Hint } from './Hint';
import { listenToKeys } from './keyboard';
import { LeaveQuestion } from './LeaveQuestion';
import { PickCard } from './PickCard';
import { PlanCard } from './PlanCard';
import { listenToPaste } from './paste';
import { Readout } from './Readout';
import { Spoken } from './Spoken';
import { StepsCard } from './StepsCard';
import { TypedField } from './TypedField';
import { ViewBar } from './ViewBar';

// Sheets and drawers are fetched when they are opened.
const CommandSheet = lazy(() => import('./CommandSheet').then((file) => ({ default: file.CommandSheet })));
const KeysSheet = lazy(() => import('./KeysSheet').then((file) => ({ default: file.KeysSheet })));
const PartsSheet = lazy(() => import('./PartsSheet').then((file) => ({ default: file.PartsSheet })));
const PreferencesSheet = lazy(() => import('./PreferencesSheet').then((file) => ({ default: file.PreferencesSheet })));
const ShapeSheet = lazy(() => import('../shapes/ShapeSheet').then((file) => ({ default: file.ShapeSheet })));
const OutlineDrawer = lazy(() => import('./OutlineDrawer').then((file) => ({ default: file.OutlineDrawer })));
const DrawingCard = lazy(() => import('../drawing/DrawingCard').then((file) => ({ default: file.DrawingCard })));

const FIRST_PICTURE_WITHIN_MS = 1200;
/** In a narrower window, or one that is magnified so far, the right column lies over the part, folded away at first. */
const NARROW_PX = 760;

interface Props {
  projectId: number;
  partId: number | null;
}

export function WorkshopScreen({ projectId, partId }: Props) {
  const { data: project, error } = useProject(projectId);
  const gone = useStore(partStore, (s) => s.gone);
  const trouble = useStore(partStore, (s) => s.trouble);
  const revision = useStore(partStore, (s) => s.part?.revision);
  const tool = useStore(toolStore, (s) => s.tool);
  const drawing = useStore(drawingStore, (s) => s.on);
  const planned = useStore(planStore, (s) => s.planned);
  const drawer = useStore(drawerStore, (s) => s.open);
  const sheet = useStore(sheetStore, (s) => s.sheet);
  const list = useStore(tableStore, (s) => s.list);
  const changed = useProjectsChanged();
  const queries = useQueryClient();
  /** The part is drawn first; what is said about it comes right after, or where there is nothing to draw. */
  const [there, setThere] = useState(false);
  useEffect(() => {
    const anyway = setTimeout(() => setThere(true), FIRST_PICTURE_WITHIN_MS);
    return () => clearTimeout(anyway);
  }, []);
  const [folded, setFolded] = useState(() => innerWidth < NARROW_PX);
  /** Files that wait until their unit is said. */
  const [brought, setBrought] = useState<File[] | null>(null);
  const ask = (files: File[]) => {
    const parts = files.filter((file) => !isProjectFile(file));
    if (parts.length > 0) setBrought(parts);
    for (const file of files.filter(isProjectFile)) void bringProjectIn(file);
  };
  const bringProjectIn = async (file: File) => {
    try {
      const made = await importProject(file);
      const run = () => leave(() => go({ screen: 'workshop', project: made.id, part: null }));
      toast({ title: `The project ${made.name} was brought in`, action: { label: 'Open it', run } });
      changed();
    } catch (refusal) {
      tell(refusal);
    }
  };
  const bringOutlineIn = async (file: File) => {
    try {
      const { outline, notes } = await bringInSvg(projectId, file, USUAL_TOLERANCE_MM);
      await queries.invalidateQueries({ queryKey: ['outlines', projectId] });
      drawerStore.setState({ open: true });
      toast({ title: `${outline.name} was brought in as an outline`, words: notes.join(' ') });
    } catch (refusal) {
      tell(refusal);
    }
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is done with it is of the project alone
  useEffect(
    () =>
      listenToPaste({
        onPart: (file) => ask([file]),
        onOutline: (file) => void bringOutlineIn(file),
        onOther: () =>
          toast({ title: 'Nothing to paste', words: 'The text of an SVG drawing or of an OBJ file can be pasted.' }),
      }),
    [projectId],
  );
  const unit = useStore(unitStore, (s) => s.unit);
  /** What a person wants to do that would throw an open plan away. */
  const [leaving, setLeaving] = useState<(() => void) | null>(null);
  const first = project?.parts.find((part) => !part.hidden) ?? project?.parts[0];
  const shown = partId ?? first?.id ?? null;

  useEffect(() => listenToKeys(), []);

  useEffect(() => {
    if (project) unitStore.setState({ unit: project.unit });
  }, [project]);

  useEffect(() => {
    discard();
    clearOtherPlans();
    if (shown !== null) void openPart(shown);
    else partStore.setState({ part: null, gone: false });
  }, [shown]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the plan is asked for anew whenever the part has changed
  useEffect(() => {
    const dropped = clearOtherPlans();
    if (dropped.length > 0)
      toast({
        title: `The plan of ${dropped.join(' and ')} was put away`,
        words: 'It was meant for the part as it was before.',
      });
    planAgain();
    // A step may have left parts beside this one, or taken them back.
    if (revision !== undefined) changed();
  }, [revision]);

  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (isLostWithThePage()) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, []);

  useEffect(() => {
    const away = error instanceof Refusal && error.code === 'not-there';
    if (!gone && !away) return;
    toast({
      title: away ? 'This project was deleted' : 'This part was deleted',
      words: 'You are back at the projects.',
      tone: 'warning',
    });
    partStore.setState({ gone: false, part: null });
    discard();
    changed();
    go({ screen: 'projects' }, { replace: true });
  }, [gone, error, changed]);

  const leave = (run: () => void) => {
    // A cut that is being made is no plan any more.
    if (isAnythingPlanned() && !partStore.getState().busy) setLeaving(() => run);
    else run();
  };
  useEffect(
    () =>
      holdNavigation((to) => {
        if (!isAnythingPlanned()) return false;
        setLeaving(() => () => go(to));
        return true;
      }),
    [],
  );
  const bringIn = async (files: File[], unit: Unit, apart: boolean) => {
    setBrought(null);
    let last: number | null = null;
    for (const file of files) {
      try {
        if (apart && mayHoldObjects(file)) {
          const { parts, notes } = await importObjects(projectId, file, unit);
          toast({ title: `${countOf(parts.length, 'part')} were brought in`, words: notes.slice(0, 4).join(' ') });
          last = parts[0]?.id ?? last;
          continue;
        }
        const { part, notes } = await importFile(projectId, file, unit);
        toast({ title: `${part.name} was brought in`, words: notes.slice(0, 4).join(' ') });
        last = part.id;
      } catch (refusal) {
        tell(refusal);
      }
    }
    if (last !== null) goTo(last);
  };
  const pickUp = (part: number) => {
    keepView(part);
    goTo(part);
  };
  const goTo = (part: number) => {
    changed();
    leave(() => go({ screen: 'workshop', project: projectId, part }));
  };

  return (
    <DropZone words="Drop a file to bring it in as a part" onFiles={ask}>
      <a
        href="#part"
        className="sr-only focus:not-sr-only focus:absolute focus:top-1 focus:left-2 focus:z-50 focus:rounded focus:bg-card focus:px-3 focus:py-2"
      >
        Skip to the part
      </a>
      <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[48px_1fr_56px]" data-testid="workshop">
        <Header
          project={project}
          partId={shown}
          onFiles={ask}
          onLeave={leave}
          folded={folded}
          onFold={() => setFolded(!folded)}
        />
        <div className="relative flex min-h-0">
          <TableList project={projectId} partId={shown} onPart={pickUp} />
          <main className="drafting relative min-w-0 flex-1">
            {shown !== null && (
              <Viewport
                under={<DrawingPicture before={false} />}
                over={<DrawingPicture before />}
                above={
                  <>
                    <DrawingMarks />
                    <PatchSigns />
                    <ElementMenu />
                    <PlaceHandles project={projectId} />
                  </>
                }
                onDrawn={() => {
                  setThere(true);
                  takeUpOpenPlan();
                }}
                onMenu={(at) => void openElementMenu(at)}
                onTwice={(at) =>
                  void partAt(at)
                    .then((id) => id !== null && pickUp(id))
                    .catch(tell)
                }
              />
            )}
            <ViewBar />
            {shown !== null && <Readout key={unit} />}
            <TypedField />
            <Spoken />
            {trouble && (
              <p
                role="alert"
                data-testid="part-trouble"
                className="absolute top-16 left-4 rounded border border-ochre bg-card p-3"
              >
                {trouble}
              </p>
            )}
            {error && !(error instanceof Refusal && error.code === 'not-there') && (
              <p role="alert" className="absolute top-16 left-4 rounded border border-ochre bg-card p-3">
                {error.message}
              </p>
            )}
            {project && shown === null && (
              <p className="absolute inset-0 m-auto h-fit w-fit max-w-md rounded-lg border border-rule border-dashed bg-card px-8 py-6 text-center text-soft">
                This project has no part yet. Begin with a starter shape (the plus at the top left), or drop a file
                here.
              </p>
            )}
          </main>
          {!folded && (
            <aside
              // Every number is said anew in another unit.
              key={unit}
              aria-label="Plan, flow and steps"
              className="w-[304px] shrink-0 scroll-pb-16 overflow-auto border-rule border-l bg-card max-[760px]:absolute max-[760px]:inset-y-0 max-[760px]:right-0 max-[760px]:z-20 max-[760px]:shadow-lg"
            >
              {there && <Hint />}
              {there && list && shown !== null && !drawer && <PlaceCard project={projectId} onPart={goTo} />}
              {!there ? null : drawer ? (
                <Suspense>
                  <OutlineDrawer />
                </Suspense>
              ) : (
                <>
                  {drawing && (
                    <Suspense>
                      <DrawingCard />
                    </Suspense>
                  )}
                  {tool === 'pick' ? (
                    <>
                      <PickCard />
                      <WorkCard />
                      <PatchCard />
                      <MeasureCard />
                    </>
                  ) : tool === 'mend' ? (
                    <>
                      <MendCard />
                      <PatchCard />
                      <MeasureCard />
                    </>
                  ) : (
                    <>
                      <PlanCard />
                      {!planned && <WorkCard />}
                    </>
                  )}
                  <FlowCard />
                  <StepsCard />
                </>
              )}
            </aside>
          )}
        </div>
        <Bench />
        <Suspense>
          {sheet === 'keys' && <KeysSheet />}
          {sheet === 'parts' && project && <PartsSheet project={project} partId={shown} onPart={goTo} />}
          {sheet === 'commands' && <CommandSheet />}
          {sheet === 'preferences' && <PreferencesSheet />}
        </Suspense>
        <UnitQuestion
          files={brought}
          usual={project?.file_unit ?? 'mm'}
          project={project?.unit ?? 'mm'}
          onAnswer={(files, answered, apart) => void bringIn(files, answered, apart)}
          onClose={() => setBrought(null)}
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
      <LeaveQuestion
        open={leaving !== null}
        onStay={() => setLeaving(null)}
        onLeave={() => {
          discard();
          clearOtherPlans();
          leaving?.();
          setLeaving(null);
        }}
      />
    </DropZone>
  );
}
