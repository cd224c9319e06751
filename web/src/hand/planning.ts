/** The life of a plan, the same for every tool: asked of the service at every change, made, discarded. */
import { client, expectData, Refusal, type Step } from '../api/client';
import { whenBack } from '../api/connection';
import { newestOnly, unlessBrokenOff } from '../api/newest';
import { wasStopped } from '../stores/jobStore';
import { meant, moveOn, stillMeant } from '../stores/meant';
import { makeStep, meet, partStore, readAgain } from '../stores/partStore';
import { picked, pickStore } from '../stores/pickStore';
import { type Lock, NO_PLAN, type PlanState, planStore, sharedDefaults } from '../stores/planStore';
import { toast } from '../stores/toastStore';
import { takeTool, toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import {
  flush,
  forgetOpen,
  type KeptPlan,
  keepLetGo,
  keepOpen,
  lastLetGo,
  openOf,
  PAGE,
  stateOf,
  takeLetGo,
} from './keptPlans';
import { backTo, remember, startOver, stepAlong } from './planHistory';
import { allTools, toolInHand, toolNamed } from './tool';

const textOf = (step: Step | null): string | null => step && JSON.stringify(step);
const stepInHand = (): Step | null => toolInHand().step();

/** The cut was asked for before the plan was answered: it is made as soon as that is there. */
let makeWhenPlanned = false;

/** Answers that will still change what is planned; a cut asked for meanwhile is made once they are there. */
let underWay = 0;
let makeAfterwards = false;

/** A cut that was asked for and waits for its plan is not to be made after all; whether one did. */
export function callOff(): boolean {
  const waited = makeWhenPlanned || makeAfterwards;
  makeWhenPlanned = false;
  makeAfterwards = false;
  return waited;
}

/** Whether an answer is still under way that will change what is planned. */
export const isUnderWay = (): boolean => underWay > 0;

export function waitFor(answer: Promise<unknown>): void {
  underWay += 1;
  void answer.catch(meetWhilePlanning).finally(() => {
    underWay -= 1;
    if (underWay > 0 || !makeAfterwards) return;
    makeAfterwards = false;
    void make();
  });
}

/** The plan of the tool in hand with all its settings. */
function kept(): unknown {
  const { stops, lock, mirror, finish, woven, follow, hardAbove } = planStore.getState();
  return { tool: toolInHand().keep(), shared: { stops, lock, mirror, finish, woven, follow, hardAbove } };
}

/** What is planned has changed: ask what it would do. */
export function replan(): void {
  makeWhenPlanned = false;
  remember(textOf(stepInHand()), kept());
  keepForLater();
  if (stepInHand() === null) planStore.setState({ ...NO_PLAN, half: planStore.getState().half });
  else {
    planStore.setState({ planned: true });
    askForPlan(null);
  }
}

/** Only looked at: what is planned is shown otherwise, and nothing of it remembered. */
export const glance = (): void => askForPlan(null);

/** What breaks off the question for a plan, or for its ways, that is in the air. */
let planAsked = new AbortController();
let waysAsked = new AbortController();

const askForPlan = newestOnly(async (_: null) => {
  const planned = stepInHand();
  const now = meant();
  if (!now || !planned) return;
  planStore.setState({ working: true });
  const asked = new AbortController();
  const { signal } = asked;
  planAsked = asked;
  try {
    const plan = await unlessBrokenOff(
      expectData(
        client.POST('/api/parts/{part_id}/plan', {
          params: { path: { part_id: now.part.id } },
          body: { revision: now.part.revision, step: planned, view: now.view },
          signal,
        }),
      ),
      asked,
    );
    const planFor = textOf(planned);
    if (!stillMeant(now) || textOf(stepInHand()) !== planFor) return;
    planStore.setState({ plan, planFor, trouble: null });
    if (makeWhenPlanned) void make();
  } catch (error) {
    if (stillMeant(now) && !signal.aborted) meetWhilePlanning(error);
  } finally {
    planStore.setState({ working: false });
  }
});

/** Wait no longer for the plan: it is as it was when it was answered last; without such it is let go, and undo brings it back. */
export function stopPlanning(): void {
  planAsked.abort();
  askForPlan.forget();
  makeWhenPlanned = false;
  const { planFor } = planStore.getState();
  const last = planFor === null ? null : backTo(planFor);
  if (last) putBack(last.kept);
  else discard();
  keepForLater();
}

export const stopComparing = (): void => waysAsked.abort();

/** While the service does not answer the plan is kept, and asked for again. */
export function meetWhilePlanning(error: unknown): void {
  if (!(error instanceof Refusal && error.code === 'unreachable')) {
    meet(error);
    return;
  }
  planStore.setState({ trouble: error.words });
  whenBack('plan', () => {
    if (!planStore.getState().trouble) return;
    planStore.setState({ trouble: null });
    askForPlan(null);
    pointAgain();
  });
}

/** What a step is compared by: itself, however it is finished. */
export const comparedBy = (step: object | null): string | null =>
  step && JSON.stringify([{ ...step, finish: null, woven: null }, planStore.getState().woven]);

/** A step with how it would be woven, even if it is not to be. */
const asWoven = (step: Step): Step =>
  'woven' in step ? { ...step, woven: { ...planStore.getState().woven, most_off: null } } : step;

/** Finish the plan in every way there is, to be compared. */
export const compare = newestOnly(async (_: null) => {
  const planned = stepInHand();
  const now = meant();
  const of = comparedBy(planned);
  if (!now || !planned || of === null) return;
  planStore.setState({ comparing: true });
  const asked = new AbortController();
  const { signal } = asked;
  waysAsked = asked;
  try {
    const rows = await unlessBrokenOff(
      expectData(
        client.POST('/api/parts/{part_id}/finishes', {
          params: { path: { part_id: now.part.id } },
          body: { revision: now.part.revision, step: asWoven(planned), view: now.view },
          signal,
        }),
      ),
      asked,
    );
    if (stillMeant(now) && comparedBy(stepInHand()) === of) planStore.setState({ compared: { of, rows } });
  } catch (error) {
    if (stillMeant(now) && !signal.aborted) meetWhilePlanning(error);
  } finally {
    planStore.setState({ comparing: false });
  }
});

/** The view has turned: what of the plan is on its far side is another part of it now. */
export function viewTurned(): void {
  toolInHand().point(null);
  const { planned, plan } = planStore.getState();
  if (planned && (plan?.mending || !toolInHand().keepsItsView)) askForPlan(null);
}

/** Ask anew what lies under the pointer. */
export function pointAgain(): void {
  toolInHand().point(planStore.getState().pointer);
}

/** The part, the pick or the limit has changed: ask again what the plan would do. */
export function planAgain(): void {
  replan();
  pointAgain();
}

/** Change settings that tools share; the plan follows. */
export function setShared(
  changed: Partial<Pick<PlanState, keyof ReturnType<typeof sharedDefaults> | 'free' | 'half'>>,
): void {
  planStore.setState(changed);
  planAgain();
}

/** Hold what comes next in another way; a typed angle was meant for what came before. */
export const setLock = (changed: Partial<Lock>): void =>
  setShared({ lock: { ...planStore.getState().lock, value: null, ...changed } });

const LOCKS: Lock['kind'][] = ['free', 'angle', 'x', 'y', 'z', 'square', 'along', 'grid'];

/** Take the next lock, or the one before; the grid only in a parallel view, which has one. */
export function cycleLock(by: 1 | -1): void {
  const parallel = viewStore.getState().view?.projection === 'parallel';
  const locks = parallel ? LOCKS : LOCKS.filter((kind) => kind !== 'grid');
  const { lock } = planStore.getState();
  const at = Math.max(0, locks.indexOf(lock.kind));
  setLock({ ...sharedDefaults().lock, ...lock, value: null, kind: locks.at((at + by) % locks.length) ?? 'free' });
}

export function suspendSettling(free: boolean): void {
  if (planStore.getState().free === free) return;
  planStore.setState({ free });
  pointAgain();
}

/** Take the last change of the plan back, or put it again; whether there was one. */
export function alongPlan(by: -1 | 1): boolean {
  const found = stepAlong(by);
  if (!found) return false;
  putBack(found.kept);
  planAgain();
  return true;
}

/** Have the plan and its settings as they were kept. */
function putBack(kept: unknown): void {
  const { tool, shared } = kept as { tool: unknown; shared: Partial<PlanState> };
  moveOn();
  toolInHand().putBack(tool);
  planStore.setState({ ...shared, half: false, typing: null });
}

/** What was begun by a press was not meant: the plan is as it was before it. */
export function forgetPress(kept: unknown): void {
  moveOn();
  toolInHand().putBack(kept);
  planAgain();
}

/** Put the tool down and take another. What is planned with either is kept, as long as the part is the same. */
export function changeTool(name: string): void {
  if (toolStore.getState().tool === name) return;
  moveOn();
  toolInHand().point(null);
  planStore.setState({ ...NO_PLAN });
  takeTool(name);
  startOver(textOf(stepInHand()), kept());
  replan();
}

/** What is planned on the part, as it is kept beyond the moment; null if that is nothing. */
function planToKeep(): KeptPlan | null {
  const { part } = partStore.getState();
  const tool = toolInHand();
  // Pick and the tray have one plan between them.
  const others = allTools().filter((other) => other.keep !== tool.keep && other.step() !== null);
  const planning = tool.step() === null ? others : [tool, ...others];
  if (!part || planning.length === 0) return null;
  return {
    part: part.id,
    state: stateOf(part),
    page: PAGE,
    tool: tool.name,
    words: planning.map((one) => one.words).join(' and '),
    picked: { ...picked(), limited: pickStore.getState().limited },
    kept: kept(),
    beside: Object.fromEntries(others.map((other) => [other.name, other.keep()])),
  };
}

/** The part whose plan was taken up, if there was one: until then what is kept of it stays. */
let takenUp: number | null = null;

function keepForLater(): void {
  const { part } = partStore.getState();
  if (part?.id !== takenUp) return;
  const plan = planToKeep();
  if (plan) keepOpen(plan);
  else if (part) forgetOpen(part.id);
}

/** Have a plan again that was kept. */
function takeUp(plan: KeptPlan): void {
  changeTool(plan.tool);
  pickStore.setState({ ...plan.picked, inOrder: plan.picked.vertices });
  for (const [name, state] of Object.entries(plan.beside)) toolNamed(name).putBack(state);
  const { tool, shared } = plan.kept as { tool: unknown; shared: Partial<PlanState> };
  moveOn();
  toolInHand().putBack(tool);
  planStore.setState(shared);
  planAgain();
}

/** Have the plan again that was open when the page went, if the part is still as it was then. */
export function takeUpOpenPlan(): void {
  const { part } = partStore.getState();
  if (!part || takenUp === part.id) return;
  takenUp = part.id;
  const plan = openOf(part.id);
  if (!plan || isAnythingPlanned()) return;
  if (plan.state !== stateOf(part)) {
    forgetOpen(part.id);
    toast({ title: `The plan of ${plan.words} was put away`, words: 'The part was changed since.' });
    return;
  }
  takeUp(plan);
  toast({ title: `The plan of ${plan.words} was kept`, words: 'It is as it was before the page was loaded anew.' });
}

/** Bring the plan back that was let go last, if nothing was done since; whether there was one. */
export function bringBackPlan(): boolean {
  const plan = stepInHand() === null ? lastLetGo(partStore.getState().part) : null;
  if (!plan) return false;
  takeLetGo(plan);
  takeUp(plan);
  tellOfLetGo();
  return true;
}

/** What undo would bring back is said beside it. */
export function tellOfLetGo(): void {
  const words = stepInHand() === null ? lastLetGo(partStore.getState().part)?.words : undefined;
  planStore.setState({ letGo: words ?? null });
}

/** Leave nothing of the plan of the tool in hand. */
function clearPlan(): void {
  const { part } = partStore.getState();
  if (part && part.id === takenUp) forgetOpen(part.id);
  moveOn();
  toolInHand().clear();
  planStore.setState({ ...NO_PLAN });
  startOver(textOf(stepInHand()), kept());
}

/** Leave nothing of what is planned with tools that are not in hand; the words of those that had something. */
export function clearOtherPlans(): string[] {
  const others = allTools().filter((tool) => tool.name !== toolStore.getState().tool && tool.step() !== null);
  for (const tool of others) tool.clear();
  return others.map((tool) => tool.words);
}

/** Whether something is planned, with whatever tool. */
export const isAnythingPlanned = (): boolean => allTools().some((tool) => tool.step() !== null);

/** Whether something is planned that would be lost with the page: the browser has no room for it. */
export const isLostWithThePage = (): boolean => isAnythingPlanned() && !flush();

/** Throw the plan away; the tool stays in hand. */
export function discard(): void {
  makeAfterwards = false;
  const { part } = partStore.getState();
  const plan = stepInHand() === null ? null : planToKeep();
  if (plan && part) keepLetGo({ ...plan, words: toolInHand().words, beside: {}, after: part.next.undo?.id ?? null });
  clearPlan();
  tellOfLetGo();
  pointAgain();
}

/** Whether the plan as it stands would change the part. */
export function canMake(): boolean {
  const { plan, trouble } = planStore.getState();
  return plan !== null && plan.refusal === null && trouble === null && plan.changes && !partStore.getState().busy;
}

export async function make(): Promise<void> {
  if (underWay > 0) {
    makeAfterwards = true;
    return;
  }
  const step = stepInHand();
  const answered = planStore.getState().planFor === textOf(step);
  if (step && !answered) {
    makeWhenPlanned = true;
    askForPlan(null);
  }
  if (!step || !answered || !canMake()) return;
  // What was asked for and not answered is asked for again by the same name: it is made once.
  const text = textOf(step);
  const key = unanswered?.text === text ? unanswered.key : crypto.randomUUID();
  unanswered = null;
  const part = partStore.getState().part?.id;
  try {
    await makeStep(step, clearPlan, key);
    pointAgain();
  } catch (error) {
    if (error instanceof Refusal && error.code === 'unreachable' && text !== null) {
      unanswered = { text, key };
      planStore.setState({ trouble: error.words });
      whenBack('make', () => void makeAgain(part));
      return;
    }
    const aboutThePlan = error instanceof Refusal && error.code !== 'stale' && error.code !== 'not-there';
    if (wasStopped(error)) toast({ title: 'The cut was stopped', words: 'Nothing was changed; its plan is kept.' });
    else if (aboutThePlan) planStore.setState({ trouble: error.words });
    else meet(error);
  }
}

/** A cut that was asked for while the service was away. */
let unanswered: { text: string; key: string } | null = null;

/** The service is back: make what was asked for, if it is still planned; if it is not, see whether it was made. */
async function makeAgain(part: number | undefined): Promise<void> {
  if (partStore.getState().part?.id !== part) return;
  planStore.setState({ trouble: null });
  if (unanswered && textOf(stepInHand()) === unanswered.text) await make();
  else await readAgain();
}

/** Begin typing a number: the likeliest of what it can be now. */
export function beginTyping(text: string): void {
  const [kind] = toolInHand().typeable();
  if (kind) planStore.setState({ typing: { kind, text } });
}

/** Let the typed number be the next thing it can be. */
export function nextTyped(): void {
  const { typing } = planStore.getState();
  const kinds = toolInHand().typeable();
  if (!typing || kinds.length === 0) return;
  const kind = kinds[(kinds.indexOf(typing.kind) + 1) % kinds.length] ?? typing.kind;
  planStore.setState({ typing: { ...typing, kind } });
}

/** Let the picked faces limit a cut, or not. */
export function setLimited(limited: boolean): void {
  pickStore.setState({ limited });
  planAgain();
}
