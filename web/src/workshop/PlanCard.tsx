/** The plan in words and numbers: what is set most often first, what it adds, why it can't be made. What is planned is the tool's own. */
import { useStore } from 'zustand';
import { type Setting, type Tool, toolNamed } from '../hand/tool';
import { Finish, HowWoven, Mended } from '../plan/Finish';
import { Follow } from '../plan/Follow';
import { HardAbove } from '../plan/HardAbove';
import { Limit } from '../plan/Limit';
import { More } from '../plan/More';
import { PlanFoot } from '../plan/PlanFoot';
import { same } from '../space/same';
import { planStore, sharedDefaults, WOVEN } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { Card } from '../ui/Card';
import { useLate } from '../ui/late';
import { formatAngle, formatShare } from '../ui/numbers';

export function PlanCard() {
  const tool = useStore(toolStore, (s) => s.tool);
  // Each tool brings hooks of its own: another tool is another card.
  return <PlanOf key={tool} face={toolNamed(tool)} />;
}

function PlanOf({ face }: { face: Tool }) {
  const planned = useStore(planStore, (s) => s.planned);
  const aside = face.useAside();
  const late = useLate(useStore(planStore, (s) => s.working));
  const uses = heededBy(face)();
  const { Plan, More: Further } = face;
  return (
    <Card
      title="Plan"
      aside={late ? 'being worked out …' : aside ? `${face.words.toLowerCase()} · ${aside}` : undefined}
      testId="plan"
      takesTyping={planned}
    >
      {!planned && <p className="mb-1 text-soft">{face.begin}</p>}
      <Plan />
      {uses.includes('finish') && <Finish weaves={uses.includes('woven')} />}
      {uses.includes('finish') && <Mended />}
      {uses.includes('limit') && <Limit />}
      {(Further || uses.includes('follow') || uses.includes('hard above')) && (
        <More tool={face.name}>
          {Further && <Further />}
          {uses.includes('woven') && <WhereWoven />}
          {uses.includes('follow') && <Follow />}
          {uses.includes('hard above') && <HardAbove />}
        </More>
      )}
      <NotAtDefault face={face} uses={uses} />
      {planned && <PlanFoot unfinished={face.unfinished?.() ?? false} />}
    </Card>
  );
}

/** The hook that tells which settings count for what a tool has planned. */
const heededBy = (face: Tool): (() => Setting[]) => face.useHeeded ?? (() => face.uses);

function WhereWoven() {
  return useStore(planStore, (s) => s.finish === 'woven') && <HowWoven />;
}

/** Settings that change what the cut does and are not at their defaults, with one way back. */
function NotAtDefault({ face, uses }: { face: Tool; uses: Setting[] }) {
  const stops = useStore(planStore, (s) => s.stops);
  const lock = useStore(planStore, (s) => s.lock);
  const mirror = useStore(planStore, (s) => s.mirror);
  const finish = useStore(planStore, (s) => s.finish);
  const woven = useStore(planStore, (s) => s.woven);
  const follow = useStore(planStore, (s) => s.follow);
  const hardAbove = useStore(planStore, (s) => s.hardAbove);
  const changed = [
    uses.includes('stops') && !same(stops, sharedDefaults().stops) && 'stops',
    uses.includes('lock') && lock.kind !== sharedDefaults().lock.kind && 'lock',
    uses.includes('finish') && finish === 'quads' && 'all quads',
    uses.includes('woven') && finish === 'woven' && 'woven',
    uses.includes('woven') && finish === 'woven' && !same(woven, WOVEN) && 'how it is woven',
    uses.includes('hard above') && hardAbove !== null && `new edges hard above ${formatAngle(hardAbove)}`,
    uses.includes('follow') && follow > 0 && `follow ${formatShare(follow)}`,
    uses.includes('mirror') && mirror !== null && `mirror across ${mirror.axis}`,
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
