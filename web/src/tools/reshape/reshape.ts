/** Work on what is picked: push it out, draw it in, take it off, join, bridge, round. Each is planned, seen and made as a step. */

import { client, expectData, type Step } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { newestAnswer } from '../../hand/aimer';
import { inReach } from '../../hand/grab';
import { changeTool, meetWhilePlanning, replan, waitFor } from '../../hand/planning';
import type { PointerPlace } from '../../hand/tool';
import { type Place, projector } from '../../space/projection';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { stageOf } from '../../viewport/stageOf';
import { NO_RESHAPE, type ReshapeState, reshapeStore, type Work } from './reshapeStore';
import { NO_SIZE, sizeStore } from './sizeStore';

const AXES: Record<'x' | 'y' | 'z', [number, number, number]> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** The planned work as a step; null if none is planned or nothing is picked for it. */
export function reshapeStep(): Step | null {
  const { work, distance, along, width, twist, diameter, even, centre, axis } = reshapeStore.getState();
  const { faces, edges, vertices } = pickStore.getState();
  const ends = stageOf.current?.endsOf(edges) ?? [];
  if (work === 'round') {
    if (ends.length + vertices.length === 0) return null;
    return {
      tool: 'round',
      edges: ends.length > 0 ? ends : null,
      vertices: vertices.length > 0 ? vertices : null,
      centre,
      normal: axis && AXES[axis],
      diameter,
      even,
    };
  }
  if (work === 'dissolve')
    return ends.length > 0 ? { tool: 'dissolve', edges: ends, faces: null, keep_vertices: false } : null;
  if (work === 'collapse' && ends.length > 0)
    return { tool: 'collapse', edges: ends.map((edge) => ({ edge, t: 0.5 })), vertices: null, at: null };
  if (work === 'collapse') return vertices.length > 1 ? { tool: 'collapse', vertices, edges: null, at: null } : null;
  if (work === 'bridge' && faces.length === 0)
    return ends.length > 0 ? { tool: 'bridge', edges: ends, faces: null, twist } : null;
  if (!work || faces.length === 0) return null;
  switch (work) {
    case 'extrude':
      return { tool: 'extrude', faces, distance, along };
    case 'inset':
      return { tool: 'inset', faces, distance: width };
    case 'take-off':
      return { tool: 'delete', faces };
    case 'separate':
      return { tool: 'separate', faces };
    case 'join':
      return { tool: 'dissolve', faces, edges: null, keep_vertices: false };
    case 'flip':
      return { tool: 'flip', faces };
    case 'bridge':
      return { tool: 'bridge', faces, edges: null, twist };
  }
}

/** Plan a piece of work, or lay it aside if it is planned already. */
export function begin(work: Work): void {
  const same = reshapeStore.getState().work === work;
  changeTool('pick');
  sizeStore.setState({ ...NO_SIZE });
  reshapeStore.setState({ ...NO_RESHAPE, work: same ? null : work });
  if (reshapeStore.getState().work === 'extrude') waitFor(askForHandle(null));
  else replan();
}

export function setReshape(changed: Partial<ReshapeState>): void {
  reshapeStore.setState(changed);
  if (reshapeStore.getState().work === 'extrude') waitFor(askForHandle(null));
  else replan();
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
