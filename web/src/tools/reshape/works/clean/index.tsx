/** Lay a patch anew: its border stays, its inner vertices go. */

import type { Schemas } from '../../../../api/client';
import { LIMITS } from '../../../../api/limits';
import { inRange, SHARE } from '../../../../ui/kinds';
import { ChoiceRow, NumberRow, TickRow } from '../../../../ui/rows';
import { faces, some } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

type To = NonNullable<Schemas['CleanPatchParams']['to']>;

const CLEANED: [To, string][] = [
  ['one face', 'one face'],
  ['quads', 'quads'],
  ['triangles', 'triangles'],
];

export const WORK = workOf({
  name: 'clean',
  words: 'clean a patch',
  command: 'Clean the picked patch: fewer edges, same shape',
  also: ['simplify', 'reduce', 'decimate'],
  fits: faces,
  needs: 'faces',
  tray: ['take away or open', 5],
  // What counts as flat is a share of the patch's size; what lies off its plane may stay.
  lasting: { to: 'one face' as To, heights: false, within: LIMITS.CleanPatchParams.within.first as number },
  step: ({ faces }, { to, heights, within }) =>
    some(faces) && { tool: 'clean patch', faces, to, heights: heights ? 'keep' : 'refuse', within },
  Numbers,
});

function Numbers() {
  const { to, heights, within } = WORK.use();
  return (
    <>
      <Said>Inner vertices go; the boundary and the UVs stay.</Said>
      <ChoiceRow
        name="laid in"
        label="What the patch is laid in"
        testId="clean-to"
        value={to}
        options={CLEANED}
        onChange={(next) => WORK.set({ to: next })}
      />
      <NumberRow
        name="flat within"
        label="How far off its plane a patch may lie, as a share of its size"
        testId="clean-within"
        value={within}
        kind={inRange(SHARE, LIMITS.CleanPatchParams.within)}
        onSettle={(value) => WORK.set({ within: value })}
      />
      <TickRow
        name="keep what lies off its plane"
        tip="Inner vertices that stand off the plane of the patch stay, so that its form does."
        testId="tick-heights"
        on={heights}
        onChange={(on) => WORK.set({ heights: on })}
      />
    </>
  );
}
