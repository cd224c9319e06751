/** The part on the table: only what the service confirmed. */
import { createStore } from 'zustand/vanilla';
import { client, expectData, Refusal, type Schemas } from '../api/client';
import { whenBack } from '../api/connection';
import { projectsChanged } from '../api/queries';
import { FLASH_FOR_MS } from '../options';
import type { Place } from '../space/projection';
import { followed } from './jobStore';
import { changeState, picked, pickStore } from './pickStore';
import { toast } from './toastStore';

type Part = Schemas['PartOut'];
export type Entry = Schemas['EntryOut'];

interface PartState {
  part: Part | null;
  /** New edges to flash, for a moment after a cut. */
  flash: [Place, Place][];
  /** The part or its project is gone. */
  gone: boolean;
  busy: boolean;
  /** Why the part can't be opened just now. */
  trouble: string | null;
}

export const partStore = createStore<PartState>(() => ({
  part: null,
  flash: [],
  gone: false,
  busy: false,
  trouble: null,
}));

/** The part that is to be on the table. */
let opening: number | null = null;

export async function openPart(id: number): Promise<void> {
  opening = id;
  const before = partStore.getState().part;
  if (before) changeState(before.snapshot, null, null);
  partStore.setState({ part: null, flash: [], gone: false, trouble: null });
  await readPart(id);
}

async function readPart(id: number): Promise<void> {
  try {
    const part = await expectData(client.GET('/api/parts/{part_id}', { params: { path: { part_id: id } } }));
    // Another part was opened meanwhile.
    if (opening !== id) return;
    const before = partStore.getState().part;
    if (before?.snapshot !== part.snapshot) changeState(before?.snapshot ?? null, part.snapshot, null);
    partStore.setState({ part, gone: false, trouble: null });
  } catch (error) {
    if (opening !== id) return;
    if (error instanceof Refusal && error.code === 'unreachable') {
      partStore.setState({ trouble: error.words });
      whenBack('part', () => void readPart(id));
    } else meet(error);
  }
}

/** What to do about a refusal that is not about the plan: 'stale' reads the part anew, 'not-there' leaves it. */
export function meet(error: unknown): void {
  const part = partStore.getState().part;
  if (error instanceof Refusal && error.code === 'stale' && part) {
    toast({
      title: 'The part was changed elsewhere',
      words: 'It was read anew; your plan is kept where it still applies.',
    });
    // The next change waits for the part as it is now.
    changing = changing.catch(() => {}).then(() => readPart(part.id));
  } else if (error instanceof Refusal && error.code === 'not-there') {
    partStore.setState({ gone: true });
  } else if (error instanceof Refusal) {
    toast({ title: 'That did not work', words: error.words, tone: 'warning', elements: error.elements });
  } else {
    throw error;
  }
}

/**
 * Cuts, undo and redo, one after the other: each is asked of the part as the one before has left it. What waited for
 * one that failed was meant for a part that did not come about, and is dropped.
 */
let changing: Promise<unknown> = Promise.resolve();
let waiting = 0;
let failures = 0;

function inTurn<Done>(change: (part: Part) => Promise<Done>): Promise<Done | null> {
  const asked = partStore.getState().part?.id;
  const failedBefore = failures;
  waiting += 1;
  partStore.setState({ busy: true });
  const done = changing
    .catch(() => {})
    .then(() => {
      const { part } = partStore.getState();
      return part && part.id === asked && failures === failedBefore ? change(part) : null;
    })
    .catch((error: unknown) => {
      failures += 1;
      throw error;
    })
    .finally(() => {
      waiting -= 1;
      partStore.setState({ busy: waiting > 0 });
    });
  changing = done;
  return done;
}

/** Whether a part is still the one on the table: what is answered for another one is not shown. */
const onTheTable = (part: Part): boolean => partStore.getState().part?.id === part.id;

/**
 * Make a cut; throws the refusal if it can't be made, so that the plan can show it. `whenMade` clears up what was
 * meant for the part as it was, before the new one is there.
 */
export async function makeStep(
  step: Schemas['MakeIn']['step'],
  whenMade: () => void = () => {},
  key = '',
): Promise<void> {
  await inTurn(async (part) => {
    const made = await followed('Making the cut', (job) =>
      expectData(
        client.POST('/api/parts/{part_id}/steps', {
          params: { path: { part_id: part.id }, query: { job } },
          body: { revision: part.revision, step, pick: picked(), key },
        }),
      ),
    );
    if (!onTheTable(part)) return;
    const flash = made.new_edges as [Place, Place][];
    changeState(part.snapshot, made.part.snapshot, made.carried);
    const { new: fresh } = made;
    if (fresh.edges?.length || fresh.faces?.length) {
      // What was made is picked. Faces that were picked before still limit the next cut; those made now are to be worked on.
      pickStore.setState({
        edges: fresh.edges ?? [],
        ...(fresh.faces?.length ? { faces: fresh.faces, limited: false } : {}),
      });
    }
    whenMade();
    partStore.setState({ part: made.part, flash });
    setTimeout(() => partStore.setState((now) => (now.flash === flash ? { flash: [] } : {})), FLASH_FOR_MS);
  });
}

/** The part as it is now, read anew: it was changed otherwise than by a step of its own. */
export const readAgain = (): Promise<void> => {
  const { part } = partStore.getState();
  return part ? readPart(part.id) : Promise.resolve();
};

/**
 * Undo, or do again, what is next in the project, whatever it is; presses that come quickly wait for one another and for a
 * cut that is being made. What was turned, the last of it last.
 */
export function moveInProject(way: 'undo' | 'redo', entry?: number): Promise<Entry[] | null> {
  return inTurn(async (part) => {
    const next = part.next[way];
    if (!next || (entry !== undefined && entry !== next.id)) return [];
    partStore.setState({ flash: [] });
    if (next.part === part.id) {
      const call = { params: { path: { part_id: part.id } }, body: { revision: part.revision } };
      const moved = await expectData(
        way === 'undo'
          ? client.POST('/api/parts/{part_id}/undo', call)
          : client.POST('/api/parts/{part_id}/redo', call),
      );
      if (onTheTable(part)) changeState(part.snapshot, moved.snapshot, null);
      if (onTheTable(part)) partStore.setState({ part: moved });
      return moved.turned;
    }
    return turnEntry(part.project, way, next.id);
  });
}

/** Undo an entry, or do it again, if it is next; asked for twice it is done once. */
export async function turnEntry(project: number, way: 'undo' | 'redo', entry: number): Promise<Entry[]> {
  const call = { params: { path: { project_id: project } }, body: { entry } };
  const { turned } = await expectData(
    way === 'undo'
      ? client.POST('/api/projects/{project_id}/undo', call)
      : client.POST('/api/projects/{project_id}/redo', call),
  );
  return turned;
}

/** Go back or forward along the steps of the part; presses that come quickly wait for one another. */
export async function moveAlongSteps(way: 'undo' | 'redo'): Promise<void> {
  const asked = partStore.getState().part;
  try {
    await inTurn(async (part) => {
      if (!(way === 'undo' ? part.can_undo : part.can_redo)) return;
      partStore.setState({ flash: [] });
      const call = { params: { path: { part_id: part.id } }, body: { revision: part.revision } };
      const moved = await expectData(
        way === 'undo'
          ? client.POST('/api/parts/{part_id}/undo', call)
          : client.POST('/api/parts/{part_id}/redo', call),
      );
      if (!onTheTable(part)) return;
      changeState(part.snapshot, moved.snapshot, null);
      partStore.setState({ part: moved });
      projectsChanged();
    });
  } catch (error) {
    if (asked && onTheTable(asked)) meet(error);
  }
}

/** Go back or forward along the steps until so many are applied. */
export async function goToStep(applied: number): Promise<void> {
  const { part } = partStore.getState();
  const now = part?.steps.filter((step) => step.applied).length ?? 0;
  const way = applied < now ? 'undo' : 'redo';
  await Promise.all(Array.from({ length: Math.abs(applied - now) }, () => moveAlongSteps(way)));
}
