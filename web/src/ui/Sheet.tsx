/** Dialogs: a card over the page, with a title and a row of answers. */
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  title: string;
  open: boolean;
  onClose: () => void;
  wide?: boolean;
  /** Where the keys go afterwards; to what opened it, if nothing is said. */
  onCloseAutoFocus?: (event: Event) => void;
  children: ReactNode;
}

export function Sheet({ title, open, onClose, wide = false, onCloseAutoFocus, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <Dialog.Content
          aria-describedby={undefined}
          {...(onCloseAutoFocus && { onCloseAutoFocus })}
          // What is longer than the screen is scrolled by keys, too.
          tabIndex={0}
          className={`fixed top-1/2 left-1/2 z-40 max-h-[86vh] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-lg border border-rule bg-card p-5 ${wide ? 'w-[620px]' : 'w-[400px]'}`}
        >
          <Dialog.Title className="mb-3 font-display text-lg font-semibold">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
