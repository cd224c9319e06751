import { Toast } from 'radix-ui';
import { useStore } from 'zustand';
import type { Refusal } from '../api/client';
import { dropToast, toastStore } from '../stores/toastStore';
import { Button } from '../ui/Button';
import { showerOf } from '../viewport/showRefused';

/** The way to the places that a message names. */
function Shower({ elements }: { elements: Refusal['elements'] }) {
  const show = showerOf(elements);
  if (!show) return null;
  return (
    <Toast.Action altText="Show the place on the part" asChild>
      <Button onClick={show}>Show</Button>
    </Toast.Action>
  );
}

/** Messages about what happened elsewhere, at the foot of the page. */
export function Toasts() {
  const toasts = useStore(toastStore, (s) => s.toasts);
  return (
    <Toast.Provider duration={9000} swipeDirection="right">
      {toasts.map(({ id, title, words, tone, action, elements }) => (
        <Toast.Root
          key={id}
          onOpenChange={(open) => !open && dropToast(id)}
          className={`flex items-start gap-3 rounded-md border bg-card p-3 shadow-md ${tone === 'warning' ? 'border-ochre' : 'border-rule'}`}
        >
          <div className="min-w-0 flex-1">
            <Toast.Title className="line-clamp-2 font-semibold">{title}</Toast.Title>
            {words && <Toast.Description className="break-words text-soft">{words}</Toast.Description>}
          </div>
          <Shower elements={elements ?? []} />
          {action && (
            <Toast.Action altText={action.label} asChild>
              <Button onClick={action.run}>{action.label}</Button>
            </Toast.Action>
          )}
          <Toast.Close aria-label="Close" className="px-1 text-soft hover:text-ink">
            ✕
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed bottom-20 left-4 z-50 flex w-[380px] flex-col gap-2" />
    </Toast.Provider>
  );
}
