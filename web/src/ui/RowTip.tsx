/** The tip of a setting: by resting on its name, by a finger on it, or by walking to it with the keys. */
import { useEffect, useState } from 'react';
import { pointedByFinger, walkedByKeyboard } from './modality';
import { TIPS, type TipOf } from './tips';

const AFTER_MS = 450;
const ROOM_PX = 250;

interface Shown extends TipOf {
  box: DOMRect;
}

/** What there is to say of a place of the page, and of which part of it. */
function tipAt(target: EventTarget | null, byName: boolean): Shown | null {
  if (!(target instanceof Element)) return null;
  const named = target.closest<HTMLElement>('[data-row]');
  // What stands in the row is being worked with.
  if (!named || (byName && !target.closest('[data-row-name]'))) return null;
  const box = named.getBoundingClientRect();
  const controls = [named, ...named.querySelectorAll<HTMLElement>('[data-testid],[aria-label]')];
  const known = controls.map(({ dataset }) => TIPS.get(dataset.testid ?? '')).find((one) => one !== undefined);
  const words = named.dataset.row || controls.map((one) => one.getAttribute('aria-label')).find(Boolean);
  if (known) return { ...known, box };
  return words ? { words: /[.:?!]$/.test(words) ? words : `${words}.`, box } : null;
}

export function RowTip() {
  const [shown, setShown] = useState<Shown | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const hide = () => {
      clearTimeout(timer);
      setShown(null);
    };
    const later = (tip: Shown | null) => {
      hide();
      if (tip) timer = setTimeout(() => setShown(tip), AFTER_MS);
    };
    const over = (event: PointerEvent) => event.pointerType !== 'touch' && later(tipAt(event.target, true));
    const walked = (event: FocusEvent) => walkedByKeyboard() && later(tipAt(event.target, false));
    const touched = (event: MouseEvent) => {
      if (pointedByFinger()) setShown(tipAt(event.target, true));
    };
    const listen = [
      ['pointerover', over],
      ['focusin', walked],
      ['click', touched],
      ['pointerdown', hide],
      ['keydown', hide],
      ['wheel', hide],
    ] as const;
    for (const [event, listener] of listen)
      window.addEventListener(event, listener as EventListener, { passive: true });
    return () => {
      hide();
      for (const [event, listener] of listen) window.removeEventListener(event, listener as EventListener);
    };
  }, []);
  if (!shown) return null;
  const { words, drawing, box } = shown;
  const place =
    box.left > ROOM_PX ? { right: innerWidth - box.left + 8, top: box.top } : { left: box.left, top: box.bottom + 6 };
  return (
    <div
      role="tooltip"
      data-testid="row-tip"
      style={place}
      className="tip pointer-events-none fixed z-50 w-max max-w-60 rounded bg-ink px-2.5 py-1.5 text-[13px] text-paper leading-[1.35]"
    >
      {words}
      {drawing}
    </div>
  );
}
