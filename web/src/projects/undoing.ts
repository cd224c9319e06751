/** Undo and redo: changes of a plan first, then a plan that was let go, then what was done last in the project. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { client, expectData, Refusal } from '../api/client';
import { whenBack } from '../api/connection';
import { projectsChanged } from '../api/queries';
import { alongPlan, bringBackPlan, callOff, tellOfLetGo } from '../hand/planning';
import { go } from '../page/route';
import { type Entry, goToStep, meet, moveInProject, partStore, readAgain, turnEntry } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { tableStore } from '../stores/tableStore';
import { toast } from '../stores/toastStore';
import { countOf } from '../ui/numbers';

type Way = 'undo' | 'redo';

/** Whether there is anything to take back, or to do again. What is being made now can be taken back when it is there. */
export function canMove(way: Way): boolean {
  const { canTakeBack, canPutAgain, letGo } = planStore.getState();
  const { part, busy } = partStore.getState();
  const next = (part ?? tableStore.getState()).next?.[way] ?? null;
  if (way === 'redo') return canPutAgain || next !== null;
  return canTakeBack || letGo !== null || busy || next !== null;
}

/** What is taken back next, or done again, as words after *Undo* or *Redo*; null if there is nothing. */
export function useNext(way: Way): string | null {
  const { canTakeBack, canPutAgain, letGo } = useStore(
    planStore,
    useShallow(({ canTakeBack, canPutAgain, letGo }) => ({ canTakeBack, canPutAgain, letGo })),
  );
  const { own, id } = useStore(
    partStore,
    useShallow(({ part }) => ({ own: part?.next[way], id: part?.id })),
  );
  const onTable = useStore(tableStore, (s) => s.next?.[way] ?? null);
  const entry = own === undefined ? onTable : own;
  if (way === 'undo' && canTakeBack) return ' the last change of the plan';
  if (way === 'redo' && canPutAgain) return ' the change of the plan';
  if (way === 'undo' && letGo !== null) return `: the plan of ${letGo} let go`;
  if (entry === null) return null;
  return entry.on && entry.part !== id ? `: ${entry.words}, on ${entry.on}` : `: ${entry.words}`;
}

/** Take back what was done last, or do again what was taken back last, whatever it is. */
export function move(way: Way): void {
  // A cut that is being made is no plan any more: it is what was done last as soon as it is there.
  if (way === 'undo' && callOff()) return;
  if (!partStore.getState().busy) {
    if (alongPlan(way === 'undo' ? -1 : 1)) return;
    if (way === 'undo' && bringBackPlan()) return;
  }
  void moveOn(way);
}

async function moveOn(way: Way): Promise<void> {
  const before = partStore.getState().part;
  const { project, next: onTable } = tableStore.getState();
  const entry = onTable?.[way];
  if (!before && project !== null && entry) {
    await turn(project, way, entry);
    return;
  }
  try {
    const turned = await moveInProject(way);
    if (before && turned && turned.length > 0) await settle(before.project, way, turned);
  } catch (error) {
    const next = partStore.getState().part?.next[way];
    if (error instanceof Refusal && error.code === 'unreachable' && before && next)
      waitForIt(before.project, way, next);
    else meet(error);
  }
}

/** Go back or forward along the steps of the part in hand; what goes along with them on other parts is told before. */
export async function goBackTo(applied: number): Promise<void> {
  const { part } = partStore.getState();
  const first = part?.steps.find((step) => step.applied && step.number > applied);
  if (!part || !first) return goToStep(applied);
  try {
    const along = await expectData(
      client.GET('/api/parts/{part_id}/steps/{number}/along', {
        params: { path: { part_id: part.id, number: first.number } },
      }),
    );
    if (along.length === 0) await goToStep(applied);
    else
      toast({
        title: `Going back takes along ${countOf(along.length, 'more thing')}`,
        words: along.map((one) => (one.on ? `${one.words} (${one.on})` : one.words)).join(' · '),
        action: { label: 'Go back', run: () => void goToStep(applied) },
      });
  } catch (error) {
    meet(error);
  }
}

/** Undo what was done just now, by the button beside the words that tell of it. */
export const undoEntry = (project: number, entry: Entry): Promise<void> => turn(project, 'undo', entry);

async function turn(project: number, way: Way, entry: Entry): Promise<void> {
  try {
    await settle(project, way, await turnEntry(project, way, entry.id));
  } catch (error) {
    if (error instanceof Refusal && error.code === 'unreachable') waitForIt(project, way, entry);
    else meet(error);
  }
}

/** The service is away: what was meant is done when it is back, and once, even if it was done and only not answered. */
function waitForIt(project: number, way: Way, entry: Entry): void {
  const words = way === 'undo' ? 'undone' : 'done again';
  toast({ title: 'The workshop does not answer', words: `${entry.words} is ${words} as soon as it is back.` });
  const again = () =>
    void turnEntry(project, way, entry.id)
      .then((turned) => settle(project, way, turned))
      .catch((error) => {
        // Still away: said once, and tried as long as it takes.
        if (error instanceof Refusal && error.code === 'unreachable') whenBack('turn', again);
        else meet(error);
      });
  whenBack('turn', again);
}

/** Show what was turned: a part that it happened to is taken in hand, so that nothing changes unseen. */
async function settle(project: number, way: Way, turned: Entry[]): Promise<void> {
  projectsChanged();
  const last = turned.at(-1);
  const { part } = partStore.getState();
  if (turned.length > 1 || (last && last.part !== part?.id)) {
    const said = turned.map((one) => (one.on ? `${one.words} (${one.on})` : one.words));
    toast({ title: way === 'undo' ? 'Undone' : 'Done again', words: said.join(' · ') });
  }
  if (part && turned.length > 0 && turned.every((one) => one.part === part.id) && part.next[way]?.id !== last?.id)
    return tellOfLetGo();
  const { parts } = await expectData(
    client.GET('/api/projects/{project_id}', { params: { path: { project_id: project } } }),
  );
  const isThere = (id: number | null | undefined): boolean => parts.some((one) => one.id === id);
  if (last && last.part !== part?.id && isThere(last.part)) go({ screen: 'workshop', project, part: last.part });
  else if (!isThere(part?.id)) go({ screen: 'workshop', project, part: null }, { replace: true });
  else await readAgain();
  tellOfLetGo();
}
