/** The outline in the plan: which shape, where its sheet stands, how it comes onto the part, and what would help. */

import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { LIMITS } from '../../api/limits';
import { useOutlines } from '../../outlines/outlineQueries';
import { Thumbnail } from '../../outlines/Thumbnail';
import { drawerStore } from '../../stores/drawerStore';
import { pickStore } from '../../stores/pickStore';
import { extraOf, planStore } from '../../stores/planStore';
import { Choice } from '../../ui/Choice';
import { ANGLE, COORDINATE, LENGTH, lengthOr, PERCENT, POSITION, wholeNumber } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf, formatArea, formatLength, formatVolume } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow } from '../../ui/rows';
import { choose, setCopies, setFacing, setOutline, setSheet, standByNumbers } from './outline';
import { type Facing, OUTLINE_DEFAULTS, outlineStore } from './outlineStore';

const FACING: [Facing, string][] = [
  ['face', 'the face it stands on'],
  ['view', 'the view'],
  ['x', 'along x'],
  ['-x', 'against x'],
  ['y', 'along y'],
  ['-y', 'against y'],
  ['z', 'along z'],
  ['-z', 'against z'],
];

export function OutlinePlan() {
  const { outlines } = useOutlines();
  const { chosen, standing, facing, turn, scale } = useStore(
    outlineStore,
    useShallow(({ chosen, standing, facing, turn, scale }) => ({ chosen, standing, facing, turn, scale })),
  );
  const names = new Map(outlines.map((one) => [one.id, one.name]));
  const placed = standing?.placed;
  const lay = (chosen.length === 1 && outlines.find((one) => one.id === chosen[0])?.sheet) || null;
  const centre = placed?.centre ?? [0, 0, 0];
  return (
    <>
      <div className="my-1.5 flex flex-wrap gap-1.5" data-testid="outlines-in-hand">
        {outlines.map((one) => (
          <button
            key={one.id}
            type="button"
            aria-pressed={chosen.includes(one.id)}
            title={`${one.name}: with Shift, beside the others`}
            aria-label={one.name}
            onClick={(event) => choose(one.id, names, event.shiftKey)}
            className={`rounded border p-0.5 ${chosen.includes(one.id) ? 'border-ink bg-rule/60' : 'border-rule hover:border-soft'}`}
          >
            <Thumbnail outline={one} size={34} />
          </button>
        ))}
        <button
          type="button"
          data-testid="open-drawer"
          className="rounded border border-rule border-dashed px-2 text-[13.5px] hover:border-soft"
          onClick={() => drawerStore.setState({ open: true })}
        >
          drawer
        </button>
      </div>
      {chosen.length > 0 && (
        <>
          <ChoiceRow
            name="faces"
            label="What the sheet faces"
            testId="sheet-facing"
            value={facing}
            options={FACING}
            onChange={setFacing}
          />
          {placed ? (
            <Row name="at">
              {([0, 1, 2] as const).map((k) => (
                <span key={k} className="ml-1.5">
                  <NumberField
                    label={`Centre of the sheet along ${'xyz'[k]}`}
                    testId={`sheet-${'xyz'[k]}`}
                    value={centre[k]}
                    kind={COORDINATE}
                    narrow
                    onSettle={(value) =>
                      setSheet({ centre: centre.toSpliced(k, 1, value) as [number, number, number] })
                    }
                  />
                </span>
              ))}
            </Row>
          ) : (
            <p className="text-[13.5px]">
              <button
                type="button"
                data-testid="stand-at-origin"
                className="stitched text-soft"
                onClick={() => standByNumbers(lay)}
              >
                {lay ? 'Place it where it lay' : 'Place it by numbers'}
              </button>
            </p>
          )}
          <Row name="turned">
            <NumberField
              label="Turn of the sheet"
              testId="sheet-turn-field"
              value={placed?.turn ?? turn}
              kind={{ ...ANGLE, step: 15 }}
              narrow
              onSettle={(value) => setSheet({ turn: value })}
            />
            {' · sized '}
            <NumberField
              label="Size of the outline"
              testId="sheet-scale-field"
              value={placed?.scale ?? scale}
              kind={PERCENT}
              narrow
              onSettle={(value) => setSheet({ scale: value })}
            />
          </Row>
          <Taken />
          <Woven />
          {standing && <Landing />}
        </>
      )}
    </>
  );
}

/** How far off the sheet stands, how it comes onto the part and suits it, and how many there are. */
export function OutlineMore() {
  const { chosen, standing, weave } = useStore(
    outlineStore,
    useShallow(({ chosen, standing, weave }) => ({ chosen, standing, weave })),
  );
  const placed = standing?.placed;
  if (chosen.length === 0) return null;
  return (
    <>
      {placed && (
        <NumberRow
          name="stands before it by"
          label="How far the sheet stands before its centre"
          testId="sheet-lift"
          value={placed.lift ?? 0}
          kind={{ ...POSITION, step: 5 }}
          onSettle={(lift) => setSheet({ lift })}
        />
      )}
      <Onto />
      {!weave && <Fit />}
      <Many />
    </>
  );
}

function Onto() {
  const { along } = useStore(
    outlineStore,
    useShallow(({ along }) => ({ along })),
  );
  return (
    <ChoiceRow
      name="projected"
      label="How the outline comes onto the part"
      testId="outline-along"
      value={along}
      options={[
        ['sheet', 'square to its sheet'],
        ['view', 'along the view'],
      ]}
      onChange={(next) => setOutline({ along: next })}
    />
  );
}

/** What is done with what lies inside: left, taken out right through, or pushed in to a floor. */
function Taken() {
  const { takes, depth, floor } = useStore(
    outlineStore,
    useShallow(({ takes, depth, floor }) => ({ takes, depth, floor })),
  );
  return (
    <>
      <ChoiceRow
        name="what lies inside"
        label="What becomes of what lies inside the outline"
        testId="outline-takes"
        value={takes}
        options={[
          ['nothing', 'stays, and is picked'],
          ['hole', 'goes: a hole right through'],
          ['pocket', 'is pushed in: a pocket'],
        ]}
        onChange={(next) =>
          setOutline({
            takes: next,
            ...(next === 'nothing' ? {} : { through: next === 'hole', weave: null, settle: 0 }),
          })
        }
      />
      {takes === 'pocket' && (
        <>
          <NumberRow
            name="deep"
            label="How deep the pocket is"
            testId="pocket-depth"
            value={depth}
            kind={LENGTH}
            onSettle={(next) => setOutline({ depth: next })}
          />
          <ChoiceRow
            name="its floor"
            label="The floor of the pocket"
            testId="pocket-floor"
            value={floor}
            options={[
              ['as the surface', 'as the surface was'],
              ['flat', 'flat'],
            ]}
            onChange={(next) => setOutline({ floor: next })}
          />
        </>
      )}
    </>
  );
}

/** Whether a collar of quads ties it to its surroundings, and what it is filled with. */
function Woven() {
  const { weave, mostOff } = useStore(
    outlineStore,
    useShallow(({ weave, mostOff }) => ({ weave, mostOff })),
  );
  return (
    <>
      <ChoiceRow
        name="woven in"
        label="Whether the outline is woven into the quads round it"
        testId="weave"
        value={weave ?? 'off'}
        options={[
          ['off', 'no, cut as it falls'],
          ['rings', 'a ring of quads, a grid within'],
          ['grid', 'an even grid'],
          ['one face', 'one face inside'],
        ]}
        onChange={(next) => setOutline({ weave: next === 'off' ? null : next })}
      />
      {weave && (
        <Row name="surface moves by">
          <NumberField
            label="How far the surface may move"
            testId="most-off"
            value={mostOff ?? 0}
            kind={lengthOr('any length')}
            onSettle={(value) => setOutline({ mostOff: value || null })}
          />
        </Row>
      )}
    </>
  );
}

/** What suits the outline to the quads round it. */
function Fit() {
  const { settle, count, collar, tie } = useStore(
    outlineStore,
    useShallow(({ settle, count, collar, tie }) => ({ settle, count, collar, tie })),
  );
  const length = (label: string, testId: string, value: number, none: string, onSettle: (value: number) => void) => (
    <NumberField label={label} testId={testId} value={value} kind={lengthOr(none)} onSettle={onSettle} />
  );
  return (
    <>
      <Row name="points settle within">
        {length('How far points settle onto vertices and edges', 'outline-settle', settle, 'not at all', (value) =>
          setOutline({ settle: value }),
        )}
      </Row>
      <NumberRow
        name="points of each shape"
        label="Points of each closed shape"
        testId="outline-count"
        value={count ?? 0}
        kind={wholeNumber(LIMITS.OutlineParams.count, 'as drawn')}
        onSettle={(value) => setOutline({ count: value || null })}
      />
      <Row name="collar at">
        {length('Distance of a collar round the outline', 'outline-collar', collar, 'none', (value) =>
          setOutline({ collar: value }),
        )}
      </Row>
      <ChoiceRow
        name="inside one face, tied by"
        label="How a shape inside one face is tied to its border"
        testId="outline-tie"
        value={tie}
        options={[
          ['links', 'two links'],
          ['spokes', 'spokes to every corner'],
        ]}
        onChange={(next) => setOutline({ tie: next })}
      />
    </>
  );
}

/** One, several round an axis, or one at every vertex of the picked edges. */
function Many() {
  const copies = useStore(outlineStore, (s) => s.copies);
  const edges = useStore(pickStore, (s) => s.edges);
  const round = copies?.by === 'axis' ? copies : null;
  return (
    <Row name="stands">
      {round && (
        <>
          <NumberField
            label="How many round the axis"
            testId="copies-count"
            value={round.count ?? 4}
            kind={wholeNumber(LIMITS.RoundAxis.count)}
            narrow
            onSettle={(count) => setCopies({ ...round, count })}
          />{' '}
        </>
      )}
      <Choice
        label="How many sheets there are"
        testId="copies"
        value={round ? (round.axis ?? 'y') : copies ? 'path' : 'once'}
        options={[
          ['once', 'once'],
          ['x', 'round x'],
          ['y', 'round y'],
          ['z', 'round z'],
          ['path', 'on every vertex of the picked edges'],
        ]}
        onChange={(next) => {
          if (next === 'once') setCopies(null);
          else if (next === 'path') setCopies(edges.length > 0 ? { by: 'path', edges } : null);
          else setCopies({ by: 'axis', axis: next, count: round?.count ?? 4 });
        }}
      />
    </Row>
  );
}

/** What falls on the part, the smallest that comes of it, and what helps where it does not land well. */
function Landing() {
  const plan = useStore(planStore, (s) => s.plan);
  const through = useStore(outlineStore, (s) => s.through);
  const extra = extraOf(plan, 'outline');
  if (!plan || !extra?.landed) return null;
  const [on, of] = extra.landed;
  const codes = new Set(plan.notes.map((note) => note.code));
  return (
    <div data-testid="landing" data-on={on} data-of={of}>
      <Row name="on the part">
        {on} of {countOf(of, 'point')}
      </Row>
      {typeof extra.taken === 'number' && (
        <Row name="taken out">
          <span data-testid="taken-out">{formatVolume(extra.taken)}</span>
        </Row>
      )}
      {extra.smallest && (
        <Row name="smallest">
          {formatLength(extra.smallest[0])} · {formatArea(Number(extra.smallest[1].toPrecision(3)))}
        </Row>
      )}
      <p className="flex flex-wrap gap-x-3 text-[13.5px]">
        {codes.has('outline-edge-on') && <Offer words="Face it to the view" onTake={() => setFacing('view')} />}
        {(codes.has('outline-misses') || codes.has('outline-off-the-part')) && (
          <Offer words="Face it to the view" onTake={() => setFacing('view')} />
        )}
        {codes.has('outline-behind') && (
          <Offer
            words="Move it forward"
            onTake={() => setSheet({ lift: (outlineStore.getState().standing?.placed.lift ?? 0) + forward() })}
          />
        )}
        {!through && (codes.has('outline-cut-off') || codes.has('outline-behind')) && (
          <Offer words="Go right through" onTake={() => setOutline({ through: true })} />
        )}
      </p>
    </div>
  );
}

/** Far enough that the sheet stands before all of the part. */
function forward(): number {
  const frame = outlineStore.getState().standing?.frame ?? [];
  const sizes = frame.map((corner) => Math.hypot(...corner));
  return Math.ceil(2 * Math.max(...sizes, 1));
}

const Offer = ({ words, onTake }: { words: string; onTake: () => void }) => (
  <button type="button" className="underline" onClick={onTake}>
    {words}
  </button>
);

export function useOutlineAside(): string | undefined {
  const { chosen, patch, standing } = useStore(
    outlineStore,
    useShallow(({ chosen, patch, standing }) => ({ chosen, patch, standing })),
  );
  if (chosen.length === 0) return undefined;
  return standing ? patch : `${patch}, to be placed`;
}

export function useOutlineChanged(): string[] {
  const now = useStore(outlineStore);
  return [
    now.facing !== OUTLINE_DEFAULTS.facing && 'facing',
    now.along !== 'sheet' && 'along the view',
    now.through && 'right through',
    now.settle > 0 && 'settling',
    now.count !== null && countOf(now.count, 'point'),
    now.collar > 0 && 'collar',
    now.tie !== 'links' && 'spokes',
    now.takes !== 'nothing' && now.takes,
    now.weave && 'woven in',
    now.copies && 'copies',
    now.turn !== 0 && 'turned',
    now.scale !== 1 && 'sized',
  ].filter((words): words is string => typeof words === 'string');
}
