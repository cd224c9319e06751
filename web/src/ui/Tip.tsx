import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  words: string;
  keys?: string | undefined;
  side?: 'top' | 'bottom';
  children: ReactNode;
}

/** A word or two about a control, with its key. */
export function Tip({ words, keys, side = 'bottom', children }: Props) {
  return (
    <Tooltip.Root delayDuration={450}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side={side}
          sideOffset={5}
          className="pointer-events-none z-50 max-w-72 rounded bg-ink px-2 py-1 text-[13px] text-paper"
        >
          {words}
          {keys && <span className="ml-2 opacity-70">{keys}</span>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
