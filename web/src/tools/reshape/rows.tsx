/** Rows that several works have among their numbers. */

import type { ReactNode } from 'react';
import { LIMITS } from '../../api/limits';
import { ANGLE, COORDINATE, inRange, type Range, SHARE } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow, TickRow } from '../../ui/rows';
import type { Axis } from './picked';

/** What a work does, in a few words. */
export const Said = ({ children }: { children: ReactNode }) => (
  <p className="my-1 text-[13.5px] text-soft">{children}</p>
);

/** What would break the surface is asked for in so many words. */
export const AnywayRow = ({ on, set }: { on: boolean; set: (changed: { anyway: boolean }) => void }) => (
  <TickRow
    name="anyway, where it breaks the surface"
    tip="It is made even where faces fold or the surface tears; the places are told."
    testId="tick-anyway"
    on={on}
    onChange={(anyway) => set({ anyway })}
  />
);

/** Up to which turn a vertex with two edges counts as straight, and goes. */
export const StraightRow = ({ straight, set }: { straight: number; set: (changed: { straight: number }) => void }) => (
  <NumberRow
    name="straight within"
    label="Turn up to which a vertex counts as straight"
    testId="straight-within"
    value={straight}
    kind={inRange(ANGLE, LIMITS.DissolveParams.straight_within)}
    narrow
    onSettle={(value) => set({ straight: value })}
  />
);

export const KeepVerticesRow = ({ on, set }: { on: boolean; set: (changed: { keepVertices: boolean }) => void }) => (
  <TickRow
    name="keep vertices left straight"
    tip="Vertices that are left with two edges stay, even where these run on straight."
    testId="tick-keepVertices"
    on={on}
    onChange={(keepVertices) => set({ keepVertices })}
  />
);

/** How far faces that are joined may lean. */
export const LeanRow = ({
  lean,
  range,
  set,
}: {
  lean: number;
  range: Range;
  set: (changed: { lean: number }) => void;
}) => (
  <NumberRow
    name="join where they lean up to"
    label="Angle up to which faces side by side are joined"
    testId="lean"
    value={lean}
    kind={inRange(ANGLE, range)}
    narrow
    onSettle={(value) => set({ lean: value })}
  />
);

export const AxisRow = ({
  axis,
  none,
  set,
}: {
  axis: Axis | null;
  none: string;
  set: (changed: { axis: Axis | null }) => void;
}) => (
  <ChoiceRow
    name="square to"
    label="What it is square to"
    testId="round-axis"
    value={axis ?? 'fit'}
    options={[
      ['fit', none],
      ['x', 'x'],
      ['y', 'y'],
      ['z', 'z'],
    ]}
    onChange={(next) => set({ axis: next === 'fit' ? null : next })}
  />
);

export interface Hardness {
  hardness: 'hard' | 'soft' | 'crease';
  strength: number;
}
export const HARD: Hardness = { hardness: 'hard', strength: LIMITS.HardEdgesParams.strength.first };

export const HardnessRows = ({ hardness, strength, set }: Hardness & { set: (changed: Partial<Hardness>) => void }) => (
  <>
    <ChoiceRow
      name="become"
      label="What the edges become"
      testId="hardness"
      value={hardness}
      options={[
        ['hard', 'hard'],
        ['soft', 'soft'],
        ['crease', 'a crease'],
      ]}
      onChange={(next) => set({ hardness: next })}
    />
    {hardness === 'crease' && (
      <NumberRow
        name="of the strength"
        label="Strength of the crease, between soft and hard"
        testId="crease-strength"
        value={strength}
        kind={inRange(SHARE, LIMITS.HardEdgesParams.strength)}
        narrow
        onSettle={(next) => set({ strength: next })}
      />
    )}
  </>
);

export function PlaceRow({
  name,
  of,
  testId,
  at,
  onSettle,
}: {
  name: string;
  of: string;
  testId: string;
  at: readonly number[];
  onSettle: (next: [number, number, number]) => void;
}) {
  return (
    <Row name={name}>
      {([0, 1, 2] as const).map((k) => (
        <span key={k} className="ml-1.5">
          <NumberField
            label={`${of} along ${'xyz'[k]}`}
            testId={`${testId}-${'xyz'[k]}`}
            value={at[k] ?? 0}
            kind={COORDINATE}
            narrow
            onSettle={(value) => onSettle([...at].toSpliced(k, 1, value) as [number, number, number])}
          />
        </span>
      ))}
    </Row>
  );
}
