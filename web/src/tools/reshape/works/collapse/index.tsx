/** Let what is picked become one vertex. */
import { useStore } from 'zustand';
import type { Schemas } from '../../../../api/client';
import { pickStore } from '../../../../stores/pickStore';
import { SHARE } from '../../../../ui/kinds';
import { ChoiceRow, NumberRow, type Three } from '../../../../ui/rows';
import { edges } from '../../picked';
import { AnywayRow, PlaceRow } from '../../rows';
import { workOf } from '../../work';

type To = NonNullable<Schemas['CollapseParams']['to']>;

const GOALS: [To, string][] = [
  ['middle', 'its middle'],
  ['first', 'the first picked'],
  ['last', 'the last picked'],
];

export const WORK = workOf({
  name: 'collapse',
  words: 'collapse',
  command: 'Collapse the picked edges or vertices',
  also: ['merge to centre', 'merge vertices', 'merge at middle'],
  fits: (pick) => edges(pick) || pick.vertices.length > 1,
  needs: 'edges, or two vertices or more',
  beside: 10,
  tray: ['bring together', 0],
  lasting: { to: 'middle' as To, share: 0.5 },
  // A typed place goes before the one that is chosen.
  ofPick: { at: null as Three | null, anyway: false },
  step({ ends, vertices }, { to, at, share, anyway }) {
    if (ends.length > 0) return { tool: 'collapse', edges: ends.map((edge) => ({ edge, t: share })), to, anyway };
    const { inOrder } = pickStore.getState();
    const ordered = inOrder.length === vertices.length ? inOrder : vertices;
    return vertices.length > 1 ? { tool: 'collapse', vertices: ordered, at, to, anyway } : null;
  },
  Numbers,
});

function Numbers() {
  const { to, at, share, anyway } = WORK.use();
  const byEdges = useStore(pickStore, (s) => s.edges.length > 0);
  return (
    <>
      {byEdges ? (
        <NumberRow
          name="each at"
          label="Share of each edge it collapses to"
          testId="collapse-share"
          value={share}
          kind={SHARE}
          narrow
          onSettle={(value) => WORK.set({ share: value })}
        />
      ) : (
        <ChoiceRow
          name="to"
          label="Where the vertices go"
          testId="collapse-to"
          value={at ? 'typed' : to}
          options={[...GOALS, ['typed', 'a typed place']]}
          onChange={(next) => WORK.set(next === 'typed' ? { at: at ?? [0, 0, 0] } : { to: next, at: null })}
        />
      )}
      {!byEdges && at && (
        <PlaceRow name="place" of="The place" testId="collapse" at={at} onSettle={(next) => WORK.set({ at: next })} />
      )}
      <AnywayRow on={anyway} set={WORK.set} />
    </>
  );
}
