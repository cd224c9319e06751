/** The patches of the part in hand: found, picked, hidden, named, joined. */
import { useQuery } from '@tanstack/react-query';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { client, expectData, type Schemas, type Step } from '../api/client';
import { planAgain } from '../hand/planning';
import { makeStep, meet, partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { askPick } from '../tools/reshape/askPick';
import { take } from '../tools/reshape/pick';
import { stageOf } from '../viewport/stageOf';

export type Patch = Schemas['PatchOut'];
export type Bound = NonNullable<Schemas['PatchParams']['up_to']>;

/** A file may bring thousands of groups: no more than these are listed and lettered. */
export const MOST_LISTED = 100;

interface PatchState {
  /** Letters stand on the part. */
  signs: boolean;
  /** The patches chosen in the list, by name. */
  chosen: string[];
}

export const patchStore = createStore<PatchState>(() => ({ signs: true, chosen: [] }));

/** The patches of the part as it stands. */
export function usePatches(): Patch[] {
  const id = useStore(partStore, (s) => s.part?.id ?? null);
  const revision = useStore(partStore, (s) => s.part?.revision ?? 0);
  const { data } = useQuery({
    queryKey: ['patches', id, revision],
    enabled: id !== null,
    queryFn: () =>
      expectData(
        client.GET('/api/parts/{part_id}/patches', {
          params: { path: { part_id: id ?? 0 }, query: { revision } },
        }),
      ),
  });
  return data ?? [];
}

/** The letter of a patch by its place in the list: A to Z, then AA, AB … */
export function letterOf(at: number): string {
  const last = String.fromCharCode(65 + (at % 26));
  return at < 26 ? last : letterOf(Math.floor(at / 26) - 1) + last;
}

async function facesOf(patch: Patch): Promise<number[] | null> {
  const found = await askPick({ by: 'patch', kind: 'faces', elements: [patch.first] });
  return found?.elements ?? null;
}

/** Pick a patch; whether that was still meant once its faces were found. */
export async function pickPatch(patch: Patch, add: boolean): Promise<boolean> {
  const faces = await facesOf(patch);
  if (faces) take({ kind: 'faces', elements: faces }, add ? 'add' : 'replace');
  return faces !== null;
}

/** Counts what was pointed at: an answer for an earlier patch tints nothing. */
let looks = 0;

/** Tint a patch while it is pointed at in the list. */
export async function lookAt(patch: Patch | null): Promise<void> {
  looks += 1;
  const look = looks;
  const faces = patch ? await facesOf(patch) : [];
  if (look === looks && faces) stageOf.current?.tint(faces);
}

/** Hide a patch, or bring it back. */
export async function toggleHidden(patch: Patch): Promise<void> {
  const { part } = partStore.getState();
  const faces = await facesOf(patch);
  if (!faces || !part) return;
  const all = Array.from({ length: part.faces }, (_, k) => k);
  const shown = new Set(pickStore.getState().shown ?? all);
  const hidden = !shown.has(patch.first);
  for (const face of faces) {
    if (hidden) shown.add(face);
    else shown.delete(face);
  }
  pickStore.setState({ shown: shown.size === part.faces ? null : all.filter((face) => shown.has(face)) });
  planAgain();
}

export const isHidden = (patch: Patch, shown: number[] | null): boolean =>
  shown !== null && !shown.includes(patch.first);

/** Do something to patches, as a step. */
export async function work(step: Step): Promise<void> {
  try {
    await makeStep(step);
    patchStore.setState({ chosen: [] });
  } catch (error) {
    meet(error);
  }
}

export function choose(name: string): void {
  const { chosen } = patchStore.getState();
  patchStore.setState({
    chosen: chosen.includes(name) ? chosen.filter((one) => one !== name) : [...chosen, name],
  });
}
