import { ToggleGroup } from 'radix-ui';
import { useStore } from 'zustand';
import { drawingStore, toggleDrawing } from '../drawing/drawingStore';
import { keysOf } from '../hand/commands';
import { flowStore, toggleFlow } from '../stores/flowStore';
import { tableStore, toggleList } from '../stores/tableStore';
import { LOOKS, toggleSeeThrough, toggleWire, VIEWS, type ViewName, viewStore } from '../stores/viewStore';
import { Choice } from '../ui/Choice';
import { countOf } from '../ui/numbers';
import { Tip } from '../ui/Tip';
import { takeView } from '../viewport/stageOf';

/** Where the part is seen from, and how it is drawn. */
export function ViewBar() {
  const name = useStore(viewStore, (s) => s.name);
  const wire = useStore(viewStore, (s) => s.wire);
  const seeThrough = useStore(viewStore, (s) => s.seeThrough);
  const look = useStore(viewStore, (s) => s.look);
  const size = useStore(viewStore, (s) => s.smoothSize);
  const list = useStore(tableStore, (s) => s.list);
  const flow = useStore(flowStore, (s) => s.on);
  const drawing = useStore(drawingStore, (s) => s.on);
  return (
    <div className="pointer-events-none absolute inset-x-0 top-0 flex flex-wrap items-center justify-between px-4 pt-2 *:pointer-events-auto">
      <ToggleGroup.Root
        type="single"
        value={name}
        aria-label="View"
        data-testid="view-bar"
        data-view={name}
        className="flex flex-wrap"
        onValueChange={(next) => takeView((next || name) as ViewName)}
      >
        {VIEWS.map((view) => (
          <Tip key={view.name} words={view.words} keys={keysOf(`view-${view.name}`)}>
            <ToggleGroup.Item
              value={view.name}
              className="h-8 border-transparent border-b-2 px-2.5 text-soft hover:text-ink aria-checked:border-ink aria-checked:font-semibold aria-checked:text-ink"
            >
              {view.words}
            </ToggleGroup.Item>
          </Tip>
        ))}
      </ToggleGroup.Root>
      <div className="flex flex-wrap items-center gap-1">
        <Choice
          label="How the part is drawn"
          testId="look"
          value={look}
          options={LOOKS.map(([name, words]) => [name, words] as const)}
          onChange={(next) => viewStore.setState({ look: next })}
        />
        {size && (
          <Tip words={countOf(size.quads, 'quad')}>
            <span className="px-1 text-[13px] text-soft" data-testid="smooth-size">
              {countOf(size.rounds, 'round')} · {(size.bytes / 1e6).toFixed(1)} MB
            </span>
          </Tip>
        )}
        <Toggle words="Table" on={list} onChange={toggleList} />
        <Toggle words="Wire" on={wire} onChange={toggleWire} />
        <Toggle words="Flow" on={flow} onChange={toggleFlow} />
        <Toggle words="Drawing" on={drawing} onChange={toggleDrawing} />
        <Toggle words="See through" on={seeThrough} onChange={toggleSeeThrough} />
      </div>
    </div>
  );
}

function Toggle({ words, on, onChange }: { words: string; on: boolean; onChange: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onChange}
      className={`h-8 whitespace-nowrap rounded px-2.5 ${on ? 'stitched font-semibold' : 'text-soft hover:text-ink'}`}
    >
      {words}
    </button>
  );
}
