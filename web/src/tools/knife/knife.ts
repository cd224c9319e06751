/** Knife line: aim, plan, adjust, make. Every change of the plan goes through here. */
import { client, expectData, Refusal, type View } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { ASK_AGAIN_AFTER_MS } from '../../options';
import { makeStep, meet, partStore } from '../../stores/partStore';
import { EMPTY_PLAN, type PlanLine, planStore, pointCount } from '../../stores/planStore';
import { toolStore } from '../../stores/toolStore';
import { viewStore } from '../../stores/viewStore';
import { startOfStretch, withoutLast, withPoint, withShare } from './lines';
import { knifeStep } from './step';

interface Question {
  part: number;
  revision: number;
  view: View;
  pointer: [number, number];
}

const askForMark = newestOnly(async ({ part, revision, view, pointer }: Question) => {
  const { lines, step, free, half, through } = planStore.getState();
  const start = startOfStretch(lines, view);
  const settling = { step, free, half };
  try {
    const aim = await expectData(
      client.POST('/api/parts/{part_id}/aim', {
        params: { path: { part_id: part } },
        body: { revision, view, pointer, settling, start, through },
      }),
    );
    // An answer for an older view, or for a pointer that has left, is thrown away.
    if (viewStore.getState().view === view && planStore.getState().pointer && toolStore.getState().tool === 'knife') {
      planStore.setState({ aim, aimedAt: pointer, trouble: null });
    }
  } catch (error) {
    if (error instanceof Refusal && error.code === 'unreachable')
      planStore.setState({ aim: null, trouble: error.words });
    else meet(error);
  }
});

/** Ask what is under the pointer; null when it has left the part's picture. */
export function point(pointer: [number, number] | null): void {
  const inHand = toolStore.getState().tool === 'knife';
  planStore.setState(pointer && inHand ? { pointer } : { pointer: null, aim: null });
  const { part } = partStore.getState();
  const { view } = viewStore.getState();
  if (pointer && inHand && part && view) askForMark({ part: part.id, revision: part.revision, view, pointer });
}

export function suspendSettling(free: boolean): void {
  if (planStore.getState().free === free) return;
  planStore.setState({ free });
  point(planStore.getState().pointer);
}

/** Let the next point sit on the exact half of the edge under the pointer, or no longer. */
export function toggleHalf(): void {
  planStore.setState(({ half }) => ({ half: !half }));
  point(planStore.getState().pointer);
}

/** Choose what the mark shows as the next point. */
export function choose(): void {
  const { aim, lines } = planStore.getState();
  const { view } = viewStore.getState();
  if (!aim || !view || aim.refusal) return;
  const chosen = aim.mark.point;
  if (JSON.stringify(lines.at(-1)?.points.at(-1)) === JSON.stringify(chosen)) return;
  setLines(withPoint(lines, chosen, view), { retaken: [], half: false });
}

/** Begin another line elsewhere; the next point is its first. */
export function beginLine(): void {
  const { lines } = planStore.getState();
  if (lines.at(-1)?.points.length) setLines([...lines, { points: [], view: null, goesOn: false }]);
}

export function takeBack(): void {
  const { lines, retaken } = planStore.getState();
  const shorter = withoutLast(lines);
  if (!shorter) return;
  const { point: taken, view } = shorter;
  setLines(shorter.lines, { retaken: taken ? [{ point: taken, view }, ...retaken] : retaken });
}

export function putAgain(): void {
  const { lines, retaken } = planStore.getState();
  const [next, ...others] = retaken;
  if (next?.view) setLines(withPoint(lines, next.point, next.view), { retaken: others });
}

/** Put a point of the plan at another share of its edge. */
export function setShare(lineAt: number, pointAt: number, share: number): void {
  const lines = withShare(planStore.getState().lines, lineAt, pointAt, share);
  if (lines) setLines(lines);
}

export function setStep(step: number | null): void {
  planStore.setState({ step });
}

export function setThrough(through: boolean): void {
  planStore.setState({ through });
  setLines(planStore.getState().lines);
}

export function discard(): void {
  planStore.setState({ ...EMPTY_PLAN });
  point(planStore.getState().pointer);
}

function setLines(lines: PlanLine[], more: Partial<ReturnType<typeof planStore.getState>> = {}): void {
  planStore.setState({ lines, ...more });
  if (pointCount(lines) === 0) planStore.setState({ plan: null });
  askForPlan(null);
  point(planStore.getState().pointer);
}

const askForPlan = newestOnly(async (_: null) => {
  const { lines, through } = planStore.getState();
  const { part } = partStore.getState();
  const step = knifeStep(lines, through);
  if (!part || !step) {
    planStore.setState({ plan: null });
    return;
  }
  try {
    const plan = await expectData(
      client.POST('/api/parts/{part_id}/plan', {
        params: { path: { part_id: part.id } },
        body: { revision: part.revision, step },
      }),
    );
    if (planStore.getState().lines === lines) planStore.setState({ plan, trouble: null });
  } catch (error) {
    if (error instanceof Refusal && error.code === 'unreachable') {
      planStore.setState({ trouble: error.words });
      setTimeout(() => planStore.getState().lines === lines && askForPlan(null), ASK_AGAIN_AFTER_MS);
    } else {
      meet(error);
    }
  }
});

/** The part was read anew: ask again what the plan would do to it. */
export function planAgain(): void {
  askForPlan(null);
}

/** Whether the plan as it stands would change the part. */
export function canMake(): boolean {
  const { plan, trouble } = planStore.getState();
  return plan !== null && plan.refusal === null && trouble === null && plan.new_edges > 0 && !partStore.getState().busy;
}

export async function make(): Promise<void> {
  const { lines, through } = planStore.getState();
  const step = knifeStep(lines, through);
  if (!step || !canMake()) return;
  try {
    await makeStep(step);
    discard();
  } catch (error) {
    const aboutThePlan = error instanceof Refusal && error.code !== 'stale' && error.code !== 'not-there';
    if (aboutThePlan) planStore.setState({ trouble: error.words });
    else meet(error);
  }
}
