/** What the next point would be, in numbers, and how it settles. */
import { Select } from 'radix-ui';
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { keysOf } from '../commands';
import { STOP_STEPS } from '../options';
import { planStore } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { setStep, setThrough, toggleHalf } from '../tools/knife/knife';
import { formatLength, formatShare, formatStep } from '../ui/numbers';
import { Tip } from '../ui/Tip';

export function Readout() {
  const tool = useStore(toolStore, (s) => s.tool);
  const aim = useStore(planStore, (s) => s.aim);
  const through = useStore(planStore, (s) => s.through);
  const half = useStore(planStore, (s) => s.half);
  const free = useStore(planStore, (s) => s.free);
  const planned = useStore(planStore, (s) => s.lines.length > 0);
  if (tool === null) {
    return <Strip>Take a tool from the bench to begin a cut. Right-drag orbits, the wheel zooms.</Strip>;
  }
  return (
    <Strip>
      <Figure name="share">
        <b data-testid="readout-share">{aim?.mark.share == null ? '–' : formatShare(aim.mark.share)}</b>
      </Figure>
      <Figure name="length">
        <b data-testid="readout-length">{aim?.length == null ? '–' : formatLength(aim.length)}</b>
      </Figure>
      <Figure name="stops">
        <StopSelect />
        {free && <span className="ml-1">(suspended)</span>}
      </Figure>
      <Choice name="half" keys={keysOf('half')} words={half ? 'on' : 'off'} onChange={toggleHalf} />
      <Choice
        name="reach"
        keys={keysOf('reach')}
        words={through ? 'right through' : 'near side'}
        onChange={() => setThrough(!through)}
      />
      <span className="ml-auto">
        {planned ? 'Enter makes the cut · Esc discards' : 'Click a vertex, an edge or a face'}
      </span>
    </Strip>
  );
}

function Strip({ children }: { children: ReactNode }) {
  return (
    <div
      data-testid="readout"
      className="absolute inset-x-4 bottom-3 flex h-9 items-center gap-5 overflow-hidden whitespace-nowrap rounded border border-rule bg-card px-4 text-soft"
    >
      {children}
    </div>
  );
}

function Figure({ name, children }: { name: string; children: ReactNode }) {
  return (
    <span className="[&_b]:font-semibold [&_b]:text-ink">
      {name} <span className="ml-1">{children}</span>
    </span>
  );
}

function Choice({ name, words, keys, onChange }: { name: string; words: string; keys: string; onChange: () => void }) {
  return (
    <Figure name={name}>
      <Tip words={`Change ${name}`} keys={keys} side="top">
        <button type="button" data-testid={name} onClick={onChange} className="stitched font-semibold text-ink">
          {words}
        </button>
      </Tip>
    </Figure>
  );
}

function StopSelect() {
  const step = useStore(planStore, (s) => s.step);
  const value = step === null ? 'off' : String(step);
  return (
    <Select.Root value={value} onValueChange={(next) => setStep(next === 'off' ? null : Number(next))}>
      <Select.Trigger aria-label="Stops" className="stitched font-semibold text-ink">
        <Select.Value>{step === null ? 'off' : `every ${formatStep(step)}`}</Select.Value>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          side="top"
          sideOffset={8}
          className="z-40 rounded-md border border-rule bg-card p-1 shadow-md"
        >
          <Select.Viewport>
            {['off', ...STOP_STEPS.map(String)].map((option) => (
              <Select.Item
                key={option}
                value={option}
                className="cursor-pointer rounded px-3 py-1 outline-none data-[highlighted]:bg-rule/50 data-[state=checked]:font-semibold"
              >
                <Select.ItemText>{option === 'off' ? 'off' : `every ${formatStep(Number(option))}`}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
