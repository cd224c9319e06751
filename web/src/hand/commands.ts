/** Every command with its words and its key: the keyboard, the tips, the list of keys and the palette all read from here. */
import { preferencesStore } from '../stores/preferencesStore';

export interface Command {
  id: string;
  words: string;
  /** What else people call it. */
  also?: readonly string[];
  /** As `KeyboardEvent.key`, with `Ctrl+`, `Shift+` before it; two presses are parted by a space. */
  keys: string[];
  /** When the command would do something; always, if not given. */
  when?: () => boolean;
  run: () => void;
  /** What has to be done first where it would do nothing: "pick an edge". */
  needs?: string;
  /** Leads to where it can be run. */
  lead?: () => void;
}

const all: Command[] = [];

/** The presses of a command: those it came with, or the one a person gave it. */
export function pressesOf({ id, keys }: Command): string[] {
  const own = preferencesStore.getState().keys[id];
  if (own === undefined) return keys;
  return own === '' ? [] : [own];
}

/** A press of a key as commands name it. */
export function pressOf(event: KeyboardEvent): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const control = event.ctrlKey || event.metaKey ? 'Ctrl+' : '';
  return `${control}${event.shiftKey ? 'Shift+' : ''}${key}`;
}

/** The other commands that a press would get in the way of, those of two presses that begin with it among them. */
export function conflictsOf(id: string, press: string): Command[] {
  const meets = (other: string) => other === press || other.startsWith(`${press} `);
  return all.filter((command) => command.id !== id && pressesOf(command).some(meets));
}

export function provideCommands(commands: Command[]): void {
  all.push(...commands);
}

export const commands = (): readonly Command[] => all;

export const commandOf = (id: string): Command | undefined => all.find((command) => command.id === id);

/** A press as people read it. */
export const readable = (press: string): string =>
  press
    .split(' ')
    .map((one) => one.replace(/(^|\+)([a-z])$/, (_, plus, letter) => plus + letter.toUpperCase()))
    .join(', ');

/** The keys of a command as people read them. */
export function keysOf(id: string): string {
  const command = commandOf(id);
  const [press = ''] = command ? pressesOf(command) : [];
  return readable(press);
}
