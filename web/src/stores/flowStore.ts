/** The flow view: whether it is on, and the places it paints, read from the service for every state of the part. */
import { createStore } from 'zustand/vanilla';
import { client, expectData, type Schemas } from '../api/client';
import { meet, partStore } from './partStore';

interface FlowState {
  on: boolean;
  /** The places, and the snapshot of the part they belong to. */
  flow: { snapshot: number; places: Schemas['FlowOut'] } | null;
  /** The loop and the ring of the edge under the pointer. */
  lines: Schemas['FlowLinesOut'] | null;
}

export const flowStore = createStore<FlowState>(() => ({
  on: localStorage.getItem('flow') === 'on',
  flow: null,
  lines: null,
}));

export function toggleFlow(): void {
  flowStore.setState(({ on }) => ({ on: !on, lines: null }));
  localStorage.setItem('flow', flowStore.getState().on ? 'on' : 'off');
  void readFlow();
}

async function readFlow(): Promise<void> {
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
