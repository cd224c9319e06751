/** The plan in words and numbers: what it is on, what it adds, why it can't be made. What is planned is the tool's own. */
import { useStore } from 'zustand';
import { partStore } from '../stores/partStore';
import { planStore, SHARED_DEFAULTS } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { FACES, type ToolFace } from '../tools/faces';
import { same } from '../tools/knife/lines';
import { canMake, discard, make } from '../tools/planning';
import { Button } from '../ui/Button';
import { Card } from '../ui/Card';
import { countOf } from '../ui/numbers';
import { Row } from '../ui/Row';
import { Limit } from './Limit';
import { Remark, together } from './Remark';

export function PlanCard() {
  const tool = useStore(toolStore, (s) => s.tool);
  // Each tool brings hooks of its own: another tool is another card.
  return <PlanOf key={tool} face={FACES[tool]} />;
}

function PlanOf({ face }: { face: ToolFace }) {
  const part = useStore(partStore, (s) => s.part);
  const busy = useStore(partStore, (s) => s.busy);
  const plan = useStore(planStore, (s) => s.plan);
  const planned = useStore(planStore, (s) => s.planned);
  const trouble = useStore(planStore, (s) => s.trouble);
  const aside = face.useAside();
  const { Plan } = face;
  return (
    <Card title="Plan" aside={aside ? `${face.words.toLowerCase()} · ${aside}` : undefined} testId="plan">
      {!planned && <p className="mb-1 text-soft">{face.begin}</p>}
      <Row name="on">{part?.name}</Row>
      <Limit />
      <Plan />
      <NotAtDefault face={face} />
      {planned && plan && (
        <>
          <p className="flex justify-between text-[13.5px] text-soft" data-testid="plan-adds">
            <span>
              {countOf(plan.new_vertices, 'new vertex', 'new vertices')} · {countOf(plan.new_edges, 'new edge')}
            </span>
            <span>{countOf(together(plan.notes).length, 'note')}</span>
          </p>
          {plan.refusal && !face.unfinished?.() && <Remark note={plan.refusal} stops />}
          {together(plan.notes)
            .filter((note) => !plan.ends.some((end) => end.words === note.words))
            .map((note) => (
              <Remark key={note.code + note.words} note={note} />
            ))}
        </>
      )}
      {trouble && (
        <p role="alert" data-testid="trouble" className="mt-2 rounded border border-ochre px-2.5 py-1.5 text-[13.5px]">
          {trouble}
        </p>
      )}
      {planned && (
        <div className="mt-3 flex gap-2">
          <Button look="primary" className="flex-1" disabled={!canMake() || busy} onClick={() => void make()}>
            Make the cut{' '}
            <span className="ml-auto" aria-hidden>
              ↵
            </span>
          </Button>
          <Button onClick={discard}>Discard</Button>
        </div>
      )}
    </Card>
  );
}

/** Settings that change what the cut does and are not at their defaults, with one way back. */
function NotAtDefault({ face }: { face: ToolFace }) {
  const stops = useStore(planStore, (s) => s.stops);
  const lock = useStore(planStore, (s) => s.lock);
  const mirror = useStore(planStore, (s) => s.mirror);
  const changed = [
    face.uses.includes('stops') && !same(stops, SHARED_DEFAULTS.stops) && 'stops',
    face.uses.includes('lock') && lock.kind !== SHARED_DEFAULTS.lock.kind && 'lock',
    face.uses.includes('mirror') && mirror !== null && `mirror across ${mirror.axis}`,
    ...face.useChanged(),
  ].filter(Boolean);
  if (changed.length === 0) return null;
  return (
    <p data-testid="not-at-default" className="flex items-baseline justify-between gap-3 py-1 leading-5">
      <span className="shrink-0 text-soft">not at default</span>
      <span className="text-right">
        {changed.join(' · ')}
        <button type="button" className="ml-2 underline" onClick={face.reset}>
          reset
        </button>
      </span>
    </p>
  );
}
