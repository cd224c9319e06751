/** What the next point would be, in numbers, and how the tool in hand works. */
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { keysOf } from '../commands';
import { STOP_STEPS } from '../options';
import { pickStore } from '../stores/pickStore';
import { type Lock, planStore, type Stops } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import { setLock, setMirror, setStops, setThrough, toggleHalf } from '../tools/knife/knife';
import { setKind, setWay } from '../tools/pick/pick';
import { Choice } from '../ui/Choice';
import { NumberField } from '../ui/NumberField';
import { formatAngle, formatLength, formatShare, formatStep, parseAngle, parseLength, parseShare } from '../ui/numbers';
import { Tip } from '../ui/Tip';

export function Readout() {
  const tool = useStore(toolStore, (s) => s.tool);
  return (
    <div
      data-testid="readout"
      className="absolute inset-x-4 bottom-3 flex min-h-9 flex-wrap items-center gap-x-5 gap-y-1 rounded border border-rule bg-card px-4 py-1.5 text-soft"
    >
      {tool === 'knife' ? <KnifeReadout /> : <PickReadout />}
    </div>
  );
}

function KnifeReadout() {
  const aim = useStore(planStore, (s) => s.aim);
  const through = useStore(planStore, (s) => s.through);
  const half = useStore(planStore, (s) => s.half);
  const free = useStore(planStore, (s) => s.free);
  return (
    <>
      <Figure name="share">
        <b className="inline-block min-w-11" data-testid="readout-share">
          {aim?.mark.share == null ? '–' : formatShare(aim.mark.share)}
        </b>
      </Figure>
      <Figure name="length">
        <b className="inline-block min-w-17" data-testid="readout-length">
          {aim?.length == null ? '–' : formatLength(aim.length)}
        </b>
      </Figure>
      <Figure name="stops">
        <StopChoice />
        {free && <span className="ml-1">(suspended)</span>}
      </Figure>
      <Figure name="lock">
        <LockChoice />
      </Figure>
      <Switch name="half" keys={keysOf('half')} words={half ? 'on' : 'off'} onChange={toggleHalf} />
      <Switch
        name="reach"
        keys={keysOf('reach')}
        words={through ? 'right through' : 'near side'}
        onChange={() => setThrough(!through)}
      />
      <Figure name="mirror">
        <MirrorChoice />
      </Figure>
    </>
  );
}

function PickReadout() {
  const { kind, way, radius, vertices, edges, faces } = useStore(pickStore);
  const count = `${faces.length} faces, ${edges.length} edges, ${vertices.length} vertices`;
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
            format={(value) => `${value} px`}
            parse={(text) => {
              const value = Number.parseFloat(text);
              return value >= 1 && value <= 200 ? Math.round(value) : null;
            }}
            expected="From 1 to 200 pixels"
            step={2}
            onSettle={(value) => pickStore.setState({ radius: value })}
          />
        </Figure>
      )}
      <span data-testid="pick-count">{count}</span>
      <span className="ml-auto">Shift adds · Ctrl takes off · right-drag orbits</span>
    </>
  );
}

function Figure({ name, children }: { name: string; children: ReactNode }) {
  return (
    <span className="whitespace-nowrap [&_b]:font-semibold [&_b]:text-ink">
      {name} <span className="ml-1">{children}</span>
    </span>
  );
}

function Switch({ name, words, keys, onChange }: { name: string; words: string; keys: string; onChange: () => void }) {
  return (
    <Figure name={name}>
      <Tip words={`Change ${name}`} keys={keys} side="top">
        <button type="button" data-testid={name} onClick={onChange} className="stitched font-semibold text-ink">
          {words}
        </button>
      </Tip>
    </Figure>
  );
}

const STOP_OPTIONS: [string, string][] = [
  ['off', 'off'],
  ...STOP_STEPS.map((step): [string, string] => [String(step), `every ${formatStep(step)}`]),
  ['length', 'by length'],
];

/** The usual steps, and the one that was typed if it is another. */
function stopOptions(stops: Stops): [string, string][] {
  const typed = stops && 'share' in stops ? String(stops.share) : 'off';
  if (STOP_OPTIONS.some(([option]) => option === typed)) return STOP_OPTIONS;
  return [...STOP_OPTIONS, [typed, `every ${formatStep(Number(typed))}`]];
}

function StopChoice() {
  const stops = useStore(planStore, (s) => s.stops);
  const value = stops === null ? 'off' : 'share' in stops ? String(stops.share) : 'length';
  const take = (next: string): void => {
    const chosen: Stops = next === 'off' ? null : next === 'length' ? { length: 5 } : { share: Number(next) };
    setStops(chosen);
  };
  return (
    <>
      <Choice label="Stops" testId="stops" value={value} options={stopOptions(stops)} onChange={take} />
      {stops && 'share' in stops && (
        <span className="ml-2">
          <NumberField
            label="Share between stops"
            testId="stop-share"
            value={stops.share}
            format={formatShare}
            parse={(text) => parseShare(text, null) || null}
            expected="A share of the edge, such as 12.5% or 1/6"
            step={0.05}
            narrow
            onSettle={(share) => setStops({ share })}
          />
        </span>
      )}
      {stops && 'length' in stops && (
        <span className="ml-2">
          <NumberField
            label="Length between stops"
            testId="stop-length"
            value={stops.length}
            format={formatLength}
            parse={parseLength}
            expected="A length, such as 5mm or 3cm/2"
            step={1}
            onSettle={(length) => setStops({ length })}
          />
        </span>
      )}
    </>
  );
}

const LOCK_WORDS: [Lock['kind'], string][] = [
  ['free', 'free'],
  ['angle', 'angle steps'],
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
  ['square', 'square to the edge'],
  ['along', 'along the edge'],
  ['grid', 'grid'],
];

function LockChoice() {
  const lock = useStore(planStore, (s) => s.lock);
  const angle = useStore(planStore, (s) => s.aim?.guide?.angle ?? null);
  const parallel = useStore(viewStore, (s) => s.view?.projection === 'parallel');
  return (
    <>
      <Choice
        label="Lock"
        testId="lock"
        value={lock.kind}
        options={LOCK_WORDS.filter(([kind]) => kind !== 'grid' || parallel)}
        onChange={(kind) => setLock({ kind })}
      />
      {lock.kind === 'angle' && (
        <span className="ml-2 inline-flex gap-2">
          <NumberField
            label="Steps of the angle"
            value={lock.degrees}
            format={formatAngle}
            parse={(text) => {
              const value = parseAngle(text);
              return value !== null && value > 0 && value <= 180 ? value : null;
            }}
            expected="From 0 to 180 degrees"
            step={5}
            narrow
            onSettle={(degrees) => setLock({ degrees })}
          />
          <Choice
            label="Measured against"
            testId="lock-against"
            value={lock.against}
            options={[
              ['view', 'from horizontal'],
              ['stretch', 'from the stretch before'],
              ['edge', 'from the edge'],
            ]}
            onChange={(against) => setLock({ against })}
          />
          {angle !== null && <b data-testid="readout-angle">{formatAngle(angle)}</b>}
        </span>
      )}
      {lock.kind === 'grid' && (
        <span className="ml-2">
          <NumberField
            label="Spacing of the grid"
            value={lock.spacing}
            format={formatLength}
            parse={parseLength}
            expected="A length, such as 5mm"
            step={1}
            onSettle={(spacing) => setLock({ spacing })}
          />
        </span>
      )}
    </>
  );
}

function MirrorChoice() {
  const mirror = useStore(planStore, (s) => s.mirror);
  return (
    <>
      <Choice
        label="Mirror"
        testId="mirror"
        value={mirror?.axis ?? 'off'}
        options={[
          ['off', 'off'],
          ['x', 'across x'],
          ['y', 'across y'],
          ['z', 'across z'],
        ]}
        onChange={(axis) => setMirror(axis === 'off' ? null : { axis, offset: mirror?.offset ?? 0 })}
      />
      {mirror && (
        <span className="ml-2">
          <NumberField
            label="Offset of the mirror"
            testId="mirror-offset"
            value={mirror.offset ?? 0}
            format={(value) => (value === 0 ? 'at 0' : formatLength(value))}
            parse={(text) => {
              const value = Number.parseFloat(text.replace(/^at/, ''));
              return Number.isFinite(value) ? value : null;
            }}
            expected="Where the mirror stands, such as 0 or -12.5"
            step={1}
            narrow
            onSettle={(offset) => setMirror({ ...mirror, offset })}
          />
        </span>
      )}
    </>
  );
}
