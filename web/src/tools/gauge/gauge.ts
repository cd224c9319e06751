/** Gauge: cuts at measured distances, typed, pasted or pulled. */

import { client, expectData } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { newestAnswer } from '../../hand/aimer';
import { common } from '../../hand/common';
import { inReach } from '../../hand/grab';
import { keeping } from '../../hand/planHistory';
import { meetWhilePlanning, planAgain, replan, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { type Place, projector } from '../../space/projection';
import { meant, stillMeant } from '../../stores/meant';
import { pickStore } from '../../stores/pickStore';
import { extraOf, planStore, sharedDefaults } from '../../stores/planStore';
import { toast } from '../../stores/toastStore';
import { viewStore } from '../../stores/viewStore';
import { pickedEdgeDirection } from '../../viewport/pickedEdge';
import {
  type Along,
  GAUGE_DEFAULTS,
  type GaugeState,
  type GaugeStep,
  gaugeStore,
  NO_WIDTHS,
  type ProfileStep,
} from './gaugeStore';
import { mirrored, positionsOf, widthsOf, withMoved } from './widths';

export const isAxis = (along: Along): along is 'x' | 'y' | 'z' => along === 'x' || along === 'y' || along === 'z';

/** The planned cuts as a step. */
function step(): GaugeStep | ProfileStep | null {
  const { widths, diameters, along, start, measure } = gaugeStore.getState();
  if (!isProfile(gaugeStore.getState()) || !isAxis(along) || start === 'centre') return gaugeStep();
  const rows = positionsOf(widths, measure).map((height, k) => ({ height, diameter: diameters[k] ?? null }));
  return { tool: 'profile', axis: along, start: start ?? 'low', rows, finish: finishOfProfile() };
}

/** Where rings are sized the grid does not bend to them. */
function finishOfProfile(): ProfileStep['finish'] {
  const { finish } = planStore.getState();
  return finish === 'woven' ? 'as cut' : finish;
}

/** Whether rings are sized too. */
export const isProfile = ({ diameters, along, start }: GaugeState): boolean =>
  diameters.some((diameter) => diameter !== null) && isAxis(along) && start !== 'centre';

/** The planned cuts as a step, without sizing rings. */
export function gaugeStep(): GaugeStep | null {
  const { widths, along, direction, start, measure, tilt } = gaugeStore.getState();
  if (widths.length === 0) return null;
  return {
    tool: 'gauge',
    axis: isAxis(along) ? along : 'y',
    direction: isAxis(along) ? null : (direction as [number, number, number] | null),
    start,
    widths,
    measure,
    tilt: tilt.degrees === 0 ? null : tilt,
    ...common(),
  };
}

/** Change the list or how it is read; the plan follows. */
export function setGauge(changed: Partial<Omit<GaugeState, 'dragged'>>): void {
  gaugeStore.setState(changed);
  planAgain();
}

export function addWidths(more: number[]): void {
  const { widths, diameters } = gaugeStore.getState();
  setGauge({ widths: [...widths, ...more], diameters: [...diameters, ...more.map(() => null)] });
}

/** Let the numbers be gaps or positions; the cuts stay where they are. */
export function setMeasure(measure: GaugeState['measure']): void {
  const { widths, diameters, measure: before } = gaugeStore.getState();
  const rows = positionsOf(widths, before)
    .map((at, k) => ({ at, diameter: diameters[k] ?? null }))
    .toSorted((a, b) => a.at - b.at);
  const next = widthsOf(
    rows.map(({ at }) => at),
    measure,
  );
  setGauge({ measure, widths: next, diameters: rows.map(({ diameter }) => diameter) });
}

/** Choose what distances are measured along: an axis, the picked edge, or the normal of the picked face. */
export function setAlong(along: Along): void {
  const { faces } = pickStore.getState();
  if (isAxis(along)) setGauge({ along, direction: null });
  else if (along === 'edge') {
    const direction = pickedEdgeDirection();
    if (direction) setGauge({ along, direction });
    else toast({ title: 'Nothing to measure along', words: 'Pick one edge: the distances run along it.' });
  } else if (faces.length === 1) waitFor(alongFace(faces[0] as number));
  else toast({ title: 'Nothing to measure along', words: 'Pick one face: the distances run along its normal.' });
}

async function alongFace(face: number): Promise<void> {
  const now = meant();
  if (!now) return;
  const { part } = now;
  const standing = await expectData(
    client.POST('/api/parts/{part_id}/aim/plane', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        placed: { by: 'face', axis: 'y', face, vertices: null, offset: 0, tilt: [0, 0], flipped: false, pushes: false },
        handle: null,
        pointer: null,
        view: null,
        free: false,
      },
    }),
  );
  if (!stillMeant(now)) return;
  // The face gives the direction: it is not meant to limit the cuts.
  pickStore.setState({ limited: false });
  setGauge({ along: 'face', direction: standing.normal as Place });
}

/** Put the image of the list about the middle of the part beside it. */
export function mirrorList(): void {
  const { widths, measure } = gaugeStore.getState();
  const gauge = extraOf(planStore.getState().plan, 'gauge');
  if (!gauge) return;
  const both = mirrored(widths, measure, gauge.high - gauge.low);
  setGauge({ widths: both, diameters: both.map(() => null) });
}

export function resetGauge(): void {
  gaugeStore.setState({ ...GAUGE_DEFAULTS });
  setShared(sharedDefaults());
}

/** The cut under a pointer, by its place on the middle line. */
function cutAt(pointer: PointerPlace): number | null {
  const gauge = extraOf(planStore.getState().plan, 'gauge');
  const { view } = viewStore.getState();
  if (!view || !gauge) return null;
  const project = projector(view);
  const found = gauge.cuts.findIndex(({ place }) => inReach(project(place as Place), pointer));
  return found < 0 ? null : found;
}

const newest = newestAnswer();

/** Pull a cut to where a pointer is along the axis: it settles on vertices and round numbers. */
async function pullTo(cut: number, pointer: PointerPlace): Promise<void> {
  const { widths, along, start, measure } = gaugeStore.getState();
  const gauge = extraOf(planStore.getState().plan, 'gauge');
  const held = gauge?.cuts[cut];
  if (!gauge || !held || !isAxis(along)) return;
  const standing = await newest(({ part, view }) =>
    expectData(
      client.POST('/api/parts/{part_id}/aim/plane', {
        params: { path: { part_id: part.id } },
        body: {
          revision: part.revision,
          placed: {
            by: 'axis',
            axis: along,
            face: null,
            vertices: null,
            offset: held.at,
            tilt: [0, 0],
            flipped: false,
            pushes: false,
          },
          handle: 'centre',
          pointer,
          view,
          free: planStore.getState().free,
        },
      }),
    ),
  );
  if (!standing || gaugeStore.getState().widths !== widths) return;
  const at = standing.placed.offset ?? held.at;
  const middle = (gauge.low + gauge.high) / 2;
  const away = start === 'low' ? at - gauge.low : start === 'high' ? gauge.high - at : Math.abs(at - middle);
  const moved = withMoved(widths, measure, held.width, away);
  if (!moved) return;
  gaugeStore.setState({ widths: moved });
  replan();
}

const pull = newestOnly(({ cut, at }: { cut: number; at: PointerPlace }) => pullTo(cut, at).catch(meetWhilePlanning));

export const POINTER: PointerStates = {
  ...keeping(gaugeStore, { dragged: null }),
  point: (pointer) => planStore.setState({ pointer }),
  press(at) {
    const dragged = isAxis(gaugeStore.getState().along) ? cutAt(at) : null;
    gaugeStore.setState({ dragged });
    return dragged !== null;
  },
  drag(at) {
    const { dragged } = gaugeStore.getState();
    if (dragged !== null) pull({ cut: dragged, at });
  },
  release(at) {
    const { dragged } = gaugeStore.getState();
    if (dragged !== null) waitFor(pullTo(dragged, at));
    gaugeStore.setState({ dragged: null });
  },
  click: () => gaugeStore.setState({ dragged: null }),
  clear: () => gaugeStore.setState({ ...NO_WIDTHS }),
  step,
  typeable: () => ['length'],
  takeTyped: (_, value) => addWidths([value]),
  edgeLength: () => null,
};
