/** Begin a part with a starter shape: which one, how large, how divided, with a picture of just that. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { LIMITS } from '../api/limits';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { inRange, LENGTH, LENGTH_OR_0, type Range, wholeNumber } from '../ui/kinds';
import { NumberField } from '../ui/NumberField';
import { countOf } from '../ui/numbers';
import { Row } from '../ui/Row';
import { Sheet } from '../ui/Sheet';
import { pictureOfShape, readShapes, type Shape } from './shapeQueries';

interface Props {
  open: boolean;
  onClose: () => void;
  onShape: (shape: Shape) => void;
}

const WORDS: Record<string, string> = {
  width: 'width, along x',
  height: 'height, along y',
  depth: 'depth, along z',
  diameter: 'diameter',
  top_diameter: 'diameter at the top',
  thickness: 'thickness',
  along_width: 'divisions along the width',
  along_height: 'divisions along the height',
  along_depth: 'divisions along the depth',
  divisions: 'divisions of each side',
  sides: 'sides',
  rings: 'rings from pole to pole',
  around: 'divisions round',
  across: 'divisions across',
  ends: 'ends',
};
const NAMES: Record<Shape['shape'], string> = {
  box: 'Box',
  cylinder: 'Cylinder',
  cone: 'Cone',
  prism: 'Prism',
  sphere: 'Sphere, by rings',
  ball: 'Sphere, by a box',
  torus: 'Torus',
  sheet: 'Sheet',
};
const RANGES: Record<Shape['shape'], Record<string, Range>> = {
  box: LIMITS.BoxShape,
  cylinder: LIMITS.CylinderShape,
  cone: LIMITS.ConeShape,
  prism: LIMITS.PrismShape,
  sphere: LIMITS.SphereShape,
  ball: LIMITS.BallShape,
  torus: LIMITS.TorusShape,
  sheet: LIMITS.SheetShape,
};
const LENGTHS = new Set(['width', 'height', 'depth', 'diameter', 'top_diameter', 'thickness']);

export function ShapeSheet({ open, onClose, onShape }: Props) {
  const { data: shapes } = useQuery({ queryKey: ['shapes'], queryFn: readShapes, staleTime: Number.POSITIVE_INFINITY });
  const [changed, setChanged] = useState<Record<string, Shape>>({});
  const [name, setName] = useState<Shape['shape']>('box');
  const shape = changed[name] ?? shapes?.find((one) => one.shape === name);
  const look = useQuery({
    queryKey: ['shape', shape],
    queryFn: () => pictureOfShape(shape as Shape),
    enabled: open && shape !== undefined,
    placeholderData: (before) => before,
    retry: false,
  });
  const set = (key: string, value: number | string): void =>
    setChanged({ ...changed, [name]: { ...shape, [key]: value } as Shape });
  return (
    <Sheet title="Begin with a shape" open={open} onClose={onClose} wide>
      <div className="grid grid-cols-[150px_1fr] gap-5" data-testid="shapes">
        <ul className="flex flex-col gap-1">
          {shapes?.map((one) => (
            <li key={one.shape}>
              <button
                type="button"
                aria-pressed={one.shape === name}
                onClick={() => setName(one.shape)}
                className={`w-full rounded px-2.5 py-1 text-left ${one.shape === name ? 'bg-rule/60 font-semibold' : 'text-soft hover:text-ink'}`}
              >
                {NAMES[one.shape]}
              </button>
            </li>
          ))}
        </ul>
        <div>
          <div className="drafting mb-2 flex h-[190px] items-center justify-center rounded border border-rule">
            {look.error ? (
              <p role="alert" className="px-4 text-center text-[13.5px]">
                {look.error.message}
              </p>
            ) : (
              look.data && (
                <img src={look.data.picture} alt="" data-testid="shape-picture" className="h-full object-contain" />
              )
            )}
          </div>
          {shape &&
            Object.entries(shape)
              .filter(([key]) => key !== 'shape')
              .map(([key, value]) => (
                <Row key={`${name} ${key}`} name={WORDS[key] ?? key}>
                  {typeof value === 'number' ? (
                    <SizeField
                      name={key}
                      value={value}
                      limits={RANGES[name][key]}
                      onSettle={(next) => set(key, next)}
                    />
                  ) : (
                    <Choice
                      label={WORDS[key] ?? key}
                      value={String(value)}
                      options={[
                        ['n-gon', 'one n-gon each'],
                        ['fan', 'fans of triangles'],
                      ]}
                      onChange={(next) => set(key, next)}
                    />
                  )}
                </Row>
              ))}
          <div className="mt-4 flex items-center justify-between">
            <span className="text-[13.5px] text-soft" data-testid="shape-faces">
              {look.data && !look.error ? countOf(look.data.faces, 'face') : ''}
            </span>
            <span className="flex gap-2">
              <Button onClick={onClose}>Cancel</Button>
              <Button look="primary" disabled={!shape || look.isError} onClick={() => shape && onShape(shape)}>
                Make the part
              </Button>
            </span>
          </div>
        </div>
      </div>
    </Sheet>
  );
}

interface SizeProps {
  name: string;
  value: number;
  limits: Range | undefined;
  onSettle: (value: number) => void;
}

function SizeField({ name, value, limits, onSettle }: SizeProps) {
  const { least = 1, most = Number.MAX_SAFE_INTEGER } = limits ?? {};
  const length = inRange(name === 'top_diameter' ? LENGTH_OR_0 : LENGTH, { most });
  const kind = LENGTHS.has(name) ? length : wholeNumber({ least, most });
  return (
    <NumberField label={WORDS[name] ?? name} testId={`shape-${name}`} value={value} kind={kind} onSettle={onSettle} />
  );
}
