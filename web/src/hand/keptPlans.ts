/**
 * Plans that are kept beyond the moment, in the browser: the open one of each part, so that it is there again when the page
 * is loaded anew, and those that were let go, so that undo brings them back.
 */
import type { Schemas } from '../api/client';
import type { Picked } from '../stores/pickStore';

type Part = Schemas['PartOut'];

export interface KeptPlan {
  part: number;
  snapshot: number;
  tool: string;
  words: string;
  /** What was picked with it, and whether that limits it. */
  picked: Picked & { limited: boolean };
  kept: unknown;
}

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

function write(key: string, kept: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(kept));
  } catch {
    // There is no room for it: an older plan is worse than none.
    localStorage.removeItem(key);
  }
}

/** A drag changes a plan at every frame: what is kept of it is written when there is time, and before the page goes. */
const WRITE_AFTER_MS = 200;
let unwritten: KeptPlan | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;

function flush(): void {
  clearTimeout(timer);
  if (unwritten) write(keyOf(unwritten.part), unwritten);
  unwritten = null;
}
window.addEventListener('pagehide', flush);

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
export const openOf = (part: number): KeptPlan | null => read<KeptPlan>(keyOf(part));

const allLetGo = (): LetGo[] => read<LetGo[]>(LET_GO) ?? [];

export const keepLetGo = (plan: LetGo): void => write(LET_GO, [...allLetGo().slice(1 - MOST), plan]);

/** The plan of a part that was let go last, if nothing was done since; it stays in the list. */
export function lastLetGo(part: Part | null): LetGo | null {
  if (!part) return null;
  const after = part.next.undo?.id ?? null;
  return (
    allLetGo().findLast((plan) => plan.part === part.id && plan.snapshot === part.snapshot && plan.after === after) ??
    null
  );
}

/** Take a plan that was let go out of the list. */
export function takeLetGo(plan: LetGo): void {
  const text = JSON.stringify(plan);
  write(
    LET_GO,
    allLetGo().filter((one) => JSON.stringify(one) !== text),
  );
}
