/** What is picked, and how. */

import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Schemas } from '../../api/client';
import { LIMITS } from '../../api/limits';
import { flowStore } from '../../stores/flowStore';
import { pickStore } from '../../stores/pickStore';
import { Choice } from '../../ui/Choice';
import { Figure } from '../../ui/Figure';
import { numberIn } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf, formatLength } from '../../ui/numbers';
import { setKind, setWay } from './pick';

type Line = Schemas['FlowLineOut'] | null;

/** How far a loop or a ring runs, and where it ends. */
function said(name: string, line: Line): ReactNode {
  if (!line) return null;
  const end = line.closed ? 'closes' : `ends ${line.ends.join(' and ')}`;
  return (
    <Figure name={name}>
      <b>{countOf(line.count, 'edge')}</b> · {formatLength(line.length)} · {end}{' '}
    </Figure>
  );
}

export function PickReadout() {
  const lines = useStore(flowStore, (s) => (s.on && (s.lines?.loop || s.lines?.ring) ? s.lines : null));
  const { kind, way, radius, vertices, edges, faces } = useStore(
    pickStore,
    useShallow(({ kind, way, radius, vertices, edges, faces }) => ({ kind, way, radius, vertices, edges, faces })),
  );
  const count = [
    countOf(faces.length, 'face'),
    countOf(edges.length, 'edge'),
    countOf(vertices.length, 'vertex', 'vertices'),
  ].join(', ');
  return (
    <>
      <Figure name="pick">
        <Choice
          label="What is picked"
          testId="pick-kind"
          value={kind}
          options={[
            ['faces', 'faces'],
            ['edges', 'edges'],
            ['vertices', 'vertices'],
          ]}
          onChange={setKind}
        />
      </Figure>
      <Figure name="by">
        <Choice
          label="How it is picked"
          testId="pick-way"
          value={way}
          options={[
            ['click', 'click'],
            ['rectangle', 'rectangle'],
            ['brush', 'brush'],
          ]}
          onChange={setWay}
        />
      </Figure>
      {way === 'brush' && (
        <Figure name="radius">
          <NumberField
            label="Radius of the brush in pixels"
            value={radius}
            kind={numberIn('px', { ...LIMITS.ByPointer.radius, least: 1 }, 2)}
            onSettle={(value) => pickStore.setState({ radius: Math.round(value) })}
          />
        </Figure>
      )}
      <span data-testid="pick-count">{count}</span>
      {lines ? (
        <span className="ml-auto" data-testid="flow-words">
          {said('loop', lines.loop)}
          {said('ring', lines.ring)}
        </span>
      ) : (
        <span className="ml-auto">Shift adds · Ctrl takes off · right-drag orbits</span>
      )}
    </>
  );
}
