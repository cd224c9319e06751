/** Run a command, or lead to where it can be run, or say what has to come first. */
import { toast } from '../stores/toastStore';
import type { Command } from './commands';

export const usable = ({ when }: Command): boolean => when?.() ?? true;

export function take(command: Command): void {
  const { words, run, needs, lead } = command;
  if (usable(command)) run();
  else if (lead) lead();
  else toast({ title: words, words: `For it ${needs ?? 'something else is needed first'}.` });
}

/** What a command does, in a sentence, with what has to come first. */
export const sentenceOf = (command: Command): string =>
  usable(command) || !command.needs ? `${command.words}.` : `${command.words}: ${command.needs} first.`;
