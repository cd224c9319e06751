/** Lay one vertex onto another. */
import { pickStore } from '../../../../stores/pickStore';
import { AnywayRow, Said } from '../../rows';
import { workOf } from '../../work';
import { WeldPairs } from '../weld/WeldPairs';

export const WORK = workOf({
  name: 'weld-onto',
  words: 'weld onto',
  command: 'Weld picked vertices onto the last',
  also: ['merge onto the last', 'snap vertex together'],
  fits: ({ vertices }) => vertices.length === 2,
  needs: 'two vertices, the one that stays last',
  tray: ['bring together', 2],
  ofPick: { anyway: false },
  step({ vertices }, { anyway }) {
    const [first, second] = pickStore.getState().inOrder;
    if (vertices.length !== 2 || first === undefined || second === undefined) return null;
    return { tool: 'weld', onto: [[first, second]], anyway };
  },
  Numbers,
  Marks: WeldPairs,
});

function Numbers() {
  const { anyway } = WORK.use();
  return (
    <>
      <Said>The first vertex picked goes onto the second, which stays.</Said>
      <AnywayRow on={anyway} set={WORK.set} />
    </>
  );
}
