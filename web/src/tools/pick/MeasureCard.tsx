/** What is picked, or the whole part, in numbers; a size that is typed over is planned, seen and made like a cut. */

import { Copy, X } from 'lucide-react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { FoldingCard } from '../../plan/FoldingCard';
import { PlanFoot } from '../../plan/PlanFoot';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { toast } from '../../stores/toastStore';
import { Button, IconButton } from '../../ui/Button';
import { COORDINATE, LENGTH } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { formatAngle, formatArea, formatLength } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow } from '../../ui/rows';
import { pickedEdgeDirection } from '../../viewport/pickedEdge';
import { type Measures, useMeasures } from '../reshape/measures';
import { reshapeStore } from '../reshape/reshapeStore';
import { setSize } from '../reshape/size';
import { type About, NO_SIZE, sizeStore, type Triple } from '../reshape/sizeStore';

const AXES = ['x', 'y', 'z'] as const;

export function MeasureCard() {
  const { vertices, edges, faces } = useStore(
    pickStore,
    useShallow(({ vertices, edges, faces }) => ({ vertices, edges, faces })),
  );
  const planned = useStore(planStore, (s) => s.planned);
  const working = useStore(reshapeStore, (s) => s.work !== null);
  const data = useMeasures();
  if (!data) return null;
  const whole = vertices.length + edges.length + faces.length === 0;
  return (
    <FoldingCard
      title="Measure"
      aside={
        <span className="inline-flex items-center gap-1">
          {whole ? 'the whole part' : 'the pick'}
          <IconButton label="Copy the measures" className="-my-2" onClick={() => void copy(data)}>
            <Copy size={14} />
          </IconButton>
        </span>
      }
      brief={inBrief(data)}
      testId="measure"
      planned={planned && !working}
    >
      <Extents data={data} />
      <Along data={data} oneEdge={edges.length === 1} />
      <Others data={data} />
      <Stays vertices={vertices.length} />
      <Move normal={data.normal} />
      {planned && !working && <PlanFoot />}
    </FoldingCard>
  );
}

/** The extents, to be read at a glance. */
const inBrief = ({ low, high }: Measures): string =>
  AXES.map((_, k) => formatLength((high[k] ?? 0) - (low[k] ?? 0)))
    .map((length, k) => (k < 2 ? length.replace(/ \S+$/, '') : length).replace(/\.?0+(?= |$)/, ''))
    .join(' × ');

/** The extents along the axes, and the diameter of a ring: what is typed over them is planned. */
function Extents({ data }: { data: Measures }) {
  const extent = useStore(sizeStore, (s) => s.extent);
  const diameter = useStore(sizeStore, (s) => s.diameter);
  return (
    <>
      {AXES.map((axis, k) => {
        const now = (data.high[k] ?? 0) - (data.low[k] ?? 0);
        return (
          <Row key={axis} name={`along ${axis}`}>
            <NumberField
              label={`Size along ${axis}`}
              testId={`size-${axis}`}
              value={extent[k] ?? now}
              kind={LENGTH}
              onSettle={(value) => setSize({ extent: extent.with(k, value) as Triple<number | null>, diameter: null })}
            />
            <span className="ml-2 inline-block w-[108px] text-right text-[13px] text-soft">
              {short(data.low[k])} to {short(data.high[k])}
            </span>
          </Row>
        );
      })}
      {data.ring && (
        <>
          <NumberRow
            name="ring, diameter"
            label="Diameter of the ring"
            testId="size-diameter"
            value={diameter ?? data.ring.diameter}
            kind={LENGTH}
            onSettle={(value) => setSize({ extent: NO_SIZE.extent, diameter: value })}
          />
          <Row name="out of round">{formatLength(data.ring.roundness)}</Row>
          <Row name="height of its centre">{formatLength(data.ring.height)}</Row>
        </>
      )}
    </>
  );
}

/** The extent along an edge that was picked once: it stays to measure other picks by. */
function Along({ data, oneEdge }: { data: Measures; oneEdge: boolean }) {
  return (
    <>
      {data.along && (
        <div data-measure="along the edge">
          <Row name="along the edge">
            {formatLength(data.along[1] - data.along[0])}
            <IconButton
              label="Stop measuring along the edge"
              className="-my-2"
              onClick={() => sizeStore.setState({ along: null })}
            >
              <X size={14} />
            </IconButton>
          </Row>
        </div>
      )}
      {oneEdge && (
        <Button
          look="quiet"
          data-testid="measure-along"
          onClick={() => sizeStore.setState({ along: pickedEdgeDirection() })}
        >
          Measure along this edge
        </Button>
      )}
    </>
  );
}

function Others({ data }: { data: Measures }) {
  const said: [string, string | null][] = [
    ['distance', data.distance === null ? null : formatLength(data.distance)],
    ['angle', data.angle === null ? null : formatAngle(data.angle)],
    ['length of the edges', data.length === null ? null : formatLength(data.length)],
    ['area of the faces', data.area === null ? null : formatArea(data.area)],
  ];
  return said.map(
    ([name, value]) =>
      value && (
        <div key={name} data-measure={name}>
          <Row name={name}>{value}</Row>
        </div>
      ),
  );
}

function Stays({ vertices }: { vertices: number }) {
  const about = useStore(sizeStore, (s) => s.about);
  const options: [About, string][] = [
    ['centre', 'its centre'],
    ['part', 'the centre of the part'],
    ['low', 'its low side'],
    ['high', 'its high side'],
  ];
  if (vertices > 0) options.push(['vertex', 'the first picked vertex']);
  return (
    <ChoiceRow
      name="what stays"
      label="What stays where it is"
      testId="size-about"
      value={about}
      options={options}
      onChange={(next) => setSize({ about: next })}
    />
  );
}

function Move({ normal }: { normal: Triple<number> | null }) {
  const move = useStore(sizeStore, (s) => s.move);
  return (
    <>
      <Row name="move">
        {AXES.map((axis, k) => (
          <span key={axis} className="ml-2">
            {axis}{' '}
            <NumberField
              label={`Move along ${axis}`}
              testId={`move-${axis}`}
              value={move[k] ?? 0}
              kind={COORDINATE}
              narrow
              onSettle={(value) => setSize({ move: move.with(k, value) as Triple<number> })}
            />
          </span>
        ))}
      </Row>
      {normal && (
        <Row name="along the normal">
          <NumberField
            label="Move along the normal"
            testId="move-normal"
            value={normal.reduce((sum, n, k) => sum + n * (move[k] ?? 0), 0)}
            kind={COORDINATE}
            onSettle={(value) => setSize({ move: normal.map((n) => n * value) as Triple<number> })}
          />
        </Row>
      )}
    </>
  );
}

const short = (value: number | undefined): string => formatLength(value ?? 0).replace(/\.?0*( \S+)?$/, '');

/** Every measure to the last digit, one on a line. */
async function copy(data: Measures): Promise<void> {
  const lines = AXES.map((axis, k) => `${axis}\t${(data.high[k] ?? 0) - (data.low[k] ?? 0)}`);
  if (data.ring) lines.push(`diameter\t${data.ring.diameter}`);
  if (data.along) lines.push(`along the edge\t${data.along[1] - data.along[0]}`);
  for (const name of ['distance', 'angle', 'length', 'area'] as const) {
    if (data[name] !== null) lines.push(`${name}\t${data[name]}`);
  }
  await navigator.clipboard.writeText(lines.join('\n'));
  toast({ title: 'The measures were copied' });
}
