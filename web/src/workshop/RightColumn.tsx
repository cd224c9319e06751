/** The right column: what is in hand first, then what is known of the part. */
import { lazy, Suspense } from 'react';
import { useStore } from 'zustand';
import { drawingStore } from '../drawing/drawingStore';
import { PatchCard } from '../patches/PatchCard';
import { drawerStore } from '../stores/drawerStore';
import { planStore } from '../stores/planStore';
import { tableStore } from '../stores/tableStore';
import { toolStore } from '../stores/toolStore';
import { PlaceCard } from '../table/PlaceCard';
import { MendCard } from '../tools/mend/MendCard';
import { MeasureCard } from '../tools/pick/MeasureCard';
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
  return (
    <>
      <Hint />
      {list && about && !drawer && <PlaceCard project={project} onPart={onPart} />}
      {drawer ? (
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
          <InHand />
          <FlowCard />
          <StepsCard />
        </>
      )}
    </>
  );
}

/** The cards of the tool in hand. */
function InHand() {
  const tool = useStore(toolStore, (s) => s.tool);
  const planned = useStore(planStore, (s) => s.planned);
  if (tool === 'pick')
    return (
      <>
        <PickCard />
        <WorkCard />
        <PatchCard />
        <MeasureCard />
      </>
    );
  if (tool === 'mend')
    return (
      <>
        <MendCard />
        <PatchCard />
        <MeasureCard />
      </>
    );
  return (
    <>
      <PlanCard />
      {!planned && <WorkCard />}
    </>
  );
}
