/** Edge loop: hover to see it, click to plan it, slide and type to adjust it. */

import { client, expectData, type Schemas } from '../../api/client';
import { aimer, type Pointed } from '../../hand/aimer';
import { common } from '../../hand/common';
import { inReach } from '../../hand/grab';
import { keeping } from '../../hand/planHistory';
import { planAgain, replan, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { distance, type Place, projector } from '../../space/projection';
import { pickStore } from '../../stores/pickStore';
import { planStore, settlingOf, sharedDefaults, type TypedKind } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { stageOf } from '../../viewport/stageOf';
import {
  LOOP_DEFAULTS,
  type LoopState,
  type LoopStep,
  loopStore,
  type Measure,
  NO_LOOP,
  type Places,
} from './loopStore';

type Aim = Schemas['LoopAimOut'];

/** How loops run, as the service takes it. */
function settings(): Schemas['LoopSettings'] {
  const { places, measure, extraPoints, alongPick, through } = loopStore.getState();
  const along = alongPick ? (stageOf.current?.endsOf(pickStore.getState().edges) ?? []) : null;
  return {
    measure: places.by === 'list' ? places.measure : places.by === 'spread' ? 'share' : measure,
    extra_points: extraPoints,
    through,
    along: along?.length ? along : null,
    ...common(),
  };
}

/** The planned loop as a step. */
function step(): LoopStep | null {
  const { planned, places } = loopStore.getState();
  if (!planned) return null;
  const at = places.by === 'spread' ? null : places.by === 'list' ? places.at : [planned.at];
  const spread = places.by === 'spread' ? { count: places.count, ratio: places.ratio } : null;
  return { tool: 'loop', edge: planned.edge, at, spread, ...settings() } as LoopStep;
}

async function askAim({ part, view, pointer }: Pointed): Promise<Aim> {
  const { places, flipped, planned, sliding } = loopStore.getState();
  const held = sliding && planned ? planned.edge : null;
  return expectData(
    client.POST('/api/parts/{part_id}/aim/loop', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        view,
        pointer,
        settling: settlingOf(planStore.getState()),
        settings: settings(),
        spread: places.by === 'spread' ? { count: places.count, ratio: places.ratio } : null,
        flipped,
        held,
        shown: pickStore.getState().shown,
      },
    }),
  );
}

/** Whether the pointer looks for a loop, or slides the planned one; else what is planned stays as it is. */
const looking = (): boolean => !loopStore.getState().planned || loopStore.getState().sliding;

const aiming = aimer({
  ask: askAim,
  show(aim, { pointer }) {
    if (loopStore.getState().sliding) slideTo(aim);
    else if (looking()) loopStore.setState({ aim, aimedAt: pointer });
  },
  lose: () => loopStore.setState({ aim: null }),
});

function point(pointer: PointerPlace | null): void {
  if (looking()) aiming.hover(pointer);
  else {
    planStore.setState({ pointer });
    loopStore.setState({ aim: null });
  }
}

/** Plan what a click means: the loop of an edge; a typed place counts in the way it was typed. */
function plan(edge: [number, number], at: number): void {
  loopStore.setState({ planned: { edge, at }, through: [], aim: null });
  planStore.setState({ half: false });
  replan();
}

function slideTo({ mark, step: aimed }: Aim): void {
  const { planned, places, measure } = loopStore.getState();
  if (!planned || !aimed || mark.share == null || mark.length == null) return;
  const fromLow = planned.edge[0] < planned.edge[1];
  const share = fromLow ? mark.share : 1 - mark.share;
  loopStore.setState({
    planned: { ...planned, at: measure === 'distance' ? share * mark.length : share },
    places: places.by === 'one' ? places : { by: 'one' },
  });
  replan();
}

/** The ends of the edge that is planned, from the end that places count from, and where the loop crosses it. */
export function plannedOnEdge(): { from: Place; to: Place; at: Place[] } | null {
  const { planned, places, measure } = loopStore.getState();
  const stage = stageOf.current;
  if (!planned || !stage) return null;
  const from = stage.placeOf(planned.edge[0]);
  const to = stage.placeOf(planned.edge[1]);
  if (!from || !to) return null;
  const listed = places.by === 'list' ? places : { at: [planned.at], measure };
  const size = distance(from, to) || 1;
  const shares = places.by === 'spread' ? [] : listed.at.map((at) => (listed.measure === 'distance' ? at / size : at));
  return { from, to, at: shares.map((s) => from.map((x, k) => x + s * ((to[k] ?? 0) - x)) as unknown as Place) };
}

/** Change how loops run; the plan follows. */
export function setLoop(
  changed: Partial<
    Pick<LoopState, 'places' | 'extraPoints' | 'alongPick' | 'through'> & { planned: LoopState['planned'] }
  >,
): void {
  // What is set by hand is no longer slid.
  loopStore.setState({ ...changed, sliding: false });
  planAgain();
}

export function setPlace(at: number): void {
  const { planned } = loopStore.getState();
  if (planned) setLoop({ planned: { ...planned, at }, places: { by: 'one' } });
}

/** Let places be shares or distances; the loop stays where it is. */
export function setMeasure(measure: Measure): void {
  const { planned, measure: before } = loopStore.getState();
  const length = edgeLength();
  loopStore.setState({ measure, places: { by: 'one' }, sliding: false });
  if (planned && length && before !== measure) {
    const at = measure === 'distance' ? planned.at * length : planned.at / length;
    loopStore.setState({ planned: { ...planned, at } });
  }
  planAgain();
}

export function setPlaces(places: Places): void {
  setLoop({ places });
}

/** Count places from the other end: the numbers stay, the loops change sides. */
export function flip(): void {
  const { planned, flipped } = loopStore.getState();
  loopStore.setState({
    flipped: !flipped,
    sliding: false,
    planned: planned && { ...planned, edge: [planned.edge[1], planned.edge[0]] },
  });
  planAgain();
}

/** Put the planned loop, or the next one, at dead centre. */
export function half(): void {
  if (loopStore.getState().planned) {
    loopStore.setState({ measure: 'share' });
    setPlace(0.5);
  } else setShared({ half: !planStore.getState().half });
}

export function resetLoop(): void {
  const { planned, measure } = loopStore.getState();
  const length = edgeLength();
  const at = planned && measure === 'distance' && length ? planned.at / length : planned?.at;
  loopStore.setState({ ...LOOP_DEFAULTS, planned: planned && { ...planned, at: at ?? 0.5 }, through: [] });
  setShared(sharedDefaults());
}

function edgeLength(): number | null {
  const { aim } = loopStore.getState();
  const planned = plannedOnEdge();
  return planned ? distance(planned.from, planned.to) : (aim?.mark.length ?? null);
}

function takeTyped(kind: TypedKind, value: number): void {
  const { planned, aim } = loopStore.getState();
  const edge = planned?.edge ?? aim?.step?.edge;
  if (!edge) return;
  loopStore.setState({ measure: kind === 'length' ? 'distance' : 'share', places: { by: 'one' } });
  if (planned) setPlace(value);
  else plan(edge as [number, number], value);
}

/** Whether a pointer lies on the mark of the planned loop. */
function onPlanned(pointer: PointerPlace): boolean {
  const { view } = viewStore.getState();
  const planned = plannedOnEdge();
  if (!view || !planned) return false;
  const project = projector(view);
  return planned.at.some((place) => inReach(project(place), pointer));
}

/** Counts what was taken hold of: what is answered to an earlier hold changes nothing. */
let holds = 0;

export const POINTER: PointerStates = {
  ...keeping(loopStore, { aim: null, aimedAt: null, sliding: false }),
  point,
  press(at) {
    const sliding = onPlanned(at);
    holds += 1;
    loopStore.setState({ sliding });
    return sliding;
  },
  drag: point,
  release(at) {
    // The last answer moves the loop once more before it is let go.
    if (!loopStore.getState().planned) return;
    const hold = holds;
    const settled = aiming
      .at(at)
      .then((found) => found && hold === holds && loopStore.getState().sliding && slideTo(found.answer))
      .finally(() => hold === holds && loopStore.setState({ sliding: false, aim: null }));
    waitFor(settled);
  },
  click(at) {
    loopStore.setState({ sliding: false });
    if (onPlanned(at)) return;
    // Asked anew: what is planned is what lies under the click, not under the last move before it.
    const chosen = aiming.at(at).then((found) => {
      const step = found?.answer.step;
      if (step) plan(step.edge as [number, number], step.at?.[0] ?? 0.5);
    });
    waitFor(chosen);
  },
  clear: () => loopStore.setState({ ...NO_LOOP }),
  step,
  typeable() {
    const { planned, aim, measure } = loopStore.getState();
    if (!planned && !aim?.step) return [];
    return measure === 'distance' ? ['length', 'share'] : ['share', 'length'];
  },
  takeTyped,
  edgeLength,
};
