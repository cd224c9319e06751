/** Every command with its words and its key: the keyboard, the tips, the list of keys and the palette all read from here. */
export interface Command {
  id: string;
  words: string;
  /** As `KeyboardEvent.key`, with `Ctrl+`, `Shift+` before it; two presses are parted by a space. */
  keys: string[];
  /** When the command would do something; always, if not given. */
  when?: () => boolean;
  run: () => void;
}

const all: Command[] = [];

export function provideCommands(commands: Command[]): void {
  all.push(...commands);
}

export const commands = (): readonly Command[] => all;

export const commandOf = (id: string): Command | undefined => all.find((command) => command.id === id);

/** The keys of a command as people read them. */
export function keysOf(id: string): string {
  const keys = commandOf(id)?.keys[0] ?? '';
  return keys
    .split(' ')
    .map((press) => press.replace(/(^|\+)([a-z])$/, (_, plus, letter) => plus + letter.toUpperCase()))
    .join(', ');
}
