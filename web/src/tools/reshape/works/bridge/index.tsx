/** Join two groups of faces, or two borders, by a tube. */
import { LIMITS } from '../../../../api/limits';
import { wholeNumber } from '../../../../ui/kinds';
import { NumberRow } from '../../../../ui/rows';
import { faces, oneOf, ring } from '../../picked';
import { workOf } from '../../work';

const TURN = {
  format: String,
  parse: (text: string) => (/^-?\d+$/.test(text.trim()) ? Number(text) : null),
  expected: 'A whole number, such as 1 or -2',
  step: 1,
};

export const WORK = workOf({
  name: 'bridge',
  words: 'bridge',
  command: 'Bridge two groups of picked faces or boundary edges',
  also: ['tunnel', 'loft'],
  fits: (pick) => faces(pick) || ring(pick),
  needs: 'two groups of faces, or boundary edges at both ends',
  beside: 12,
  tray: ['bring together', 3],
  ofPick: { twist: 0, steps: 0 },
  step: ({ faces, ends }, { twist, steps }) =>
    oneOf([{ faces }, { edges: ends }], (picked) => ({ tool: 'bridge', twist, steps, ...picked })),
  Numbers,
});

function Numbers() {
  const { twist, steps } = WORK.use();
  return (
    <>
      <NumberRow
        name="turned on by"
        label="Vertices the second end is turned on by"
        testId="bridge-twist"
        value={twist}
        kind={TURN}
        narrow
        onSettle={(value) => WORK.set({ twist: value })}
      />
      <NumberRow
        name="rows between"
        label="Rows of vertices between the ends"
        testId="bridge-steps"
        value={steps}
        kind={wholeNumber(LIMITS.BridgeParams.steps)}
        narrow
        onSettle={(value) => WORK.set({ steps: value })}
      />
    </>
  );
}
