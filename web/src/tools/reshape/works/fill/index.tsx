/** Close a border. */
import type { Schemas } from '../../../../api/client';
import { ChoiceRow } from '../../../../ui/rows';
import { always, some } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

type By = NonNullable<Schemas['FillParams']['by']>;

const FILLS: [By, string][] = [
  ['one face', 'one face'],
  ['fan', 'triangles round a middle'],
  ['grid', 'a grid of quads'],
];

export const WORK = workOf({
  name: 'fill',
  words: 'fill holes',
  command: 'Fill holes: the picked one, or all',
  also: ['cap hole', 'close hole', 'fill gap', 'patch hole', 'fill a border'],
  fits: always,
  needs: 'an edge of the hole, or nothing for all',
  tray: ['bring together', 4],
  lasting: { by: 'one face' as By },
  step({ ends, vertices }, { by }) {
    const [a, b, c, d] = vertices;
    const named = by === 'grid' && vertices.length === 4 && d !== undefined;
    return { tool: 'fill', edges: some(ends), by, corners: named ? [a as number, b as number, c as number, d] : null };
  },
  Numbers,
});

function Numbers() {
  const { by } = WORK.use();
  return (
    <>
      <ChoiceRow
        name="with"
        label="What fills the border"
        testId="fill-by"
        value={by}
        options={FILLS}
        onChange={(next) => WORK.set({ by: next })}
      />
      {by === 'grid' && <Said>Four picked vertices of the boundary are its corners.</Said>}
    </>
  );
}
