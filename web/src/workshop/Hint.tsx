/** What the tool in hand is for and how it is begun: said once, until it was read; in a line while something is planned. */
import { useStore } from 'zustand';
import { toolNamed } from '../hand/tool';
import { planStore } from '../stores/planStore';
import { prefer, preferencesStore } from '../stores/preferencesStore';
import { toolStore } from '../stores/toolStore';

export function Hint() {
  const tool = useStore(toolStore, (s) => s.tool);
  const read = useStore(preferencesStore, (s) => s.hintsRead);
  const planned = useStore(planStore, (s) => s.planned);
  if (read.includes(tool)) return null;
  const { words, hint } = toolNamed(tool);
  const gotIt = (
    <button type="button" className="min-h-6 shrink-0 underline" onClick={() => prefer({ hintsRead: [...read, tool] })}>
      Got it
    </button>
  );
  return (
    <section
      aria-label={`About ${words}`}
      data-testid="hint"
      className={`border-rule border-b border-dashed bg-paper px-4 text-[13.5px] leading-5 ${planned ? 'flex items-center justify-between gap-3 py-0.5' : 'py-3'}`}
    >
      <p className={planned ? 'truncate' : ''} title={planned ? hint : undefined}>
        <b className="font-display">{words}.</b> {hint}
      </p>
      {gotIt}
    </section>
  );
}
