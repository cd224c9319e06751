import { COMMANDS, keysOf } from '../commands';
import { Sheet } from '../ui/Sheet';

const POINTER = [
  ['left', 'place the next point'],
  ['right-drag', 'orbit'],
  ['Shift + right-drag, middle-drag', 'pan'],
  ['wheel', 'zoom to the pointer'],
  ['Space + left-drag', 'orbit'],
  ['Alt held', 'no settling on stops or vertices'],
] as const;

export function KeysSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet title="Keys and pointer" open={open} onClose={onClose} wide>
      <dl className="columns-2 gap-8 text-[14px]">
        {COMMANDS.filter(({ keys }) => keys.length > 0).map(({ id, words }) => (
          <Row key={id} press={keysOf(id)} words={words} />
        ))}
        {POINTER.map(([press, words]) => (
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
