/** Pick: say which vertices, edges or faces are meant. The service finds them; here they are added, removed and kept. */
import { client, expectData, type Schemas } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { aimer } from '../../hand/aimer';
import { keeping } from '../../hand/planHistory';
import { planAgain } from '../../hand/planning';
import type { Modifiers, PointerPlace, PointerStates } from '../../hand/tool';
import { flowStore } from '../../stores/flowStore';
import { moveOn } from '../../stores/meant';
import { NOTHING_PICKED, type PickKind, type PickWay, picked, pickedCount, pickStore } from '../../stores/pickStore';
import { toast } from '../../stores/toastStore';
import { viewStore } from '../../stores/viewStore';
import { pointedByFinger } from '../../ui/modality';
import { stageOf } from '../../viewport/stageOf';
import { askPick } from './askPick';
import { layAside, planned, reshapeStep } from './reshape';
import { reshapeStore } from './reshapeStore';
import { sizeStep } from './size';
import { NO_SIZE, sizeStore } from './sizeStore';

type How = 'replace' | 'add' | 'remove' | 'turn';

export function take(found: Schemas['PickedOut'] | null, how: How): void {
  if (!found) return;
  const { [found.kind]: now, inOrder } = pickStore.getState();
  const elements = new Set(how === 'replace' ? [] : found.kind === 'vertices' ? inOrder : now);
  for (const element of found.elements) {
    if (how === 'remove' || (how === 'turn' && elements.has(element))) elements.delete(element);
    else elements.add(element);
  }
  const next = [...elements].sort((a, b) => a - b);
  // A size was meant for what was picked before.
  sizeStore.setState({ ...NO_SIZE });
  // What was chosen before there was enough picked for it waits for just this.
  const waits = planned()?.fits(picked()) === false;
  if (!waits) layAside();
  pickStore.setState({
    ...(how === 'replace' ? NOTHING_PICKED : {}),
    [found.kind]: next,
    inOrder: found.kind === 'vertices' ? [...elements] : how === 'replace' ? [] : inOrder,
    kind: found.kind,
    limited: true,
  });
  planAgain();
  if (waits && planned()?.fits(picked())) planned()?.changed?.();
}

/** A finger has no keys beside it: each tap adds, or takes away what is picked. */
const howOf = ({ shift, control }: Modifiers): How =>
  control ? 'remove' : shift ? 'add' : pointedByFinger() ? 'turn' : 'replace';

async function pickAt(at: PointerPlace, how: How, radius = 0): Promise<void> {
  const { view } = viewStore.getState();
  const { kind } = pickStore.getState();
  if (view) take(await askPick({ by: 'pointer', kind, view, pointer: at, radius }), how);
}

const brush = newestOnly(({ at, how }: { at: PointerPlace; how: How }) => pickAt(at, how, pickStore.getState().radius));

export function setKind(kind: PickKind): void {
  pickStore.setState({ kind });
}

export function cycleKind(): void {
  const kinds: PickKind[] = ['faces', 'edges', 'vertices'];
  setKind(kinds[(kinds.indexOf(pickStore.getState().kind) + 1) % kinds.length] ?? 'faces');
}

export function setWay(way: PickWay): void {
  pickStore.setState({ way, rectangle: null, brush: null });
}

/** What the picked elements lead to: more, fewer, others, all that hang together, their patch, their border. */
export async function lead(by: 'grow' | 'shrink' | 'invert' | 'connected' | 'patch' | 'border'): Promise<void> {
  const { kind, ...rest } = pickStore.getState();
  take(
    await askPick({ by, kind: by === 'patch' ? 'faces' : kind, elements: rest[by === 'patch' ? 'faces' : kind] }),
    'replace',
  );
}

/** The loop, the ring or the shortest path that the picked edge or the two picked vertices lead to. */
export async function chain(by: 'loop' | 'ring' | 'path'): Promise<void> {
  const { edges, vertices } = pickStore.getState();
  const elements = by === 'path' ? vertices : edges;
  const wanted = by === 'path' ? 2 : 1;
  if (elements.length !== wanted) {
    const words =
      by === 'path' ? 'Pick two vertices: the path runs between them.' : `Pick one edge: its ${by} is found from it.`;
    toast({ title: 'Nothing to start from', words });
    return;
  }
  take(await askPick({ by, elements }), 'replace');
}

export async function byFlow(what: Schemas['ByFlow']['what']): Promise<void> {
  take(await askPick({ by: 'flow', what }), 'replace');
}

/** Pick what a row of the flow report counts, and bring it into sight; whether that is still meant once it is found. */
export const showFlow = (what: Schemas['ByFlow']['what']): Promise<boolean> => pickAndShow({ by: 'flow', what });

/** Pick the faces in one bin of a measure and bring them into sight. */
export const showQuality = (measure: Schemas['ByQuality']['measure'], bin: number): Promise<boolean> =>
  pickAndShow({ by: 'quality', measure, bin });

async function pickAndShow(pick: Parameters<typeof askPick>[0]): Promise<boolean> {
  const found = await askPick(pick);
  if (!found) return false;
  take(found, 'replace');
  // What is only to be looked at must not limit the next cut unasked.
  pickStore.setState({ limited: false });
  planAgain();
  // What comes of it does not wait for the view: that may turn elsewhere meanwhile, and never come to rest.
  void stageOf.current?.showElements(found.kind, found.elements);
  return true;
}

export function clearPick(): void {
  moveOn();
  pickStore.setState({ ...NOTHING_PICKED, inOrder: [] });
  planAgain();
}

/** Hide everything but the picked faces; or bring back what is hidden. */
export function toggleHidden(): void {
  const { shown, faces } = pickStore.getState();
  if (shown) pickStore.setState({ shown: null });
  else if (faces.length > 0) pickStore.setState({ shown: faces });
  else toast({ title: 'Nothing is hidden', words: 'Pick the faces that should stay first.' });
  planAgain();
}

export const somethingPicked = (): boolean => pickedCount(picked()) > 0;

/** In the flow view the loop and the ring of the edge under the pointer are shown whole. */
const flowLines = aimer({
  ask: ({ part, view, pointer }) =>
    expectData(
      client.POST('/api/parts/{part_id}/flow-lines', {
        params: { path: { part_id: part.id } },
        body: { revision: part.revision, view, pointer, shown: pickStore.getState().shown },
      }),
    ),
  show: (lines) => flowStore.setState({ lines }),
  lose: () => flowStore.setState({ lines: null }),
});

const sizing = keeping(sizeStore, {});
const working = keeping(reshapeStore, { dragging: false });

export const POINTER: PointerStates = {
  keep: () => [sizing.keep(), working.keep()],
  putBack(kept) {
    const [size, work] = kept as [unknown, unknown];
    pickStore.setState({ rectangle: null, brush: null });
    sizing.putBack(size);
    working.putBack(work);
  },
  point(at) {
    if (flowStore.getState().on || at === null) flowLines.hover(at);
    const { way, brush } = pickStore.getState();
    if (way === 'brush' || brush) pickStore.setState({ brush: way === 'brush' ? at : null });
  },
  press(at) {
    const dragging = planned()?.press?.(at) ?? false;
    reshapeStore.setState({ dragging });
    if (dragging) return true;
    const { way } = pickStore.getState();
    if (way === 'rectangle') pickStore.setState({ rectangle: [...at, ...at] });
    return way !== 'click';
  },
  drag(at, keys) {
    if (reshapeStore.getState().dragging) {
      planned()?.drag?.(at);
      return;
    }
    const { way, rectangle } = pickStore.getState();
    if (way === 'brush') {
      pickStore.setState({ brush: at });
      brush({ at, how: keys.control ? 'remove' : 'add' });
    } else if (rectangle) {
      pickStore.setState({ rectangle: [rectangle[0], rectangle[1], ...at] });
    }
  },
  release(at, keys) {
    if (reshapeStore.getState().dragging) {
      reshapeStore.setState({ dragging: false });
      planned()?.letGo?.(at);
      return;
    }
    const { rectangle, kind } = pickStore.getState();
    const { view, seeThrough } = viewStore.getState();
    if (!rectangle || !view) return;
    const corner: PointerPlace = [rectangle[0], rectangle[1]];
    pickStore.setState({ rectangle: null });
    void askPick({ by: 'rectangle', kind, view, corner, other: at, through: seeThrough }).then((found) =>
      take(found, howOf(keys)),
    );
  },
  click(at, keys) {
    if (reshapeStore.getState().dragging) {
      reshapeStore.setState({ dragging: false });
      return;
    }
    pickStore.setState({ rectangle: null });
    if (planned()?.click?.(at)) return;
    void pickAt(at, howOf(keys), pickStore.getState().way === 'brush' ? pickStore.getState().radius : 0);
  },
  clear() {
    pickStore.setState({ rectangle: null, brush: null });
    sizeStore.setState({ ...NO_SIZE });
    layAside();
  },
  step: () => reshapeStep() ?? sizeStep(),
  typeable() {
    const work = planned();
    return work?.typeable?.(work.now()) ?? [];
  },
  signed: () => true,
  takeTyped: (_, value) => planned()?.takeTyped?.(value),
  edgeLength: () => null,
};
