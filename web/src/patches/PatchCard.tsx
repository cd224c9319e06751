/** The patches of the part: each with its sign, name, faces and area; and how they are made, joined and taken apart. */

import { Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { FoldingCard } from '../plan/FoldingCard';
import { pickStore } from '../stores/pickStore';
import { begin } from '../tools/reshape/reshape';
import { Chip } from '../ui/Chip';
import { ANGLE, only } from '../ui/kinds';
import { countOf, formatArea } from '../ui/numbers';
import { ChoiceRow, NumberRow, TickRow } from '../ui/rows';
import { TextField } from '../ui/TextField';
import { PatchSwatch } from './PatchSwatch';
import {
  type Bound,
  choose,
  isHidden,
  lookAt,
  MOST_LISTED,
  type Patch,
  patchStore,
  pickPatch,
  toggleHidden,
  usePatches,
  work,
} from './patches';

type From = 'pick' | Bound;

const FROM: [From, string][] = [
  ['pick', 'the picked faces'],
  ['hard edges', 'all up to hard edges'],
  ['angle', 'all up to an angle'],
  ['connected', 'all that is connected'],
];
const BEND = only(ANGLE, (degrees) => degrees >= 0 && degrees <= 180, 'Degrees from 0 to 180');

export function PatchCard() {
  const patches = usePatches();
  const { chosen, signs } = useStore(patchStore);
  const joined = patches.filter((patch) => chosen.includes(patch.name));
  return (
    <FoldingCard
      title="Patches"
      aside={patches.length ? countOf(patches.length, 'patch', 'patches') : 'none'}
      testId="patches"
    >
      <ol>
        {patches.slice(0, MOST_LISTED).map((patch, k) => (
          <PatchRow key={patch.name} patch={patch} at={k} chosen={chosen.includes(patch.name)} />
        ))}
      </ol>
      {patches.length > MOST_LISTED && (
        <p className="my-1 text-[13px] text-soft">
          {patches.length - MOST_LISTED} more are not listed: pick a face, and its patch is found from it.
        </p>
      )}
      {patches.length > 0 && (
        <div className="mt-1.5 mb-2 flex flex-wrap gap-1.5">
          <Chip
            disabled={joined.length < 2}
            testId="patch-join"
            onClick={() =>
              void work({ tool: 'join patches', patches: joined.map(({ name }) => name), keep_line: false })
            }
          >
            join
          </Chip>
          <Chip disabled={joined.length !== 1} testId="patch-apart" onClick={() => void takeApart(joined[0])}>
            take apart
          </Chip>
          <Chip disabled={joined.length === 0} testId="patch-unname" onClick={() => void unname(joined)}>
            take the name away
          </Chip>
          <Chip disabled={joined.length !== 1} testId="patch-clean" onClick={() => void clean(joined[0])}>
            clean
          </Chip>
        </div>
      )}
      <Maker patches={patches} />
      {patches.length > 0 && (
        <TickRow
          name="letters on the part"
          tip="Every patch is marked on the part by a sign and its letters."
          on={signs}
          onChange={(next) => patchStore.setState({ signs: next })}
        />
      )}
    </FoldingCard>
  );
}

function PatchRow({ patch, at, chosen }: { patch: Patch; at: number; chosen: boolean }) {
  const hidden = useStore(pickStore, (s) => isHidden(patch, s.shown));
  return (
    <li
      data-testid="patch"
      data-name={patch.name}
      className="flex h-[28px] items-center border-rule border-b"
      onPointerEnter={() => void lookAt(patch)}
      onPointerLeave={() => void lookAt(null)}
    >
      <input
        type="checkbox"
        aria-label={`Choose patch ${patch.name}`}
        checked={chosen}
        className="mr-2 h-4 w-4 accent-tide"
        onChange={() => choose(patch.name)}
      />
      <button
        type="button"
        aria-label={`Pick patch ${patch.name}`}
        className="flex items-center"
        onClick={(event) => void pickPatch(patch, event.shiftKey)}
      >
        <PatchSwatch at={at} />
      </button>
      <span className="flex-1 truncate [&_input]:text-left">
        <TextField
          label={`Name of patch ${patch.name}`}
          testId="patch-name"
          value={patch.name}
          placeholder="a name"
          expected="A name of up to 120 letters"
          accepts={(text) => text.trim() !== '' && text.length <= 120}
          onSettle={(text) => void work({ tool: 'rename patch', patch: patch.name, name: text.trim() })}
        />
      </span>
      <span className="pl-1 text-[13px] text-soft tabular-nums">
        {patch.faces} · {formatArea(patch.area)}
      </span>
      <button
        type="button"
        aria-label={hidden ? `Show patch ${patch.name}` : `Hide patch ${patch.name}`}
        className="ml-1 flex h-6 w-6 items-center justify-center rounded text-soft hover:bg-rule"
        onClick={() => void toggleHidden(patch)}
      >
        {hidden ? <EyeOff size={14} /> : <Eye size={14} />}
      </button>
    </li>
  );
}

/** Make a patch of the pick and what it leads to; or, with nothing picked, one of each group. */
function Maker({ patches }: { patches: Patch[] }) {
  const faces = useStore(pickStore, (s) => s.faces);
  const [from, setFrom] = useState<From>('pick');
  const [degrees, setDegrees] = useState(30);
  const [name, setName] = useState('');
  const called = name || nextName(patches);
  const bound = from === 'pick' ? null : from;
  const each = faces.length === 0;
  const makeIt = (): void => {
    void work({
      tool: 'patch',
      faces: each ? null : faces,
      name: each ? name || 'Patch' : called,
      up_to: bound,
      degrees,
      each,
    });
    setName('');
  };
  return (
    <section className="border-rule border-t pt-1">
      <ChoiceRow
        name="made from"
        label="What a patch is made from"
        testId="patch-from"
        value={from}
        options={FROM}
        onChange={setFrom}
      />
      {from === 'angle' && (
        <NumberRow
          name="bending by more than"
          label="The angle that bounds a patch"
          testId="patch-angle"
          value={degrees}
          kind={BEND}
          narrow
          onSettle={setDegrees}
        />
      )}
      <p className="flex items-center justify-between gap-3 leading-7">
        <span className="text-soft">called</span>
        <TextField
          label="Name of the new patch"
          testId="patch-called"
          value={name}
          placeholder={each && bound ? 'Patch 1, 2 …' : called}
          expected="A name of up to 120 letters"
          accepts={(text) => text.length <= 120}
          onSettle={setName}
        />
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <Chip disabled={each && !bound} testId="patch-make" onClick={makeIt}>
          {each && bound ? 'one of each' : 'make a patch'}
        </Chip>
        {each && !bound && <span className="text-[13px] text-soft">Pick faces first.</span>}
      </div>
    </section>
  );
}

function nextName(patches: Patch[]): string {
  const taken = new Set(patches.map(({ name }) => name));
  let number = 1;
  while (taken.has(`Patch ${number}`)) number += 1;
  return `Patch ${number}`;
}

async function takeApart(patch: Patch | undefined): Promise<void> {
  if (!patch || !(await pickPatch(patch, false))) return;
  const { faces } = pickStore.getState();
  await work({ tool: 'patch', faces, name: patch.name, up_to: 'connected', degrees: 30, each: true });
}

async function unname(patches: Patch[]): Promise<void> {
  for (const [k, patch] of patches.entries()) if (!(await pickPatch(patch, k > 0))) return;
  const { faces } = pickStore.getState();
  await work({ tool: 'patch', faces, name: '', up_to: null, degrees: 30, each: false });
}

async function clean(patch: Patch | undefined): Promise<void> {
  if (!patch || !(await pickPatch(patch, false))) return;
  begin('clean', true);
}
