/** New outlines: usual shapes by their sizes, letters, drawn ones, picked edges, SVG files. */

import { type ReactNode, useState } from 'react';
import { useStore } from 'zustand';
import { LIMITS } from '../api/limits';
import { partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { Button } from '../ui/Button';
import { Chip } from '../ui/Chip';
import { FileButton } from '../ui/FileButton';
import { inRange, LENGTH, LENGTH_OR_0, type Kind as NumberKind, numberIn, SHARE, wholeNumber } from '../ui/kinds';
import { NumberField } from '../ui/NumberField';
import { Row } from '../ui/Row';
import { NumberRow } from '../ui/rows';
import { type OutlineShape, type OutlineSource, useOutlineShapes } from './outlineQueries';

type Kind = OutlineShape['shape'] | 'letters' | 'file';

const WORDS: Record<string, string> = {
  width: 'width',
  height: 'height',
  corner: 'radius of the corners',
  diameter: 'diameter',
  sides: 'sides',
  length: 'length over all',
  points: 'points',
  inner: 'inner points at',
};

interface Props {
  add: (source: OutlineSource, name?: string) => void;
  bringIn: (file: File, tolerance: number) => void;
}

export function AddOutline({ add, bringIn }: Props) {
  const shapes = useOutlineShapes();
  const [kind, setKind] = useState<Kind | null>(null);
  const [changed, setChanged] = useState<Record<string, OutlineShape>>({});
  const part = useStore(partStore, (s) => s.part);
  const edges = useStore(pickStore, (s) => s.edges);
  const shape = kind ? (changed[kind] ?? shapes.find((one) => one.shape === kind)) : undefined;
  const draw = () =>
    add({
      by: 'drawn',
      drawn: {
        curves: [{ nodes: [node(-10), node(10)], closed: false }],
        pieces: 6,
      },
    });
  return (
    <div className="mt-3">
      <h3 className="mb-1 text-[13px] text-soft">make a new one</h3>
      <div className="flex flex-wrap gap-1.5">
        {shapes.map((one) => (
          <Chip key={one.shape} on={kind === one.shape} onClick={() => setKind(kind === one.shape ? null : one.shape)}>
            {one.shape}
          </Chip>
        ))}
        <Chip on={kind === 'letters'} onClick={() => setKind(kind === 'letters' ? null : 'letters')}>
          letters
        </Chip>
        <Chip onClick={draw}>drawn</Chip>
        <Chip
          disabled={edges.length === 0 || !part}
          onClick={() => part && add({ by: 'edges', part: part.id, revision: part.revision, edges })}
        >
          picked edges
        </Chip>
        <Chip on={kind === 'file'} onClick={() => setKind(kind === 'file' ? null : 'file')}>
          SVG file
        </Chip>
      </div>
      {shape && (
        <Form onAdd={() => add({ by: 'shape', shape })}>
          {Object.entries(shape)
            .filter(([key]) => key !== 'shape')
            .map(([key, value]) => (
              <Row key={`${shape.shape} ${key}`} name={WORDS[key] ?? key}>
                <NumberField
                  label={WORDS[key] ?? key}
                  testId={`outline-${key}`}
                  value={Number(value)}
                  kind={kindOf(key)}
                  onSettle={(next) =>
                    setChanged({ ...changed, [shape.shape]: { ...shape, [key]: next } as OutlineShape })
                  }
                />
              </Row>
            ))}
        </Form>
      )}
      {kind === 'letters' && <Letters add={add} />}
      {kind === 'file' && <SvgFile bringIn={bringIn} />}
    </div>
  );
}

const node = (x: number) => ({ at: [x, 0] as [number, number], off: 0, corner: 0, bow: 0 });

function kindOf(key: string): NumberKind {
  if (key === 'sides') return wholeNumber(LIMITS.PolygonOutline.sides);
  if (key === 'points') return wholeNumber(LIMITS.StarOutline.points);
  if (key === 'inner') return { ...inRange(SHARE, LIMITS.StarOutline.inner), step: 0.05 };
  return key === 'corner' ? LENGTH_OR_0 : LENGTH;
}

function Letters({ add }: Pick<Props, 'add'>) {
  const [words, setWords] = useState('SL-7');
  const [height, setHeight] = useState(16);
  return (
    <Form disabled={words.trim() === ''} onAdd={() => add({ by: 'letters', words, height })}>
      <label className="flex items-center justify-between gap-3">
        <span className="text-soft">letters</span>
        <input
          data-testid="outline-words"
          value={words}
          maxLength={200}
          onChange={(event) => setWords(event.currentTarget.value)}
          className="stitched w-[150px] bg-transparent text-right font-semibold"
        />
      </label>
      <NumberRow
        name="height of capitals"
        label="Height of the capitals"
        testId="outline-height"
        value={height}
        kind={LENGTH}
        onSettle={setHeight}
      />
    </Form>
  );
}

/** How closely curves are followed is said first; the points it takes stand beside the outline afterwards. */
function SvgFile({ bringIn }: Pick<Props, 'bringIn'>) {
  const [tolerance, setTolerance] = useState(0.05);
  return (
    <div className="mt-2">
      <NumberRow
        name="curves followed within"
        label="How closely curves are followed"
        testId="outline-tolerance"
        value={tolerance}
        kind={numberIn('mm', { least: 1e-4, most: 100 }, 0.01, 'Millimetres, such as 0.05')}
        onSettle={setTolerance}
      />
      <FileButton accept=".svg,image/svg+xml" onFiles={(files) => files[0] && bringIn(files[0], tolerance)}>
        {(open) => (
          <Button className="mt-2 w-full" onClick={open}>
            Choose an SVG file
          </Button>
        )}
      </FileButton>
    </div>
  );
}

function Form({ children, onAdd, disabled }: { children: ReactNode; onAdd: () => void; disabled?: boolean }) {
  return (
    <div className="mt-2">
      {children}
      <Button className="mt-2 w-full" look="primary" disabled={disabled ?? false} onClick={onAdd}>
        Add the outline
      </Button>
    </div>
  );
}
