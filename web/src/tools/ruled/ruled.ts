/** Ruled lines: click a base edge, and lines leave it over the picked faces; click their places to have fewer. */

import { client, expectData, type Schemas } from '../../api/client';
import { aimer, type Pointed } from '../../hand/aimer';
import { common } from '../../hand/common';
import { inReach } from '../../hand/grab';
import { keeping } from '../../hand/planHistory';
import { planAgain, pointAgain, replan, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { type Pixel, type Place, projector } from '../../space/projection';
import { same } from '../../space/same';
import { pickStore } from '../../stores/pickStore';
import { extraOf, planStore, sharedDefaults, type TypedKind } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { stageOf } from '../../viewport/stageOf';
import { type EdgeEnds, NO_RULED, RULED_DEFAULTS, type Ruled, type RuledState, ruledStore } from './ruledStore';

type Stop = Schemas['RuledStop'];

const askEdge = ({ part, view, pointer }: Pointed): Promise<Schemas['PickedOut']> =>
  expectData(
    client.POST('/api/parts/{part_id}/pick', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        pick: { by: 'pointer', kind: 'edges', view, pointer, radius: 0 },
        shown: pickStore.getState().shown,
      },
    }),
  );

const aiming = aimer({
  ask: askEdge,
  show: (found, { pointer }) => ruledStore.setState({ under: found.elements[0] ?? null, aimedAt: pointer }),
  lose: () => ruledStore.setState({ under: null }),
});

/** The ends of an edge, the one nearer to a pointer first: shares run from there. */
function endsFrom(edge: number, pointer: PointerPlace): EdgeEnds | null {
  const { view } = viewStore.getState();
  const [ends] = stageOf.current?.endsOf([edge]) ?? [];
  if (!view || !ends) return null;
  const project = projector(view);
  const away = (vertex: number): number => {
    const place = stageOf.current?.placeOf(vertex);
    const at: Pixel | null = place ? project(place) : null;
    return at ? Math.hypot(at[0] - pointer[0], at[1] - pointer[1]) : Number.POSITIVE_INFINITY;
  };
  return away(ends[0]) <= away(ends[1]) ? ends : [ends[1], ends[0]];
}

const isSame = (a: EdgeEnds, b: EdgeEnds): boolean => same([...a].sort(), [...b].sort());

/** Take an edge as a base, or let it go if it is one; or let lines run along it. */
function take(edge: EdgeEnds): void {
  const { bases, asking } = ruledStore.getState();
  if (asking) {
    setRuled({ along: edge, asking: false });
    return;
  }
  const others = bases.filter((base) => !isSame(base.edge, edge));
  setRuled({ bases: others.length < bases.length ? others : [...bases, { edge, lines: null }] });
}

export function removeBase(at: number): void {
  setRuled({ bases: ruledStore.getState().bases.toSpliced(at, 1) });
}

/** The places that lines could leave from, as planned. */
const stops = (): Stop[] => extraOf(planStore.getState().plan, 'ruled')?.stops ?? [];

function stopAt(pointer: PointerPlace): Stop | null {
  const { view } = viewStore.getState();
  if (!view) return null;
  const project = projector(view);
  return stops().find((stop) => inReach(project(stop.at as Place), pointer)) ?? null;
}

/** Want a line, or not. */
export function toggleLine({ base, number, wanted }: Stop): void {
  const all = stops().filter((stop) => stop.base === base);
  const now = all.filter((stop) => stop.wanted).map((stop) => stop.number);
  const lines = wanted ? now.filter((one) => one !== number) : [...now, number].sort((a, b) => a - b);
  const bases = ruledStore
    .getState()
    .bases.map((one, k) => (k === base ? { ...one, lines: lines.length === all.length ? null : lines } : one));
  setRuled({ bases });
}

/** Want all lines of every base, or none. */
export function wantLines(all: boolean): void {
  setRuled({ bases: ruledStore.getState().bases.map((base) => ({ ...base, lines: all ? null : [] })) });
}

/** Change how lines run; those that were chosen by their number are all wanted again if their places change. */
export function setRuled(changed: Partial<RuledState>): void {
  const moved = changed.places || changed.leaning || changed.side;
  const bases = changed.bases ?? ruledStore.getState().bases;
  ruledStore.setState({ ...changed, bases: moved ? bases.map((base) => ({ ...base, lines: null })) : bases });
  replan();
  pointAgain();
}

/** Let the next click say which edge lines run along. */
export function askAlong(): void {
  ruledStore.setState({ asking: true });
  pointAgain();
}

/** Ask for no edge any more; whether one was asked for. */
export function letGo(): boolean {
  const { asking } = ruledStore.getState();
  ruledStore.setState({ asking: false });
  return asking;
}

export function resetRuled(): void {
  ruledStore.setState({ ...RULED_DEFAULTS });
  setShared(sharedDefaults());
  planAgain();
}

/** The lines as a step. */
function step(): Ruled | null {
  const { bases, side, places, degrees, along, ends, leaning } = ruledStore.getState();
  if (bases.length === 0) return null;
  return {
    tool: 'ruled',
    bases: bases.map(({ edge, lines }) => ({ edges: [edge], lines })),
    side,
    at: places.by === 'list' ? places.at : null,
    measure: places.by === 'list' ? places.measure : 'share',
    spread: places.by === 'count' ? { count: places.count, ratio: places.ratio } : null,
    every: places.by === 'spacing' ? places.every : null,
    degrees,
    along,
    ends,
    leaning,
    ...common(),
  } as Ruled;
}

export const POINTER: PointerStates = {
  ...keeping(ruledStore, { under: null, aimedAt: null }),
  point: aiming.hover,
  press: () => false,
  drag: () => undefined,
  release: () => undefined,
  click(at) {
    const stop = ruledStore.getState().asking ? null : stopAt(at);
    if (stop) {
      toggleLine(stop);
      return;
    }
    const chosen = aiming.at(at).then((found) => {
      const [edge] = found?.answer.elements ?? [];
      const ends = edge === undefined ? null : endsFrom(edge, at);
      if (ends) take(ends);
    });
    waitFor(chosen);
  },
  clear: () => ruledStore.setState({ ...NO_RULED, along: null }),
  step,
  typeable: () => ['angle'],
  takeTyped(kind: TypedKind, value: number) {
    if (kind === 'angle' && value > 0 && value < 180) setRuled({ degrees: value, along: null });
  },
  edgeLength: () => null,
};
