/** What the tool in hand is for and how it is begun: said once, until it was read. */
import { useStore } from 'zustand';
import { toolNamed } from '../hand/tool';
import { prefer, preferencesStore } from '../stores/preferencesStore';
import { toolStore } from '../stores/toolStore';

export function Hint() {
  const tool = useStore(toolStore, (s) => s.tool);
  const read = useStore(preferencesStore, (s) => s.hintsRead);
  if (read.includes(tool)) return null;
  const { words, hint } = toolNamed(tool);
  return (
    <section
      aria-label={`About ${words}`}
      data-testid="hint"
      className="border-rule border-b border-dashed bg-paper px-4 py-3 text-[13.5px] leading-5"
    >
      <p>
        <b className="font-display">{words}.</b> {hint}
      </p>
      <button type="button" className="mt-1 min-h-6 underline" onClick={() => prefer({ hintsRead: [...read, tool] })}>
        Got it
      </button>
    </section>
  );
}
