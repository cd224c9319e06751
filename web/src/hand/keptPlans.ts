/**
 * Plans that are kept beyond the moment, in the browser: the open one of each part, so that it is there again when the page
 * is loaded anew, and those that were let go, so that undo brings them back.
 */
import type { Schemas } from '../api/client';
import type { Picked } from '../stores/pickStore';

type Part = Schemas['PartOut'];

export interface KeptPlan {
  part: number;
  /** What tells whether the part is still as it was: another data folder has parts of the same numbers. */
  state: string;
  /** The page that kept it: another version may understand something else by it. */
  page: string;
  tool: string;
  words: string;
  /** What was picked with it, and whether that limits it. */
  picked: Picked & { limited: boolean };
  kept: unknown;
  /** What is planned with tools that are not in hand, by their names. */
  beside: Record<string, unknown>;
}

/** This version of the page: what is built has a name of its own. */
export const PAGE = import.meta.url;

export const stateOf = ({ snapshot, vertices, edges, faces, low, high }: Part): string =>
  JSON.stringify([snapshot, vertices, edges, faces, low, high]);

/** A plan that was let go right after something was done; nothing else was done since as long as that is the last. */
export interface LetGo extends KeptPlan {
  after: number | null;
}

/** So many plans that were let go are remembered. */
const MOST = 20;
const LET_GO = 'plans-let-go';
const keyOf = (part: number): string => `plan-${part}`;

function read<Kept>(key: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as Kept | null;
  } catch {
    // Written by another version of the page.
    return null;
  }
}

/** Whether there was room for it; where there is none an older plan is worse than none. */
function write(key: string, kept: unknown): boolean {
  try {
    localStorage.setItem(key, JSON.stringify(kept));
    return true;
  } catch {
    localStorage.removeItem(key);
    return false;
  }
}

/** A drag changes a plan at every frame: what is kept of it is written when there is time, and before the page goes. */
const WRITE_AFTER_MS = 200;
let unwritten: KeptPlan | null = null;
let kept = true;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Write down what is still unwritten; whether what is open is kept then. */
export function flush(): boolean {
  clearTimeout(timer);
  if (unwritten) kept = write(keyOf(unwritten.part), unwritten);
  unwritten = null;
  return kept;
}
window.addEventListener('pagehide', () => void flush());

export function keepOpen(plan: KeptPlan): void {
  if (unwritten && unwritten.part !== plan.part) flush();
  unwritten = plan;
  clearTimeout(timer);
  timer = setTimeout(flush, WRITE_AFTER_MS);
}

export function forgetOpen(part: number): void {
  if (unwritten?.part === part) unwritten = null;
  localStorage.removeItem(keyOf(part));
}

/** The plan that was open when the page went, if there is one of this part. */
export function openOf(part: number): KeptPlan | null {
  const plan = read<KeptPlan>(keyOf(part));
  return plan?.page === PAGE ? plan : null;
}

const allLetGo = (): LetGo[] => (read<LetGo[]>(LET_GO) ?? []).filter((plan) => plan.page === PAGE);

export const keepLetGo = (plan: LetGo): void => void write(LET_GO, [...allLetGo().slice(1 - MOST), plan]);

/** The plan of a part that was let go last, if nothing was done since; it stays in the list. */
export function lastLetGo(part: Part | null): LetGo | null {
  if (!part) return null;
  const after = part.next.undo?.id ?? null;
  const state = stateOf(part);
  const fits = (plan: LetGo): boolean => plan.part === part.id && plan.state === state && plan.after === after;
  return allLetGo().findLast(fits) ?? null;
}

/** Take a plan that was let go out of the list. */
export function takeLetGo(plan: LetGo): void {
  const text = JSON.stringify(plan);
  write(
    LET_GO,
    allLetGo().filter((one) => JSON.stringify(one) !== text),
  );
}
