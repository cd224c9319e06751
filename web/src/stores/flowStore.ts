/** The flow view: whether it is on, and the places it paints, read from the service for every state of the part. */
import { createStore } from 'zustand/vanilla';
import { client, expectData, type Schemas } from '../api/client';
import { meet, partStore } from './partStore';

export type Measure = Schemas['QualityOut']['measure'];

interface FlowState {
  on: boolean;
  /** What is painted: the flow, or how well faces are formed by one measure. */
  paint: 'flow' | Measure;
  quality: { snapshot: number; found: Schemas['QualityOut'] } | null;
  /** The places, and the snapshot of the part they belong to. */
  flow: { snapshot: number; places: Schemas['FlowOut'] } | null;
  /** The loop and the ring of the edge under the pointer. */
  lines: Schemas['FlowLinesOut'] | null;
}

export const flowStore = createStore<FlowState>(() => ({
  on: localStorage.getItem('flow') === 'on',
  paint: 'flow',
  quality: null,
  flow: null,
  lines: null,
}));

export function toggleFlow(): void {
  flowStore.setState(({ on }) => ({ on: !on, lines: null }));
  localStorage.setItem('flow', flowStore.getState().on ? 'on' : 'off');
  void readFlow();
}

export function paintBy(paint: 'flow' | Measure): void {
  flowStore.setState({ paint });
  void readFlow();
}

async function readFlow(): Promise<void> {
  await Promise.all([readPlaces(), readQuality()]);
}

async function readQuality(): Promise<void> {
  const { part } = partStore.getState();
  const { on, paint, quality } = flowStore.getState();
  if (!part || !on || paint === 'flow') return;
  if (quality?.snapshot === part.snapshot && quality.found.measure === paint) return;
  try {
    const found = await expectData(
      client.GET('/api/parts/{part_id}/quality', {
        params: { path: { part_id: part.id }, query: { revision: part.revision, measure: paint } },
      }),
    );
    if (flowStore.getState().paint === paint) flowStore.setState({ quality: { snapshot: part.snapshot, found } });
  } catch (error) {
    meet(error);
  }
}

async function readPlaces(): Promise<void> {
  const { part } = partStore.getState();
  if (!part || !flowStore.getState().on || flowStore.getState().flow?.snapshot === part.snapshot) return;
  try {
    const places = await expectData(
      client.GET('/api/parts/{part_id}/flow', {
        params: { path: { part_id: part.id }, query: { revision: part.revision } },
      }),
    );
    flowStore.setState({ flow: { snapshot: part.snapshot, places } });
  } catch (error) {
    meet(error);
  }
}

partStore.subscribe((now, before) => {
  if (now.part?.snapshot === before.part?.snapshot) return;
  flowStore.setState({ lines: null });
  void readFlow();
});

/** The measure that is painted, once it is known for a state of the part. */
export function qualityOf(
  { on, paint, quality }: FlowState,
  snapshot: number | undefined,
): Schemas['QualityOut'] | null {
  const known = on && quality?.snapshot === snapshot && quality?.found.measure === paint;
  return known ? (quality?.found ?? null) : null;
}
