/** The number being typed at the pointer: what it will be is said beside it, Tab changes that. */
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { nextTyped } from '../hand/planning';
import { toolInHand } from '../hand/tool';
import { planStore, type TypedKind } from '../stores/planStore';
import { parseAngle, parseLength, parsePosition, parseShare } from '../ui/numbers';

const EXPECTED: Record<TypedKind, string> = {
  share: 'A share from 0 to 100 %, such as 25%, 1/4 or 12.5mm',
  angle: 'An angle in degrees, such as 30',
  length: 'A length, such as 12.5 or 3cm/2',
};

export function TypedField() {
  const typing = useStore(planStore, (s) => s.typing);
  const pointer = useStore(planStore, (s) => (s.typing ? s.pointer : null));
  const [wrong, setWrong] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const open = typing !== null;
  useEffect(() => {
    if (open) input.current?.focus();
  }, [open]);
  if (!typing) return null;
  const { kind, text } = typing;

  const settle = (): void => {
    const length = toolInHand().edgeLength();
    const parseIt = toolInHand().signed?.() ? parsePosition : parseLength;
    const value = kind === 'share' ? parseShare(text, length) : kind === 'angle' ? parseAngle(text) : parseIt(text);
    if (value === null) setWrong(true);
    else {
      planStore.setState({ typing: null });
      void toolInHand().takeTyped(kind, value);
    }
  };
  const [x, y] = pointer ?? [300, 300];
  return (
    <div
      className="absolute z-20 flex items-center gap-2 rounded bg-ink px-2 py-1 text-paper"
      style={{ left: x + 18, top: y + 14 }}
      data-testid="typed"
      data-kind={kind}
    >
      <span>{kind}</span>
      <input
        ref={input}
        aria-label={`Typed ${kind}`}
        aria-invalid={wrong}
        value={text}
        className="w-20 bg-transparent outline-none"
        onChange={(event) => {
          setWrong(false);
          planStore.setState({ typing: { kind, text: event.currentTarget.value } });
        }}
        onBlur={() => planStore.setState({ typing: null })}
        onKeyDown={(event) => {
          if (event.key === 'Enter') settle();
          else if (event.key === 'Escape') planStore.setState({ typing: null });
          else if (event.key === 'Tab') nextTyped();
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      {wrong && (
        <span role="alert" className="text-[13px]">
          {EXPECTED[kind]}
        </span>
      )}
    </div>
  );
}
