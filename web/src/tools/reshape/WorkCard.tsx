/** What can be made of the pick next: chips, and the numbers of the one that is planned. */
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { PlanFoot } from '../../plan/PlanFoot';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { Card } from '../../ui/Card';
import { Chip } from '../../ui/Chip';
import { COORDINATE, LENGTH, POSITION } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow } from '../../ui/rows';
import { useMeasures } from './measures';
import { begin, setReshape } from './reshape';
import { type ExtrudeAlong, reshapeStore } from './reshapeStore';
import { offersFor } from './works';

const ALONG: [ExtrudeAlong, string][] = [
  ['normal', 'each along its normal'],
  ['mean', 'all along the mean normal'],
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
];

export function WorkCard() {
  const { faces, edges, vertices } = useStore(
    pickStore,
    useShallow(({ faces, edges, vertices }) => ({ faces, edges, vertices })),
  );
  const { work } = useStore(
    reshapeStore,
    useShallow(({ work }) => ({ work })),
  );
  const planned = useStore(planStore, (s) => s.planned);
  const offers = offersFor({ faces, edges, vertices });
  if (offers.length === 0) return null;
  return (
    <Card title="Work on it" testId="work">
      <div className="mb-2 flex flex-wrap gap-1.5">
        {offers.map(({ work: name, words }) => (
          <Chip key={name} on={work === name} testId={`work-${name}`} onClick={() => begin(name)}>
            {words}
          </Chip>
        ))}
      </div>
      {work && <Numbers />}
      {work && planned && <PlanFoot words="Make it so" />}
    </Card>
  );
}

function Numbers() {
  const { work, distance, along, width, twist } = useStore(
    reshapeStore,
    useShallow(({ work, distance, along, width, twist }) => ({ work, distance, along, width, twist })),
  );
  switch (work) {
    case 'extrude':
      return (
        <>
          <NumberRow
            name="by"
            label="How far the faces go"
            testId="extrude-distance"
            value={distance}
            kind={POSITION}
            onSettle={(value) => setReshape({ distance: value })}
          />
          <ChoiceRow
            name="way"
            label="Which way they go"
            testId="extrude-along"
            value={along}
            options={ALONG}
            onChange={(next) => setReshape({ along: next })}
          />
        </>
      );
    case 'inset':
      return (
        <NumberRow
          name="strip"
          label="Width of the strip"
          testId="inset-width"
          value={width}
          kind={LENGTH}
          onSettle={(value) => setReshape({ width: value })}
        />
      );
    case 'bridge':
      return (
        <NumberRow
          name="turned on by"
          label="Vertices the second end is turned on by"
          testId="bridge-twist"
          value={twist}
          kind={{
            format: String,
            parse: (text) => (/^-?\d+$/.test(text.trim()) ? Number(text) : null),
            expected: 'A whole number, such as 1 or -2',
            step: 1,
          }}
          narrow
          onSettle={(value) => setReshape({ twist: value })}
        />
      );
    case 'round':
      return <Circle />;
    case 'take-off':
      return <Said>The picked faces go and leave a hole.</Said>;
    case 'separate':
      return <Said>The picked faces become a part of their own.</Said>;
    case 'flip':
      return <Said>The picked faces look the other way.</Said>;
    case 'dissolve':
      return <Said>The picked edges go; the faces beside them become one.</Said>;
    case 'collapse':
      return <Said>What is picked shrinks to a point in its middle.</Said>;
    default:
      return <Said>The edges inside the pick go.</Said>;
  }
}

/** The circle that fits the ring, each of its numbers to be typed over. */
function Circle() {
  const { diameter, even, centre, axis } = useStore(
    reshapeStore,
    useShallow(({ diameter, even, centre, axis }) => ({ diameter, even, centre, axis })),
  );
  const ring = useMeasures()?.ring ?? null;
  const at = centre ?? ring?.centre ?? [0, 0, 0];
  return (
    <>
      <NumberRow
        name="diameter"
        label="Diameter of the circle"
        testId="round-diameter"
        value={diameter ?? ring?.diameter ?? 0}
        kind={LENGTH}
        onSettle={(value) => setReshape({ diameter: value })}
      />
      <Row name="centre">
        {([0, 1, 2] as const).map((k) => (
          <span key={k} className="ml-1.5">
            <NumberField
              label={`Centre of the circle along ${'xyz'[k]}`}
              testId={`round-${'xyz'[k]}`}
              value={at[k]}
              kind={COORDINATE}
              narrow
              onSettle={(value) => setReshape({ centre: at.toSpliced(k, 1, value) as [number, number, number] })}
            />
          </span>
        ))}
      </Row>
      <ChoiceRow
        name="square to"
        label="What the circle is square to"
        testId="round-axis"
        value={axis ?? 'fit'}
        options={[
          ['fit', 'as it fits'],
          ['x', 'x'],
          ['y', 'y'],
          ['z', 'z'],
        ]}
        onChange={(next) => setReshape({ axis: next === 'fit' ? null : next })}
      />
      <label className="flex items-center justify-between leading-7">
        <span className="text-soft">at even angles</span>
        <input
          type="checkbox"
          data-testid="round-even"
          checked={even}
          className="h-4 w-4 accent-tide"
          onChange={(event) => setReshape({ even: event.currentTarget.checked })}
        />
      </label>
    </>
  );
}

const Said = ({ children }: { children: ReactNode }) => <p className="my-1 text-[13.5px] text-soft">{children}</p>;
