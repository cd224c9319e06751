/** The numbers of the work that is planned, and in a few words what it does. */
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { pickStore } from '../../stores/pickStore';
import { extraOf, planStore } from '../../stores/planStore';
import { Chip } from '../../ui/Chip';
import { ANGLE, COORDINATE, LENGTH, only, POSITION, SHARE, wholeNumber } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow } from '../../ui/rows';
import { BevelNumbers } from './BevelNumbers';
import { MoveNumbers } from './MoveNumbers';
import { useMeasures } from './measures';
import { RelaxNumbers } from './RelaxNumbers';
import { seeWay, setReshape } from './reshape';
import {
  type CircleTie,
  type CleanTo,
  type CollapseTo,
  type ExtrudeAlong,
  type FillBy,
  type LineUpTo,
  reshapeStore,
  type Work,
} from './reshapeStore';
import { ShardsNumbers } from './ShardsNumbers';
import { SlideNumbers } from './SlideNumbers';

const ALONG: [ExtrudeAlong, string][] = [
  ['normal', 'each along its normal'],
  ['mean', 'all along the mean normal'],
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
];
const GOALS: [CollapseTo, string][] = [
  ['middle', 'its middle'],
  ['first', 'the first picked'],
  ['last', 'the last picked'],
];
const FILLS: [FillBy, string][] = [
  ['one face', 'one face'],
  ['fan', 'triangles round a middle'],
  ['grid', 'a grid of quads'],
];
const TIES: [CircleTie, string][] = [
  ['spokes', 'spokes to every corner'],
  ['links', 'two links'],
  ['quads', 'quads all round'],
];
const CLEANED: [CleanTo, string][] = [
  ['one face', 'one face'],
  ['quads', 'quads'],
  ['triangles', 'triangles'],
];
const LINES: [LineUpTo, string][] = [
  ['straight', 'straight'],
  ['evenly', 'evenly along it'],
  ['both', 'straight and even'],
];
const TURN = {
  format: String,
  parse: (text: string) => (/^-?\d+$/.test(text.trim()) ? Number(text) : null),
  expected: 'A whole number, such as 1 or -2',
  step: 1,
};

export function WorkNumbers({ work }: { work: Work }) {
  const now = useStore(reshapeStore);
  switch (work) {
    case 'extrude':
      return (
        <>
          <NumberRow
            name="by"
            label="How far the faces go"
            testId="extrude-distance"
            value={now.distance}
            kind={POSITION}
            onSettle={(value) => setReshape({ distance: value })}
          />
          <ChoiceRow
            name="way"
            label="Which way they go"
            testId="extrude-along"
            value={now.along}
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
          value={now.width}
          kind={LENGTH}
          onSettle={(value) => setReshape({ width: value })}
        />
      );
    case 'bridge':
      return (
        <>
          <NumberRow
            name="turned on by"
            label="Vertices the second end is turned on by"
            testId="bridge-twist"
            value={now.twist}
            kind={TURN}
            narrow
            onSettle={(value) => setReshape({ twist: value })}
          />
          <NumberRow
            name="rows between"
            label="Rows of vertices between the ends"
            testId="bridge-steps"
            value={now.steps}
            kind={wholeNumber(0, 200)}
            narrow
            onSettle={(value) => setReshape({ steps: value })}
          />
        </>
      );
    case 'round':
      return <Circle />;
    case 'take-off':
      return <Said>The picked faces, or those at the picked edges or vertices, go and leave a hole.</Said>;
    case 'separate':
      return <Said>The picked faces become a part of their own.</Said>;
    case 'flip':
      return <Said>The picked faces look the other way.</Said>;
    case 'dissolve':
      return (
        <>
          <Said>What is picked goes; the faces beside it become one.</Said>
          <StraightWithin />
          <Tick name="keep vertices left straight" of="keepVertices" />
        </>
      );
    case 'join':
      return (
        <>
          <Said>The edges inside the pick go.</Said>
          <StraightWithin />
          <Tick name="keep vertices left straight" of="keepVertices" />
        </>
      );
    case 'clean':
      return (
        <>
          <Said>Inner vertices go; the border and the UVs stay.</Said>
          <ChoiceRow
            name="laid in"
            label="What the patch is laid in"
            testId="clean-to"
            value={now.cleanTo}
            options={CLEANED}
            onChange={(next) => setReshape({ cleanTo: next })}
          />
          <NumberRow
            name="flat within"
            label="How far off its plane a patch may lie, as a share of its size"
            testId="clean-within"
            value={now.flatWithin}
            kind={SHARE}
            onSettle={(value) => value > 0 && setReshape({ flatWithin: value })}
          />
          <Tick name="keep what lies off its plane" of="heights" />
        </>
      );
    case 'collapse':
      return <Collapse />;
    case 'weld':
      return (
        <>
          <NumberRow
            name="within"
            label="Distance within which vertices become one"
            testId="weld-within"
            value={now.within}
            kind={LENGTH}
            onSettle={(value) => setReshape({ within: value })}
          />
          <Pairs />
          <Anyway />
        </>
      );
    case 'weld-onto':
      return (
        <>
          <Said>The first vertex picked goes onto the second, which stays.</Said>
          <Anyway />
        </>
      );
    case 'shards':
      return <ShardsNumbers />;
    case 'thicken':
      return (
        <>
          <NumberRow
            name="by"
            label="How thick the part becomes: outwards, or inwards if negative"
            testId="thickness"
            value={now.thickness}
            kind={POSITION}
            onSettle={(value) => setReshape({ thickness: value })}
          />
          <Said>A second skin at that distance; its border becomes a wall.</Said>
        </>
      );
    case 'subdivide':
      return (
        <>
          <NumberRow
            name="rounds"
            label="How often every face is divided"
            testId="subdivide-rounds"
            value={now.rounds}
            kind={wholeNumber(1, 4)}
            narrow
            onSettle={(rounds) => setReshape({ rounds })}
          />
          <Said>Every face becomes quads on the smooth form; hard edges and borders keep their line.</Said>
        </>
      );
    case 'hard':
      return <Hardness />;
    case 'hard-by-angle':
      return (
        <>
          <NumberRow
            name="that bend by more than"
            label="How much the surface bends at the edges"
            testId="hard-bend"
            value={now.bend}
            kind={ANGLE}
            onSettle={(bend) => setReshape({ bend })}
          />
          <Hardness />
        </>
      );
    case 'move':
      return <MoveNumbers />;
    case 'slide':
      return <SlideNumbers />;
    case 'relax':
      return <RelaxNumbers />;
    case 'bevel':
      return <BevelNumbers />;
    case 'each-body':
      return <Said>What hangs together becomes a part of its own; the largest stays this one.</Said>;
    case 'split-apart':
      return <Said>The surface opens along the picked edges, or at the picked vertices.</Said>;
    case 'fill':
      return (
        <>
          <ChoiceRow
            name="with"
            label="What fills the border"
            testId="fill-by"
            value={now.fillBy}
            options={FILLS}
            onChange={(next) => setReshape({ fillBy: next })}
          />
          {now.fillBy === 'grid' && <Said>Four picked vertices of the border are its corners.</Said>}
        </>
      );
    case 'circle':
      return <InFace />;
    case 'quads':
      return <Quads />;
    case 'triangulate':
      return <Said>The picked faces, or all, are cut into triangles.</Said>;
    case 'join-triangles':
      return <Lean />;
    case 'divide':
      return (
        <Row name="columns × rows">
          <Count of="columns" /> × <Count of="rows" />
        </Row>
      );
    case 'flatten':
      return (
        <>
          <Axis none="the plane it lies nearest to" />
          <Anyway />
        </>
      );
    case 'line-up':
      return (
        <>
          <ChoiceRow
            name="made"
            label="How the chain is lined up"
            testId="line-up-to"
            value={now.lineUp}
            options={LINES}
            onChange={(next) => setReshape({ lineUp: next })}
          />
          <Anyway />
        </>
      );
    case 'facing':
      return <Said>The fewest faces are turned that make neighbours agree; closed shells look outwards.</Said>;
    case 'strays':
      return (
        <>
          <StraightWithin />
          <Tick name="on borders, too" of="borders" />
        </>
      );
  }
}

/** Up to which turn a vertex with two edges counts as straight, and goes. */
function StraightWithin() {
  const straight = useStore(reshapeStore, (s) => s.straight);
  return (
    <NumberRow
      name="straight within"
      label="Turn up to which a vertex counts as straight"
      testId="straight-within"
      value={straight}
      kind={ANGLE}
      narrow
      onSettle={(value) => setReshape({ straight: Math.max(0, value) })}
    />
  );
}

/** Where the pick goes. */
function Collapse() {
  const { to, at, share } = useStore(
    reshapeStore,
    useShallow(({ to, at, share }) => ({ to, at, share })),
  );
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
          onSettle={(value) => setReshape({ share: value })}
        />
      ) : (
        <ChoiceRow
          name="to"
          label="Where the vertices go"
          testId="collapse-to"
          value={at ? 'typed' : to}
          options={[...GOALS, ['typed', 'a typed place']]}
          onChange={(next) => setReshape(next === 'typed' ? { at: at ?? [0, 0, 0] } : { to: next, at: null })}
        />
      )}
      {!byEdges && at && (
        <Coordinates
          name="place"
          of="The place"
          testId="collapse"
          at={at}
          onSettle={(next) => setReshape({ at: next })}
        />
      )}
      <Anyway />
    </>
  );
}

/** The ways to turn faces into quads; of one face each way, seen while it is pointed at, and corners joined by hand. */
function Quads() {
  const { way, corners, joining, corner } = useStore(
    reshapeStore,
    useShallow(({ way, corners, joining, corner }) => ({ way, corners, joining, corner })),
  );
  const one = useStore(pickStore, (s) => s.faces.length === 1);
  const ways = useStore(planStore, (s) => extraOf(s.plan, 'quads')?.ways) ?? [];
  return (
    <>
      <Lean />
      {one && ways.length > 0 && <Said>Ways to cut it, each with its smallest scaled Jacobian.</Said>}
      {one && (
        <div className="my-1 flex flex-wrap items-center gap-1.5" data-testid="quad-ways">
          {ways.map(({ quads, jacobian }, k) => (
            <Chip
              // biome-ignore lint/suspicious/noArrayIndexKey: ways are told apart by their order
              key={k}
              on={way === k}
              testId={`way-${k}`}
              onLook={(at) => seeWay(at ? k : null)}
              onClick={() => setReshape({ way: k, seen: null })}
            >
              {`${quads} quads · ${jacobian.toFixed(2)}`}
            </Chip>
          ))}
        </div>
      )}
      {one && (
        <div className="my-1 flex flex-wrap items-center gap-1.5">
          <Chip on={joining} testId="join-corners" onClick={() => setReshape({ joining: !joining, corner: null })}>
            join corners by hand
          </Chip>
          {corners.length > 0 && (
            <Chip testId="forget-corners" onClick={() => setReshape({ corners: [], corner: null })}>
              {`forget ${countOf(corners.length, 'edge')}`}
            </Chip>
          )}
        </div>
      )}
      {joining && (
        <Said>{corner === null ? 'Click a corner of the face.' : 'Click the corner that it is joined to.'}</Said>
      )}
    </>
  );
}

/** How far faces that are joined may lean. */
function Lean() {
  const lean = useStore(reshapeStore, (s) => s.lean);
  return (
    <NumberRow
      name="join where they lean up to"
      label="Angle up to which faces side by side are joined"
      testId="lean"
      value={lean}
      kind={ANGLE}
      narrow
      onSettle={(value) => setReshape({ lean: Math.min(90, Math.max(0, value)) })}
    />
  );
}

/** A regular polygon inside the picked face. */
function InFace() {
  const circle = useStore(reshapeStore, (s) => s.circle);
  const set = (changed: Partial<typeof circle>): void => setReshape({ circle: { ...circle, ...changed } });
  return (
    <>
      <NumberRow
        name="across"
        label="Diameter of the circle"
        testId="circle-diameter"
        value={circle.diameter}
        kind={LENGTH}
        onSettle={(value) => set({ diameter: value })}
      />
      <NumberRow
        name="points"
        label="Points of the circle"
        testId="circle-count"
        value={circle.count}
        kind={wholeNumber(3, 512)}
        narrow
        onSettle={(value) => set({ count: value })}
      />
      <NumberRow
        name="turned by"
        label="Angle the circle is turned by"
        testId="circle-turn"
        value={circle.turn}
        kind={ANGLE}
        narrow
        onSettle={(value) => set({ turn: value })}
      />
      <ChoiceRow
        name="tied by"
        label="How the circle is tied to its face"
        testId="circle-tie"
        value={circle.tie}
        options={TIES}
        onChange={(next) => set({ tie: next })}
      />
    </>
  );
}

function Pairs() {
  const count = useStore(planStore, (s) => extraOf(s.plan, 'weld')?.count);
  if (count === undefined) return null;
  return <Row name="near each other">{countOf(count, 'pair')}</Row>;
}

function Count({ of }: { of: 'columns' | 'rows' }) {
  const value = useStore(reshapeStore, (s) => s[of]);
  return (
    <NumberField
      label={`How many ${of}`}
      testId={`divide-${of}`}
      value={value}
      kind={wholeNumber(1, 64)}
      narrow
      onSettle={(next) => setReshape({ [of]: next })}
    />
  );
}

/** What would break the surface is asked for in so many words. */
const Anyway = () => <Tick name="anyway, where it breaks the surface" of="anyway" />;

function Tick({ name, of }: { name: string; of: 'anyway' | 'keepVertices' | 'borders' | 'even' | 'heights' }) {
  const on = useStore(reshapeStore, (s) => s[of]);
  return (
    <label className="flex items-center justify-between leading-7">
      <span className="text-soft">{name}</span>
      <input
        type="checkbox"
        data-testid={`tick-${of}`}
        checked={on}
        className="h-4 w-4 accent-tide"
        onChange={(event) => setReshape({ [of]: event.currentTarget.checked })}
      />
    </label>
  );
}

function Hardness() {
  const hardness = useStore(reshapeStore, (s) => s.hardness);
  const strength = useStore(reshapeStore, (s) => s.creaseStrength);
  return (
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
        onChange={(next) => setReshape({ hardness: next })}
      />
      {hardness === 'crease' && (
        <NumberRow
          name="of the strength"
          label="Strength of the crease, between soft and hard"
          testId="crease-strength"
          value={strength}
          kind={only(SHARE, (value) => value > 0 && value < 1, 'More than 0 and less than 100 %')}
          narrow
          onSettle={(creaseStrength) => setReshape({ creaseStrength })}
        />
      )}
    </>
  );
}

function Axis({ none }: { none: string }) {
  const axis = useStore(reshapeStore, (s) => s.axis);
  return (
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
      onChange={(next) => setReshape({ axis: next === 'fit' ? null : next })}
    />
  );
}

function Coordinates({
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

/** The circle that fits the ring, each of its numbers to be typed over. */
function Circle() {
  const { diameter, centre } = useStore(
    reshapeStore,
    useShallow(({ diameter, centre }) => ({ diameter, centre })),
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
      <Coordinates
        name="centre"
        of="Centre of the circle"
        testId="round"
        at={at}
        onSettle={(next) => setReshape({ centre: next })}
      />
      <Axis none="as it fits" />
      <Tick name="at even angles" of="even" />
    </>
  );
}

const Said = ({ children }: { children: ReactNode }) => <p className="my-1 text-[13.5px] text-soft">{children}</p>;
