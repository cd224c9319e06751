/** The keyboard: turns presses into commands; held keys (Alt, Space) into how the pointer works. */
import { commands, pressesOf, pressOf } from '../hand/commands';
import './commands';
import { beginTyping, suspendSettling } from '../hand/planning';
import { toolInHand } from '../hand/tool';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { walkedByKeyboard } from '../ui/modality';
import { stageOf } from '../viewport/stageOf';

const SECOND_PRESS_WITHIN_MS = 1200;

let first: { key: string; at: number } | null = null;

/** Listen on the window; gives back how to stop. */
export function listenToKeys(): () => void {
  window.addEventListener('keydown', onDown);
  window.addEventListener('keyup', onUp);
  return () => {
    window.removeEventListener('keydown', onDown);
    window.removeEventListener('keyup', onUp);
  };
}

function onDown(event: KeyboardEvent): void {
  // A list, a sheet or a tip has taken it: one key does one thing.
  if (event.defaultPrevented) return;
  if (event.key === 'Alt') {
    event.preventDefault();
    suspendSettling(true);
  }
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault();
    openSheet('commands');
    return;
  }
  if (waitsForSheet(event)) return;
  if (typing(event) || document.querySelector('[role=dialog],[role=alertdialog],[role=menu],[role=listbox]')) return;
  if (event.key === '?') {
    openSheet('keys');
    return;
  }
  if (event.key === ' ' && !chosenByKeyboard(event)) {
    event.preventDefault();
    stageOf.current?.holdSpace(true);
    return;
  }
  if (event.key === 'Enter' && chosenByKeyboard(event)) return;
  const press = pressOf(event);
  const both = first && event.timeStamp - first.at < SECOND_PRESS_WITHIN_MS ? `${first.key} ${press}` : null;
  first = null;
  const pair = find(both);
  if (!pair && /^[\d.,(+\-−]$/.test(event.key) && !event.ctrlKey && !event.metaKey && beginNumber(event)) return;
  const command = pair ?? find(press);
  if (command) {
    event.preventDefault();
    command.run();
  } else if (commands().some((one) => pressesOf(one).some((k) => k.startsWith(`${press} `)))) {
    event.preventDefault();
    first = { key: press, at: event.timeStamp };
  }
}

/** A sheet was asked for and does not take keys yet: what is pressed meanwhile is meant for it. */
function waitsForSheet(event: KeyboardEvent): boolean {
  const { sheet, typed } = sheetStore.getState();
  const there = document.querySelector('[role=dialog]');
  if (sheet === null || (there && (sheet !== 'commands' || there.contains(document.activeElement)))) return false;
  event.preventDefault();
  if (event.key === 'Escape') openSheet(null);
  else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey)
    sheetStore.setState({ typed: typed + event.key });
  return true;
}

/** A number is typed at the pointer, if the tool takes one there, or else into the first field of what is planned. */
function beginNumber(event: KeyboardEvent): boolean {
  const fieldOf = (which: string) =>
    document.querySelector<HTMLInputElement>(`[data-takes-typing=${which}] input[data-typed]:enabled`);
  const asked = fieldOf('first');
  if (!asked && toolInHand().typeable().length > 0) {
    event.preventDefault();
    beginTyping(event.key);
    return true;
  }
  const field = asked ?? fieldOf('true');
  // What stands there is marked, and typed over by this very press.
  field?.focus();
  return field !== null;
}

function onUp(event: KeyboardEvent): void {
  if (event.key === 'Alt') suspendSettling(false);
  if (event.key === ' ') stageOf.current?.holdSpace(false);
}

function find(press: string | null) {
  return press === null
    ? undefined
    : commands().find((one) => pressesOf(one).includes(press) && (one.when?.() ?? true));
}

/** A button or box that was walked to by keyboard keeps its own Enter and Space; one that was clicked does not. */
function chosenByKeyboard({ target }: KeyboardEvent): boolean {
  return walkedByKeyboard() && (target instanceof HTMLButtonElement || target instanceof HTMLInputElement);
}

function typing({ target }: KeyboardEvent): boolean {
  return (
    (target instanceof HTMLInputElement && target.type !== 'checkbox') ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement
  );
}
