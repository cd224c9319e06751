/** What the tool in hand would do next, in numbers, and how it works. */
import { useStore } from 'zustand';
import { toolNamed } from '../hand/tool';
import { toolStore } from '../stores/toolStore';

export function Readout() {
  const tool = useStore(toolStore, (s) => s.tool);
  const { Readout: Figures } = toolNamed(tool);
  return (
    <div
      data-testid="readout"
      className="absolute inset-x-4 bottom-3 flex min-h-9 flex-wrap items-center gap-x-5 gap-y-1 rounded border border-rule bg-card px-4 py-1.5 text-soft"
    >
      <Figures />
    </div>
  );
}
