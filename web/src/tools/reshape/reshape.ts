/** Work on what is picked: push it out, draw it in, take it off, join, bridge, round. Each is planned, seen and made as a step. */

import { client, expectData, type Schemas, type Step } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { newestAnswer } from '../../hand/aimer';
import { inReach } from '../../hand/grab';
import { changeTool, glance, meetWhilePlanning, replan, waitFor } from '../../hand/planning';
import type { PointerPlace } from '../../hand/tool';
import { type Place, projector } from '../../space/projection';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { toolStore } from '../../stores/toolStore';
import { viewStore } from '../../stores/viewStore';
import { stageOf } from '../../viewport/stageOf';
import { standHandles } from './handles';
import {
  AT_REST,
  type Moving,
  NO_RESHAPE,
  type ReshapeState,
  reshapeStore,
  type ShardsBy,
  type Work,
} from './reshapeStore';
import { NO_SIZE, sizeStore } from './sizeStore';

const AXES: Record<'x' | 'y' | 'z', [number, number, number]> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** What is picked, with edges as pairs of vertices. */
interface Meant {
  faces: number[];
  ends: [number, number][];
  vertices: number[];
}

type StepOf = (picked: Meant, state: ReshapeState) => Step | null;

/** Each work as a step; null where what is picked is not enough. */
const STEPS: Record<Work, StepOf> = {
  extrude: ({ faces }, { distance, along }) => some(faces) && { tool: 'extrude', faces, distance, along },
  inset: ({ faces }, { width }) => some(faces) && { tool: 'inset', faces, distance: width },
  'take-off': ({ faces, ends, vertices }) =>
    oneOf({ faces }, { edges: ends }, { vertices }, (picked) => ({ tool: 'delete', ...picked })),
  separate: ({ faces }) => some(faces) && { tool: 'separate', faces, each: false },
  join: ({ faces }, { keepVertices, straight }) =>
    some(faces) && { tool: 'dissolve', faces, keep_vertices: keepVertices, straight_within: straight },
  flip: ({ faces }) => some(faces) && { tool: 'flip', faces },
  bridge: ({ faces, ends }, { twist, steps }) =>
    oneOf({ faces }, { edges: ends }, {}, (picked) => ({ tool: 'bridge', twist, steps, ...picked })),
  round: ({ ends, vertices }, { centre, axis, diameter, even }) =>
    ends.length + vertices.length > 0
      ? {
          tool: 'round',
          edges: some(ends),
          vertices: some(vertices),
          centre,
          normal: axis && AXES[axis],
          diameter,
          even,
        }
      : null,
  dissolve: ({ ends, vertices }, { keepVertices, straight }) =>
    oneOf({ edges: ends }, { vertices }, {}, (picked) => ({
      tool: 'dissolve',
      keep_vertices: keepVertices,
      straight_within: straight,
      ...picked,
    })),
  collapse: ({ ends, vertices }, { to, at, share, anyway }) => {
    if (ends.length > 0) return { tool: 'collapse', edges: ends.map((edge) => ({ edge, t: share })), to, anyway };
    const { inOrder } = pickStore.getState();
    const ordered = inOrder.length === vertices.length ? inOrder : vertices;
    return vertices.length > 1 ? { tool: 'collapse', vertices: ordered, at, to, anyway } : null;
  },
  weld: ({ vertices }, { within, anyway }) => ({
    tool: 'weld',
    distance: within,
    vertices: some(vertices),
    anyway,
  }),
  'weld-onto': ({ vertices }, { anyway }) => {
    const [first, second] = pickStore.getState().inOrder;
    if (vertices.length !== 2 || first === undefined || second === undefined) return null;
    return { tool: 'weld', onto: [[first, second]], anyway };
  },
  'split-apart': ({ ends, vertices }) =>
    oneOf({ edges: ends }, { vertices }, {}, (picked) => ({ tool: 'split apart', ...picked })),
  fill: ({ ends, vertices }, { fillBy }) => {
    const [a, b, c, d] = vertices;
    const named = fillBy === 'grid' && vertices.length === 4 && d !== undefined;
    return {
      tool: 'fill',
      edges: some(ends),
      by: fillBy,
      corners: named ? [a as number, b as number, c as number, d] : null,
    };
  },
  circle: ({ faces }, { circle }) => {
    const [face] = faces;
    return face === undefined || faces.length > 1 ? null : { tool: 'circle', face, ...circle };
  },
  quads: ({ faces }, { lean, way, seen, corners }) => ({
    tool: 'quads',
    faces: some(faces),
    within: lean,
    corners,
    way: seen ?? way,
  }),
  triangulate: ({ faces }) => ({ tool: 'triangulate', faces: some(faces) }),
  'join-triangles': ({ faces }, { lean }) => ({ tool: 'join triangles', faces: some(faces), within: lean }),
  divide: ({ faces }, { columns, rows }) => ({ tool: 'divide', faces: some(faces), columns, rows }),
  flatten: ({ faces, vertices }, { axis, anyway }) =>
    oneOf({ faces }, { vertices: vertices.length > 2 ? vertices : [] }, {}, (picked) => ({
      tool: 'flatten',
      normal: axis && AXES[axis],
      anyway,
      ...picked,
    })),
  'line-up': ({ ends }, { lineUp, anyway }) =>
    ends.length > 1 ? { tool: 'line up', edges: ends, to: lineUp, anyway } : null,
  facing: () => ({ tool: 'facing' }),
  strays: ({ vertices }, { straight, borders }) => ({
    tool: 'strays',
    vertices: some(vertices),
    within: straight,
    isolated: true,
    borders,
  }),
  shards: (_, { shards }) => ({ tool: 'shards', ...shards }),
  thicken: (_, { thickness }) => ({ tool: 'thicken', distance: thickness }),
  subdivide: (_, { rounds }) => ({ tool: 'subdivide', rounds }),
  hard: ({ ends }, { hardness, creaseStrength }) =>
    some(ends) && { tool: 'hard edges', edges: some(ends), to: hardness, strength: creaseStrength },
  'hard-by-angle': (_, { bend, hardness, creaseStrength }) => ({
    tool: 'hard edges',
    degrees: bend,
    to: hardness,
    strength: creaseStrength,
  }),
  bevel: ({ ends, vertices }, { bevel }) =>
    oneOf({ edges: ends }, { vertices }, {}, (picked) => ({ tool: 'bevel', ...bevel, ...picked })),
  move: (picked, { moving, handles, falloff }) => {
    const move = moveOf(moving, handles);
    return (
      move && {
        tool: 'move',
        ...each(picked),
        move,
        falloff: falloff.rings > 0 ? falloff : null,
        mirror: planStore.getState().mirror,
      }
    );
  },
  slide: ({ ends, vertices }, { slide: { by, measure, even, towards } }) =>
    oneOf({ edges: ends }, { vertices }, {}, (picked) => ({
      tool: 'slide',
      by,
      measure: even ? 'share' : measure,
      even,
      towards: AXES[towards],
      mirror: planStore.getState().mirror,
      ...picked,
    })),
  relax: (picked, { relax: { strength, rounds, onSurface } }) => ({
    tool: 'relax',
    ...each(picked),
    strength,
    rounds,
    on_surface: onSurface,
    mirror: planStore.getState().mirror,
  }),
  'each-body': ({ faces }) => ({ tool: 'separate', faces: some(faces), each: true }),
  clean: ({ faces }, { cleanTo, heights, flatWithin }) =>
    some(faces) && {
      tool: 'clean patch',
      faces,
      to: cleanTo,
      heights: heights ? 'keep' : 'refuse',
      within: flatWithin,
    },
};

/** All that is picked, by kind. */
const each = ({ faces, ends, vertices }: Meant) => ({
  faces: some(faces),
  edges: some(ends),
  vertices: some(vertices),
});

/** What the handles say, as a step has it; null while nothing is moved. */
function moveOf(
  { way, by, axis, degrees, factors }: Moving,
  handles: Schemas['HandleAimOut'] | null,
): Schemas['MoveParams']['move'] | null {
  const about = handles?.middle;
  if (!about) return null;
  if (way === 'shift') return by.some((value) => value !== 0) ? { way, by } : null;
  if (way === 'turn') return degrees === 0 ? null : { way, about, axis, degrees };
  return factors.some((value) => value !== 1) ? { way, about, factors } : null;
}

/** A list with something in it, or null. */
function some<Element>(list: Element[]): Element[] | null {
  return list.length > 0 ? list : null;
}

type Kinds = { faces?: number[]; edges?: [number, number][]; vertices?: number[] };

/** The first of some kinds of element of which anything is picked, as a part of a step. */
function oneOf(first: Kinds, second: Kinds, third: Kinds, step: (picked: Kinds) => Step): Step | null {
  const found = [first, second, third].find((kind) => Object.values(kind).some((list) => list.length > 0));
  return found ? step(found) : null;
}

/** The planned work as a step; null if none is planned or not enough is picked for it. */
export function reshapeStep(): Step | null {
  const state = reshapeStore.getState();
  if (!state.work) return null;
  const { faces, edges, vertices } = pickStore.getState();
  const ends = (stageOf.current?.endsOf(edges) ?? []) as [number, number][];
  return STEPS[state.work]({ faces, ends, vertices }, state) || null;
}

/** Plan a piece of work, or lay it aside if it is planned already; what is only in the tray with the tray in hand. */
export function begin(work: Work, inTray = toolStore.getState().tool === 'mend'): void {
  const same = reshapeStore.getState().work === work;
  changeTool(inTray ? 'mend' : 'pick');
  sizeStore.setState({ ...NO_SIZE });
  const { slide } = reshapeStore.getState();
  reshapeStore.setState({ ...NO_RESHAPE, work: same ? null : work, moving: AT_REST, slide: { ...slide, by: 0 } });
  if (reshapeStore.getState().work === 'extrude') waitFor(askForHandle(null));
  else if (reshapeStore.getState().work === 'move') waitFor(standHandles());
  else replan();
}

/** Plan to break the part along lines or planes that another tool had planned. */
export function breakAlong(by: ShardsBy): void {
  if (reshapeStore.getState().work === 'shards') reshapeStore.setState({ work: null });
  reshapeStore.setState(({ shards }) => ({ shards: { ...shards, by } }));
  begin('shards', true);
}

export function setReshape(changed: Partial<ReshapeState>): void {
  reshapeStore.setState(changed);
  if (reshapeStore.getState().work === 'extrude') waitFor(askForHandle(null));
  else replan();
}

/** Show one of the ways to cut a face while it is pointed at; the chosen one for null. */
export function seeWay(seen: number | null): void {
  if (reshapeStore.getState().seen === seen) return;
  reshapeStore.setState({ seen });
  glance();
}

const newest = newestAnswer();

/** Where the handle of the extrusion stands; with a pointer, once it was pulled under it. */
async function askForHandle(pointer: PointerPlace | null): Promise<void> {
  const [face] = pickStore.getState().faces;
  if (face === undefined) return;
  const standing = await newest(({ part, view }) =>
    expectData(
      client.POST('/api/parts/{part_id}/aim/plane', {
        params: { path: { part_id: part.id } },
        body: {
          revision: part.revision,
          placed: {
            by: 'face',
            axis: 'y',
            face,
            vertices: null,
            offset: reshapeStore.getState().distance,
            tilt: [0, 0],
            flipped: false,
            pushes: true,
          },
          handle: pointer ? 'move' : null,
          pointer,
          view: pointer ? view : null,
          free: planStore.getState().free,
        },
      }),
    ),
  );
  if (!standing || reshapeStore.getState().work !== 'extrude') return;
  reshapeStore.setState({ standing, distance: standing.placed.offset ?? 0 });
  replan();
}

const pull = newestOnly((at: PointerPlace) => askForHandle(at).catch(meetWhilePlanning));

/** Whether the handle of the extrusion is under the pointer; it is then held. */
export function takeHold(pointer: PointerPlace): boolean {
  const { standing } = reshapeStore.getState();
  const { view } = viewStore.getState();
  const at = standing && view ? projector(view)(standing.handles.move as Place) : null;
  const near = inReach(at, pointer);
  reshapeStore.setState({ dragging: near });
  return near;
}

export const dragTo = (at: PointerPlace): void => pull(at);

export function letGo(at: PointerPlace): void {
  reshapeStore.setState({ dragging: false });
  waitFor(askForHandle(at));
}
