/** The right column: what is in hand first, then what is known of the part. */
import { lazy, type ReactNode, Suspense, useEffect, useRef } from 'react';
import { useStore } from 'zustand';
import { drawingStore } from '../drawing/drawingStore';
import { OwnTrouble } from '../page/OwnTrouble';
import { PatchCard } from '../patches/PatchCard';
import { MakeBar } from '../plan/MakeBar';
import { drawerStore } from '../stores/drawerStore';
import { planStore } from '../stores/planStore';
import { tableStore } from '../stores/tableStore';
import { toolStore } from '../stores/toolStore';
import { PlaceCard } from '../table/PlaceCard';
import { MendCard } from '../tools/mend/MendCard';
import { MeasureCard } from '../tools/pick/MeasureCard';
import { reshapeStore } from '../tools/reshape/reshapeStore';
import { WorkCard } from '../tools/reshape/WorkCard';
import { FlowCard } from './FlowCard';
import { Hint } from './Hint';
import { PickCard } from './PickCard';
import { PlanCard } from './PlanCard';
import { StepsCard } from './StepsCard';

const OutlineDrawer = lazy(() => import('./OutlineDrawer').then((file) => ({ default: file.OutlineDrawer })));
const DrawingCard = lazy(() => import('../drawing/DrawingCard').then((file) => ({ default: file.DrawingCard })));

interface Props {
  project: number;
  /** There is a part. */
  about: boolean;
  onPart: (part: number) => void;
}

export function RightColumn({ project, about, onPart }: Props) {
  const list = useStore(tableStore, (s) => s.list);
  const drawer = useStore(drawerStore, (s) => s.open);
  const drawing = useStore(drawingStore, (s) => s.on);
  const scrolled = usePlanInSight();
  return (
    <>
      <div ref={scrolled} data-testid="column" className="min-h-0 flex-1 scroll-pb-4 overflow-auto">
        <Hint />
        {drawer ? (
          <Suspense>
            <OwnTrouble name="Outlines">
              <OutlineDrawer />
            </OwnTrouble>
          </Suspense>
        ) : (
          <>
            {drawing && (
              <Suspense>
                <OwnTrouble name="Drawing">
                  <DrawingCard />
                </OwnTrouble>
              </Suspense>
            )}
            <InHand
              place={
                list &&
                about && (
                  <OwnTrouble name="Place">
                    <PlaceCard project={project} onPart={onPart} />
                  </OwnTrouble>
                )
              }
            />
            <OwnTrouble name="Flow">
              <FlowCard />
            </OwnTrouble>
            <OwnTrouble name="Steps">
              <StepsCard />
            </OwnTrouble>
          </>
        )}
      </div>
      <MakeBar />
    </>
  );
}

/** What is planned is brought into sight when it is begun, unless that was done by a number further down. */
function usePlanInSight() {
  const scrolled = useRef<HTMLDivElement>(null);
  const planned = useStore(planStore, (s) => s.planned);
  const work = useStore(reshapeStore, (s) => s.work);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another work is another plan
  useEffect(() => {
    const column = scrolled.current;
    const typed = document.activeElement?.matches('input, [role=combobox]') && column?.contains(document.activeElement);
    if (planned && !typed) column?.scrollTo({ top: 0 });
  }, [planned, work]);
  return scrolled;
}

/** The cards of the tool in hand, the plan first, and where the part stands. */
function InHand({ place }: { place: ReactNode }) {
  const tool = useStore(toolStore, (s) => s.tool);
  const planned = useStore(planStore, (s) => s.planned);
  const working = useStore(reshapeStore, (s) => s.work !== null);
  const known = (
    <>
      {place}
      <OwnTrouble name="Patches">
        <PatchCard />
      </OwnTrouble>
      <OwnTrouble name="Measure">
        <MeasureCard />
      </OwnTrouble>
    </>
  );
  if (tool === 'pick')
    return (
      <>
        {working && (
          <OwnTrouble name="Work on it">
            <WorkCard />
          </OwnTrouble>
        )}
        <OwnTrouble name="Pick">
          <PickCard />
        </OwnTrouble>
        {!working && (
          <OwnTrouble name="Work on it">
            <WorkCard />
          </OwnTrouble>
        )}
        {known}
      </>
    );
  if (tool === 'mend')
    return (
      <>
        <OwnTrouble name="Mend">
          <MendCard />
        </OwnTrouble>
        {known}
      </>
    );
  return (
    <>
      <OwnTrouble name="Plan">
        <PlanCard />
      </OwnTrouble>
      {!planned && (
        <OwnTrouble name="Work on it">
          <WorkCard />
        </OwnTrouble>
      )}
      {place}
    </>
  );
}
