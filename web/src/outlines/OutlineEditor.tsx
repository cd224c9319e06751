/** Work on one outline: its points on the sheet, and in numbers; changes to the whole of it. */

import { useState } from 'react';
import type { Schemas } from '../api/client';
import { LIMITS } from '../api/limits';
import { Button } from '../ui/Button';
import { Chip } from '../ui/Chip';
import { COORDINATE, LENGTH_OR_0, lengthOr, wholeNumber } from '../ui/kinds';
import { NumberField } from '../ui/NumberField';
import { countOf, formatLength } from '../ui/numbers';
import { Row } from '../ui/Row';
import { ChoiceRow, NumberRow } from '../ui/rows';
import { TextField } from '../ui/TextField';
import { DrawingSheet, type NodeAt } from './DrawingSheet';
import type { Outline } from './outlineQueries';

type Change = Partial<Schemas['OutlineChangeIn']>;
type Node = Schemas['Node'];
export type Lock = NonNullable<Schemas['NodeChange']['lock']>;

const LOCKS: [Lock, string][] = [
  ['free', 'free'],
  ['level', 'level'],
  ['plumb', 'plumb'],
  ['angle', 'in steps of 15°'],
];

interface Props {
  outline: Outline;
  onChange: (change: Change) => void;
  onClose: () => void;
}

export function OutlineEditor({ outline, onChange, onClose }: Props) {
  const [at, setAt] = useState<NodeAt | null>(null);
  const [step, setStep] = useState(1);
  const [lock, setLock] = useState<Lock>('free');
  const { drawn } = outline;
  const curve = at && drawn.curves[at.curve];
  const node = at && curve?.nodes[at.node];
  const put = (where: NodeAt, to: [number, number], more: { insert?: boolean; length?: number } = {}): void => {
    setAt(where);
    const { insert = false, length = null } = more;
    onChange({ change: { change: 'node', ...where, insert, to, step, lock, length } });
  };
  const setNode = (changed: Partial<Node>): void => {
    if (at) onChange({ drawn: withNode(drawn, at, changed) });
  };
  return (
    <div data-testid="outline-editor" data-points={outline.points}>
      <Row name="name">
        <TextField
          label="Name of the outline"
          testId="outline-name"
          value={outline.name}
          placeholder="a name"
          accepts={(text) => text.trim() !== ''}
          expected="A name"
          onSettle={(name) => onChange({ name })}
        />
      </Row>
      <DrawingSheet outline={outline} at={at} onPick={setAt} onPut={put} />
      <p className="my-1 text-[13px] text-soft">
        {formatLength(outline.width)} × {formatLength(outline.height)} · {countOf(outline.points, 'point')}
      </p>
      <NumberRow
        name="points settle on"
        label="Grid that points settle on"
        testId="outline-grid"
        value={step}
        kind={lengthOr('nothing')}
        onSettle={setStep}
      />
      <ChoiceRow
        name="held"
        label="How a moved point is held"
        testId="outline-lock"
        value={lock}
        options={LOCKS}
        onChange={setLock}
      />
      {at && node && curve && (
        <Numbers
          drawn={drawn}
          at={at}
          node={node}
          onNode={setNode}
          onLength={(length) => put(at, node.at as [number, number], { length })}
          onDrop={() => {
            setAt(null);
            onChange({ drawn: withoutNode(drawn, at) });
          }}
        />
      )}
      <Whole outline={outline} onChange={onChange} />
      <Button className="mt-3 w-full" onClick={onClose}>
        Back to all outlines
      </Button>
    </div>
  );
}

interface NumbersProps {
  drawn: Outline['drawn'];
  at: NodeAt;
  node: Node;
  onNode: (changed: Partial<Node>) => void;
  onLength: (length: number) => void;
  onDrop: () => void;
}

/** The picked point in numbers, and the stretch that follows it. */
function Numbers({ drawn, at, node, onNode, onLength, onDrop }: NumbersProps) {
  const curve = drawn.curves[at.curve];
  const count = curve?.nodes.length ?? 0;
  const before = curve?.nodes[(at.node + count - 1) % count];
  const fromBefore = before ? Math.hypot(node.at[0] - before.at[0], node.at[1] - before.at[1]) : 0;
  const number = (label: string, testId: string, value: number, onSettle: (value: number) => void) => (
    <NumberField label={label} testId={testId} value={value} kind={COORDINATE} narrow onSettle={onSettle} />
  );
  return (
    <div className="my-2 rounded border border-rule px-2 py-1" data-testid="outline-node">
      <Row name={`point ${at.node + 1}`}>
        {number('Across', 'node-x', node.at[0], (x) => onNode({ at: [x, node.at[1]] }))} ×{' '}
        {number('Up', 'node-y', node.at[1], (y) => onNode({ at: [node.at[0], y] }))}
      </Row>
      <Row name="from the point before">
        {number('Length from the point before', 'node-length', fromBefore, onLength)}
      </Row>
      <Row name="radius of the corner">
        {number('Radius of the corner', 'node-corner', node.corner ?? 0, (corner) => corner >= 0 && onNode({ corner }))}
      </Row>
      <Row name="the stretch after it bows">
        {number('Bow of the stretch', 'node-bow', node.bow ?? 0, (bow) => onNode({ bow }))}
      </Row>
      {count > 2 && (
        <button type="button" className="stitched text-[13.5px]" onClick={onDrop}>
          Take the point away
        </button>
      )}
    </div>
  );
}

/** What changes all of an outline. */
function Whole({ outline, onChange }: { outline: Outline; onChange: (change: Change) => void }) {
  const { drawn } = outline;
  const [columns, setColumns] = useState(2);
  const [gap, setGap] = useState(20);
  const [round, setRound] = useState(6);
  const [radius, setRadius] = useState(30);
  const closed = drawn.curves.every((curve) => curve.closed);
  const count = (
    label: string,
    testId: string,
    value: number,
    range: { least: number; most: number },
    onSettle: (value: number) => void,
  ) => <NumberField label={label} testId={testId} value={value} kind={wholeNumber(range)} narrow onSettle={onSettle} />;
  const length = (label: string, testId: string, value: number, onSettle: (value: number) => void) => (
    <NumberField label={label} testId={testId} value={value} kind={LENGTH_OR_0} onSettle={onSettle} />
  );
  return (
    <>
      <Row name="pieces of each curve">
        {count(
          'Straight pieces of each curve',
          'outline-pieces',
          drawn.pieces ?? 6,
          LIMITS.DrawnOutline.pieces,
          (pieces) => onChange({ drawn: { ...drawn, pieces } }),
        )}
      </Row>
      <Row name="all corners">
        {length('Radius of all corners', 'outline-corners', drawn.curves[0]?.nodes[0]?.corner ?? 0, (all) =>
          onChange({ change: { change: 'corners', radius: all } }),
        )}
      </Row>
      <div className="my-1.5 flex flex-wrap gap-1.5">
        <Chip
          onClick={() =>
            onChange({ drawn: { ...drawn, curves: drawn.curves.map((curve) => ({ ...curve, closed: !closed })) } })
          }
        >
          {closed ? 'open it' : 'close it'}
        </Chip>
        <Chip onClick={() => onChange({ change: { change: 'mirror', across: 'x' } })}>mirror left to right</Chip>
        <Chip onClick={() => onChange({ change: { change: 'mirror', across: 'y' } })}>top to bottom</Chip>
      </div>
      <Row name="in a row">
        {count('How many in a row', 'row-count', columns, LIMITS.RowsChange.columns, setColumns)} every{' '}
        {length('From one to the next', 'row-gap', gap, setGap)}
      </Row>
      <Chip onClick={() => onChange({ change: { change: 'rows', columns, rows: 1, across: gap, down: gap } })}>
        lay them in a row
      </Chip>
      <Row name="round a centre">
        {count('How many round the centre', 'round-count', round, LIMITS.RoundChange.count, setRound)} at{' '}
        {length('Radius they stand at', 'round-radius', radius, setRadius)}
      </Row>
      <Chip onClick={() => onChange({ change: { change: 'round', count: round, radius } })}>lay them round</Chip>
    </>
  );
}

type Drawn = Outline['drawn'];

function withNode(drawn: Drawn, { curve, node }: NodeAt, changed: Partial<Node>): Drawn {
  const curves = drawn.curves.map((one, c) =>
    c === curve ? { ...one, nodes: one.nodes.map((n, k) => (k === node ? { ...n, ...changed } : n)) } : one,
  );
  return { ...drawn, curves };
}

function withoutNode(drawn: Drawn, { curve, node }: NodeAt): Drawn {
  const curves = drawn.curves.map((one, c) =>
    c === curve ? { ...one, nodes: one.nodes.filter((_, k) => k !== node) } : one,
  );
  return { ...drawn, curves };
}
