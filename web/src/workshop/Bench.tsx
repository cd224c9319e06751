import { Slice } from 'lucide-react';
import { useStore } from 'zustand';
import { keysOf } from '../commands';
import { takeTool, toolStore } from '../stores/toolStore';

/** The tools, in the order of work. */
export function Bench() {
  const tool = useStore(toolStore, (s) => s.tool);
  return (
    <nav
      aria-label="Bench"
      className="flex items-stretch justify-center border-ink border-t bg-card"
      data-tool={tool ?? 'none'}
      data-testid="bench"
    >
      <button
        type="button"
        aria-pressed={tool === 'knife'}
        onClick={() => takeTool('knife')}
        className={`relative flex w-[112px] flex-col items-center justify-center gap-0.5 border-t-[3px] text-[13px] ${tool === 'knife' ? 'border-thread bg-paper font-semibold' : 'border-transparent text-soft hover:text-ink'}`}
      >
        <Slice size={19} aria-hidden />
        Knife line
        <kbd className="absolute top-1 right-2 font-sans font-normal text-[11.5px] text-soft">{keysOf('knife')}</kbd>
      </button>
    </nav>
  );
}
