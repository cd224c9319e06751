/** What is picked, and how. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { pickStore } from '../../stores/pickStore';
import { Choice } from '../../ui/Choice';
import { Figure } from '../../ui/Figure';
import { numberIn } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf } from '../../ui/numbers';
import { setKind, setWay } from './pick';

export function PickReadout() {
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
            kind={numberIn('px', 1, 200, 2, 'From 1 to 200 pixels')}
            onSettle={(value) => pickStore.setState({ radius: Math.round(value) })}
          />
        </Figure>
      )}
      <span data-testid="pick-count">{count}</span>
      <span className="ml-auto">Shift adds · Ctrl takes off · right-drag orbits</span>
    </>
  );
}
