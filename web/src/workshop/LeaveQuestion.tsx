import { AlertDialog } from 'radix-ui';
import { Button } from '../ui/Button';

interface Props {
  open: boolean;
  onStay: () => void;
  onLeave: () => void;
}

/** Asks before an open plan is thrown away. */
export function LeaveQuestion({ open, onStay, onLeave }: Props) {
  return (
    <AlertDialog.Root open={open} onOpenChange={(next) => !next && onStay()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <AlertDialog.Content className="fixed top-1/2 left-1/2 z-40 w-[400px] -translate-x-1/2 -translate-y-1/2 rounded-lg border border-rule bg-card p-5">
          <AlertDialog.Title className="font-display font-semibold text-lg">Discard the plan?</AlertDialog.Title>
          <AlertDialog.Description className="mt-1 mb-4 text-soft">
            The planned cut has not been made. Going on throws it away.
          </AlertDialog.Description>
          <div className="flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>Stay</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button look="primary" onClick={onLeave}>
                Discard and go on
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
