/** A sentence of a lesson: keys as they are set, what stands on the page in bold. */
import { Fragment } from 'react';
import { keysOf } from '../hand/commands';

const TOKENS = /(\{[\w-]+\}|"[^"]+")/;

export function Sentence({ words }: { words: string }) {
  return words.split(TOKENS).map((token, k) => {
    if (token.startsWith('{'))
      return (
        // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of a sentence never change places
        <kbd key={k} className="rounded border border-rule bg-card px-1.5 font-sans text-[13px]">
          {keysOf(token.slice(1, -1)) || 'its command'}
        </kbd>
      );
    // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of a sentence never change places
    return token.startsWith('"') ? <b key={k}>{token.slice(1, -1)}</b> : <Fragment key={k}>{token}</Fragment>;
  });
}
