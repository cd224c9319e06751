/** Take vertices out that no face needs. */
import { LIMITS } from '../../../../api/limits';
import { TickRow } from '../../../../ui/rows';
import { always, some } from '../../picked';
import { StraightRow } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'strays',
  words: 'stray vertices',
  command: 'Remove stray vertices',
  also: ['clean up', 'loose vertices', 'remove isolated vertices'],
  fits: always,
  needs: 'vertices, or nothing for all',
  tray: ['take away or open', 4],
  lasting: { straight: LIMITS.StraysParams.within.first as number, borders: false },
  step: ({ vertices }, { straight, borders }) => ({
    tool: 'strays',
    vertices: some(vertices),
    within: straight,
    isolated: true,
    borders,
  }),
  Numbers,
});

function Numbers() {
  const { straight, borders } = WORK.use();
  return (
    <>
      <StraightRow straight={straight} set={WORK.set} />
      <TickRow
        name="on borders, too"
        tip="Vertices with two edges on a boundary are removed, too, where it runs on straight."
        testId="tick-borders"
        on={borders}
        onChange={(on) => WORK.set({ borders: on })}
      />
    </>
  );
}
