/** The drawing in numbers: where it stands, what was read off it, and the way on to cuts and sizes. */

import { X } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { changeTool } from '../hand/planning';
import { FoldingCard } from '../plan/FoldingCard';
import { partStore } from '../stores/partStore';
import { viewStore } from '../stores/viewStore';
import { setGauge } from '../tools/gauge/gauge';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { FileButton } from '../ui/FileButton';
import { COORDINATE, LENGTH, POSITION } from '../ui/kinds';
import { NumberField } from '../ui/NumberField';
import { Row } from '../ui/Row';
import { ChoiceRow, NumberRow } from '../ui/rows';
import { SliderField } from '../ui/SliderField';
import { takeView } from '../viewport/stageOf';
import { type Drawing, useDrawings } from './drawingQueries';
import { type DrawingMode, drawingStore, setMode } from './drawingStore';

const MODES: [DrawingMode, string, string][] = [
  ['move', 'move', 'Drag the drawing to where it belongs.'],
  ['calibrate', 'calibrate', 'Click two points of it; then type how far they are apart.'],
  ['heights', 'heights', 'Click along its side: each click is a height.'],
  ['widths', 'widths', 'Click the left and the right end of a width.'],
];
const VIEWS = ['front', 'back', 'left', 'right', 'top', 'bottom'] as const;
/** A width belongs to the height it was read at, within this share of the size of the part. */
const SAME_HEIGHT = 0.01;

export function DrawingCard() {
  const { drawings, drawing, change, remove, bringIn } = useDrawings();
  const mode = useStore(drawingStore, (s) => s.mode);
  const name = useStore(viewStore, (s) => s.name);
  const add = (
    <FileButton accept=".png,.jpg,.jpeg,.svg" onFiles={(files) => files[0] && bringIn(files[0])}>
      {(ask) => (
        <button type="button" className="stitched text-[13.5px] text-soft hover:text-ink" onClick={ask}>
          Import a picture
        </button>
      )}
    </FileButton>
  );
  if (!drawing) {
    return (
      <FoldingCard title="Drawing" testId="drawing-card">
        <p className="mb-1 text-soft">A PNG, a JPEG or an SVG can stand behind the part in a parallel view.</p>
        {add}
      </FoldingCard>
    );
  }
  const { placement } = drawing;
  const place = (changed: Partial<Drawing['placement']>) =>
    change(drawing.id, { placement: { ...placement, ...changed } });
  return (
    <FoldingCard title="Drawing" aside={drawing.name} testId="drawing-card">
      {drawings.length > 1 && (
        <ChoiceRow
          name="which"
          label="Which drawing"
          value={String(drawing.id)}
          options={drawings.map((one) => [String(one.id), one.name] as const)}
          onChange={(id) => drawingStore.setState({ chosen: Number(id) })}
        />
      )}
      <Row name="stands in">
        <Choice
          label="The view it stands in"
          testId="drawing-view"
          value={placement.view ?? 'front'}
          options={VIEWS.map((view) => [view, `the ${view} view`] as const)}
          onChange={(view) => place({ view })}
        />
        {name !== placement.view && (
          <button type="button" className="ml-2 underline" onClick={() => takeView(placement.view ?? 'front')}>
            go there
          </button>
        )}
      </Row>
      <Row name="corner">
        {(['x', 'y'] as const).map((axis) => (
          <span key={axis} className="ml-2">
            {axis === 'x' ? 'right ' : 'up '}
            <NumberField
              label={`Corner of the drawing, ${axis === 'x' ? 'right' : 'up'}`}
              testId={`drawing-${axis}`}
              value={placement[axis] ?? 0}
              kind={COORDINATE}
              narrow
              onSettle={(value) => place({ [axis]: value })}
            />
          </span>
        ))}
      </Row>
      <NumberRow
        name="height"
        label="Height of the drawing"
        testId="drawing-height"
        value={placement.height ?? 100}
        kind={LENGTH}
        onSettle={(height) => place({ height })}
      />
      <p className="flex items-center gap-3 leading-7">
        <span className="text-soft">strength</span>
        <SliderField
          label="How strong it is drawn"
          value={placement.strength ?? 0.7}
          step={0.05}
          onChange={(strength) => place({ strength })}
        />
        <Toggle
          words={placement.before ? 'before the part' : 'behind the part'}
          onChange={() => place({ before: !placement.before })}
        />
        <Toggle words={placement.locked ? 'locked' : 'loose'} onChange={() => place({ locked: !placement.locked })} />
      </p>
      <div className="my-1 flex flex-wrap gap-1.5">
        {MODES.map(([which, words]) => (
          <button
            key={which}
            type="button"
            aria-pressed={mode === which}
            disabled={name !== placement.view || (which === 'move' && placement.locked)}
            onClick={() => setMode(which)}
            className={`rounded border px-2 py-0.5 text-[13.5px] disabled:opacity-45 ${mode === which ? 'border-tide bg-tide text-on-tide' : 'border-rule hover:border-soft'}`}
          >
            {words}
          </button>
        ))}
      </div>
      <p className="min-h-5 text-[13px] text-soft">{MODES.find(([which]) => which === mode)?.[2]}</p>
      <Calibration placement={placement} onPlace={place} />
      <Marks drawing={drawing} onChange={(marks) => change(drawing.id, { marks })} />
      <p className="mt-2 flex justify-between">
        {add}
        <button
          type="button"
          className="stitched text-[13.5px] text-soft hover:text-ink"
          onClick={() => remove(drawing.id)}
        >
          Take it away
        </button>
      </p>
    </FoldingCard>
  );
}

function Toggle({ words, onChange }: { words: string; onChange: () => void }) {
  return (
    <button type="button" className="stitched whitespace-nowrap text-[13.5px] font-semibold" onClick={onChange}>
      {words}
    </button>
  );
}

/** How far the two clicked points are apart: the drawing is sized to that about the first. */
function Calibration({
  placement,
  onPlace,
}: {
  placement: Drawing['placement'];
  onPlace: (changed: Partial<Drawing['placement']>) => void;
}) {
  const { mode, clicked } = useStore(
    drawingStore,
    useShallow(({ mode, clicked }) => ({ mode, clicked })),
  );
  const [first, second] = clicked;
  if (mode !== 'calibrate' || !first || !second) return null;
  const apart = Math.hypot(second[0] - first[0], second[1] - first[1]);
  const settle = (length: number): void => {
    const times = length / apart;
    onPlace({
      x: first[0] + ((placement.x ?? 0) - first[0]) * times,
      y: first[1] + ((placement.y ?? 0) - first[1]) * times,
      height: (placement.height ?? 100) * times,
    });
    setMode('look');
  };
  return (
    <div data-takes-typing="first">
      <NumberRow
        name="these are apart"
        label="How far the two points are apart"
        testId="drawing-apart"
        value={apart}
        kind={LENGTH}
        onSettle={settle}
      />
    </div>
  );
}

/** What was read off the drawing, to be typed over, and the way on. */
function Marks({ drawing, onChange }: { drawing: Drawing; onChange: (marks: Drawing['marks']) => void }) {
  const part = useStore(partStore, (s) => s.part);
  const [said, setSaid] = useState('');
  const { heights = [], widths = [] } = drawing.marks;
  if (heights.length + widths.length === 0) return null;
  const upright = drawing.placement.view !== 'top' && drawing.placement.view !== 'bottom';
  const goOn = (): void => {
    if (!part) return;
    const [low, high] = [part.low[1] ?? 0, part.high[1] ?? 0];
    const levels = [...new Set([...heights, ...widths.map(({ at }) => at)])].sort((a, b) => a - b);
    const rows = levels
      .map((level) => ({
        position: level - low,
        diameter: widths.find(({ at }) => Math.abs(at - level) <= SAME_HEIGHT * (high - low))?.width ?? null,
      }))
      .filter(({ position }) => position >= 0);
    if (rows.length === 0) {
      setSaid('None of these heights lies on the part.');
      return;
    }
    setMode('look');
    changeTool('gauge');
    setGauge({
      along: 'y',
      direction: null,
      start: 'low',
      measure: 'positions',
      widths: rows.map(({ position }) => position),
      diameters: rows.map(({ diameter }) => diameter),
    });
  };
  return (
    <>
      <ul data-testid="read-heights">
        {heights.map((height, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: marks are told apart by their order
          <li key={k} className="flex h-[25px] items-center border-rule border-b">
            <span className="w-14 text-soft">height</span>
            <NumberField
              label={`Height ${k + 1}`}
              testId={`height-${k}`}
              value={height}
              kind={POSITION}
              onSettle={(next) => onChange({ heights: heights.with(k, next), widths })}
            />
            <Away
              label={`Remove height ${k + 1}`}
              onClick={() => onChange({ heights: heights.toSpliced(k, 1), widths })}
            />
          </li>
        ))}
        {widths.map(({ at, width }, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: marks are told apart by their order
          <li key={k} className="flex h-[25px] items-center border-rule border-b">
            <span className="w-14 text-soft">width</span>
            <NumberField
              label={`Width ${k + 1}`}
              testId={`read-width-${k}`}
              value={width}
              kind={LENGTH}
              onSettle={(next) => onChange({ heights, widths: widths.with(k, { at, width: next }) })}
            />
            <span className="mr-1 ml-2 text-soft">at</span>
            <NumberField
              label={`Height of width ${k + 1}`}
              testId={`read-width-at-${k}`}
              value={at}
              kind={COORDINATE}
              narrow
              onSettle={(next) => onChange({ heights, widths: widths.with(k, { at: next, width }) })}
            />
            <Away
              label={`Remove width ${k + 1}`}
              onClick={() => onChange({ heights, widths: widths.toSpliced(k, 1) })}
            />
          </li>
        ))}
      </ul>
      {upright && (
        <Button className="mt-2 w-full" onClick={goOn}>
          {widths.length ? 'Profile: cuts and diameters' : 'Heights to the gauge'}
        </Button>
      )}
      {said && <p role="alert">{said}</p>}
    </>
  );
}

function Away({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button type="button" aria-label={label} className="ml-auto rounded hover:bg-rule" onClick={onClick}>
      <X size={14} />
    </button>
  );
}
