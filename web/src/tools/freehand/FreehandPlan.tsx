/** The strokes in words and numbers: what they do, and each of them. */

import { X } from 'lucide-react';
import { useStore } from 'zustand';
import { LIMITS } from '../../api/limits';
import type { Setting } from '../../hand/tool';
import { extraOf, planStore } from '../../stores/planStore';
import { ANGLE, CROWDING, inRange, numberIn, SHARE, wholeNumber } from '../../ui/kinds';
import { countOf } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow, SlideRow, TickRow } from '../../ui/rows';
import { removeStroke, setFreehand } from './freehand';
import {
  type At,
  type DrawnStroke,
  FREEHAND_DEFAULTS,
  type FreehandState,
  freehandStore,
  type Goes,
} from './freehandStore';

const MAKES_EDGES: Setting[] = ['finish', 'woven', 'hard above', 'follow'];

const DOES: [FreehandState['does'], string][] = [
  ['score', 'score: edges are added'],
  ['thin', 'thin: edges are removed'],
];
const KEEPS: [FreehandState['keeps'], string][] = [
  ['shape', 'its shape'],
  ['edges', 'only where edges are crossed'],
];
const AT: [At, string][] = [
  ['as crossed', 'where they are crossed'],
  ['share', 'at a share'],
  ['spread', 'several side by side'],
];
const ENDS: [FreehandState['openEnds'], string][] = [
  ['trim', 'trimmed to the last edge'],
  ['extend', 'extended to the boundary'],
  ['join', 'joined to a corner'],
];
const GOES: [Goes, string][] = [
  ['dissolve', 'dissolved'],
  ['crossing', 'collapsed where crossed'],
  ['middle', 'collapsed to their middles'],
  ['share', 'collapsed to a share'],
];
const PIXELS = numberIn('px', LIMITS.FreehandParams.within, 0.5);
const WHOLE_SHARE = inRange(SHARE, LIMITS.FreehandParams.share);

export function FreehandPlan() {
  const state = useStore(freehandStore);
  const { does, strokes } = state;
  return (
    <>
      <ChoiceRow
        name="strokes"
        label="What strokes do"
        testId="strokes-do"
        value={does}
        options={DOES}
        onChange={(next) => setFreehand({ does: next })}
      />
      {does === 'score' ? <ScoreRows state={state} /> : <ThinRows state={state} />}
      {strokes.length > 0 && (
        <ol className="my-1" data-testid="plan-items">
          {strokes.map((stroke, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: strokes are told apart by their order
            <StrokeRow key={k} at={k} stroke={stroke} />
          ))}
        </ol>
      )}
    </>
  );
}

/** How strokes are straightened. */
export function FreehandMore() {
  const state = useStore(freehandStore);
  return (
    <>
      <TickRow
        name="straight, end to end"
        tip="The stroke becomes a straight line between its ends."
        on={state.straight}
        onChange={(straight) => setFreehand({ straight })}
      />
      <SlideRow
        name="smoothed"
        label="Smoothing"
        testId="smooth"
        value={state.smooth}
        onChange={(smooth) => setFreehand({ smooth })}
      />
    </>
  );
}

function ScoreRows({ state }: { state: FreehandState }) {
  const { keeps, at, within, share, count, ratio, openEnds } = state;
  const told = useStore(planStore, (s) => extraOf(s.plan, 'freehand'));
  return (
    <>
      <ChoiceRow
        name="keeps"
        label="What a score keeps"
        testId="keeps"
        value={keeps}
        options={KEEPS}
        onChange={(next) => setFreehand({ keeps: next })}
      />
      {keeps === 'shape' ? (
        <>
          <NumberRow
            name="true to the stroke within"
            label="How far a score may be from the stroke"
            testId="within"
            value={within}
            kind={PIXELS}
            narrow
            onSettle={(next) => setFreehand({ within: next })}
          />
          <ChoiceRow
            name="open ends"
            label="Open ends"
            testId="open-ends"
            value={openEnds}
            options={ENDS}
            onChange={(next) => setFreehand({ openEnds: next })}
          />
        </>
      ) : (
        <>
          <ChoiceRow
            name="on the edges"
            label="Where on the edges"
            testId="at-edges"
            value={at}
            options={AT}
            onChange={(next) => setFreehand({ at: next })}
          />
          {at === 'share' && <FromTheLeft share={share} />}
          {at === 'spread' && (
            <>
              <NumberRow
                name="scores"
                label="How many scores"
                testId="score-count"
                value={count}
                kind={wholeNumber(LIMITS.Scores.count)}
                narrow
                onSettle={(next) => setFreehand({ count: next })}
              />
              <NumberRow
                name="crowding"
                label="How much wider each gap is than the one before"
                testId="score-ratio"
                value={ratio}
                kind={CROWDING}
                onSettle={(next) => setFreehand({ ratio: next })}
              />
            </>
          )}
        </>
      )}
      {told && (
        <Row name="told by">
          <span data-testid="told-by">
            {countOf(told.points, 'point')} of {told.drawn}
            {told.closed > 0 && ' · closed'}
          </span>
        </Row>
      )}
    </>
  );
}

function ThinRows({ state }: { state: FreehandState }) {
  const { goes, share, loops, keepVertices, straightWithin } = state;
  return (
    <>
      <ChoiceRow
        name="crossed edges"
        label="What becomes of crossed edges"
        testId="goes"
        value={goes}
        options={GOES}
        onChange={(next) => setFreehand({ goes: next })}
      />
      {goes === 'share' && <FromTheLeft share={share} />}
      <TickRow
        name={goes === 'dissolve' ? 'whole loops' : 'whole rings'}
        on={loops}
        onChange={(next) => setFreehand({ loops: next })}
      />
      {goes === 'dissolve' && (
        <>
          {!keepVertices && (
            <NumberRow
              name="straight within"
              label="Turn up to which a vertex counts as straight"
              testId="thin-straight"
              value={straightWithin}
              kind={ANGLE}
              narrow
              onSettle={(next) => setFreehand({ straightWithin: Math.max(0, next) })}
            />
          )}
          <TickRow
            name="keep vertices left straight"
            tip="Vertices that are left with two edges stay, even where these run on straight."
            on={keepVertices}
            onChange={(next) => setFreehand({ keepVertices: next })}
          />
        </>
      )}
    </>
  );
}

function FromTheLeft({ share }: { share: number }) {
  return (
    <NumberRow
      name="share, from the left of the stroke"
      label="Share of the crossed edges"
      testId="stroke-share"
      value={share}
      kind={WHOLE_SHARE}
      narrow
      onSettle={(next) => setFreehand({ share: next })}
    />
  );
}

function StrokeRow({ at, stroke }: { at: number; stroke: DrawnStroke }) {
  const ends = [stroke.start && 'begins', stroke.end && 'ends'].filter(Boolean).join(' and ');
  return (
    <li className="group flex h-[25px] items-center border-rule border-b">
      <span className="w-5 text-soft">{at + 1}</span>
      <span className="flex-1 truncate">
        {countOf(stroke.points.length, 'pixel')} {ends && <span className="text-soft">{ends} on the mesh</span>}
      </span>
      <button
        type="button"
        aria-label={`Remove stroke ${at + 1}`}
        onClick={() => removeStroke(at)}
        className="flex h-5 w-5 items-center justify-center rounded text-soft hover:bg-rule"
      >
        <X size={14} />
      </button>
    </li>
  );
}

/** What is planned, in a few words. */
export function useFreehandAside(): string | undefined {
  const { does, strokes } = useStore(freehandStore);
  return strokes.length ? `${does}, ${countOf(strokes.length, 'stroke')}` : undefined;
}

/** Thinning makes no edges that could follow, be hard, or leave faces to mend. */
export function useFreehandHeeded(): Setting[] {
  const scoring = useStore(freehandStore, (s) => s.does === 'score');
  return ['stops', 'lock', 'mirror', 'limit', ...(scoring ? MAKES_EDGES : [])];
}

/** The settings that are not at their defaults. */
export function useFreehandChanged(): string[] {
  const state = useStore(freehandStore);
  const scoring = state.does === 'score';
  return [
    !scoring && 'thin',
    scoring && state.keeps === 'edges' && 'only at edges',
    scoring &&
      state.keeps === 'edges' &&
      state.at !== FREEHAND_DEFAULTS.at &&
      { share: 'at a share', spread: 'several' }[state.at],
    scoring && state.keeps === 'shape' && state.within !== FREEHAND_DEFAULTS.within && 'tolerance',
    scoring && state.keeps === 'shape' && state.openEnds !== 'trim' && 'open ends',
    !scoring && state.goes !== 'dissolve' && 'collapsed',
    !scoring && state.loops && 'whole loops',
    !scoring && state.straightWithin !== FREEHAND_DEFAULTS.straightWithin && 'straight within',
    state.straight && 'straight',
    state.smooth > 0 && 'smoothed',
    state.through && 'right through',
  ].filter((words): words is string => typeof words === 'string');
}
