import { useStore } from 'zustand';
import { keysOf } from '../hand/commands';
import { changeTool } from '../hand/planning';
import { allTools } from '../hand/tool';
import { toolStore } from '../stores/toolStore';

/** The tools, in the order of work. */
export function Bench() {
  const tool = useStore(toolStore, (s) => s.tool);
  return (
    <nav
      aria-label="Bench"
      className="flex items-stretch justify-center border-ink border-t bg-card"
      data-tool={tool}
      data-testid="bench"
    >
      {allTools().map(({ name, words, icon: Icon }) => (
        <button
          key={name}
          type="button"
          aria-pressed={tool === name}
          onClick={() => changeTool(name)}
          className={`relative flex w-[112px] flex-col items-center justify-center gap-0.5 border-t-[3px] text-[13px] ${tool === name ? 'border-thread bg-paper font-semibold' : 'border-transparent text-soft hover:text-ink'}`}
        >
          <Icon size={19} aria-hidden />
          {words}
          <kbd className="absolute top-1 right-2 font-normal font-sans text-[11.5px] text-soft">{keysOf(name)}</kbd>
        </button>
      ))}
    </nav>
  );
}
