import { useStore } from 'zustand';
import { commands, keysOf } from '../hand/commands';
import { toolNamed } from '../hand/tool';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { toolStore } from '../stores/toolStore';
import { Sheet } from '../ui/Sheet';

const OTHERS = [
  ['Ctrl+K', 'all commands'],
  ['?', 'this list'],
  ['left', 'place the next point; pick'],
  ['left-drag on a planned point', 'move it'],
  ['Shift, Ctrl + left', 'pick more, pick less'],
  ['right-drag', 'orbit'],
  ['Shift + right-drag, middle-drag', 'pan'],
  ['wheel', 'zoom to the pointer'],
  ['Space + left-drag', 'orbit'],
  ['Alt held', 'no settling on stops or vertices'],
  ['arrows', 'point without a pointer, Shift by one pixel'],
  ['Space', 'click there'],
  ['Ctrl + arrows', 'orbit; with Shift pan; + and − zoom'],
  ['digits', 'type a share, an angle or a length'],
] as const;

export function KeysSheet() {
  const tool = toolNamed(useStore(toolStore, (s) => s.tool));
  const open = useStore(sheetStore, (s) => s.sheet === 'keys');
  return (
    <Sheet title="Keys and pointer" open={open} onClose={() => openSheet(null)} wide>
      {tool.begin && (
        <p className="mb-3 text-soft">
          <b className="text-ink">{tool.words}</b> is in hand. {tool.begin.replace('Nothing is planned. ', '')}
        </p>
      )}
      <dl className="columns-2 gap-8 text-[14px]">
        {commands()
          .filter(({ keys }) => keys.length > 0)
          .map(({ id, words }) => (
            <Row key={id} press={keysOf(id)} words={words} />
          ))}
        {OTHERS.map(([press, words]) => (
          <Row key={press} press={press} words={words} />
        ))}
      </dl>
    </Sheet>
  );
}

function Row({ press, words }: { press: string; words: string }) {
  return (
    <div className="mb-1.5 flex break-inside-avoid items-baseline justify-between gap-3">
      <dd className="text-soft">{words}</dd>
      <dt className="shrink-0 rounded border border-rule bg-paper px-1.5 text-[13px]">{press}</dt>
    </div>
  );
}
