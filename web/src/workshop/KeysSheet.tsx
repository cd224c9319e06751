/** The tool in hand explained, and all keys: each can be changed to another. */
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { type Command, commands, conflictsOf, keysOf, pressOf, readable } from '../hand/commands';
import { toolNamed } from '../hand/tool';
import { prefer, preferencesStore } from '../stores/preferencesStore';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { toolStore } from '../stores/toolStore';
import { Button } from '../ui/Button';
import { Sheet } from '../ui/Sheet';

const OTHERS = [
  ['Ctrl+K', 'all commands'],
  ['?', 'this list'],
  ['left', 'place the next point; pick'],
  ['right', 'what can be done with what lies there'],
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
  ['one finger', 'aim while it is held, place where it is lifted'],
  ['two fingers', 'close together orbit, apart pan and zoom'],
] as const;
/** Presses that no command can have. */
const KEPT = /^(\?|Ctrl\+k|(Shift\+)?[ \d.,]|(Shift\+)?Arrow\w+)$/;
const HELD_ONLY = ['Shift', 'Control', 'Alt', 'Meta'];

export function KeysSheet() {
  const tool = toolNamed(useStore(toolStore, (s) => s.tool));
  const open = useStore(sheetStore, (s) => s.sheet === 'keys');
  const own = useStore(preferencesStore, (s) => s.keys);
  const [changing, setChanging] = useState<Command | null>(null);
  return (
    <Sheet title="Keys and pointer" open={open} onClose={() => openSheet(null)} wide>
      <p className="mb-3 text-soft">
        <b className="text-ink">{tool.words}</b> is in hand. {tool.hint}{' '}
        <button type="button" className="min-h-6 text-ink underline" onClick={() => openSheet('lessons')}>
          Eight short lessons
        </button>{' '}
        show the ways.
      </p>
      {changing && <Change command={changing} onDone={() => setChanging(null)} />}
      <dl className="columns-2 gap-8 text-[14px]">
        {commands()
          .filter(({ id, keys }) => keys.length > 0 || own[id] !== undefined)
          .map((command) => (
            <Row key={command.id} words={command.words}>
              <button
                type="button"
                aria-label={`${keysOf(command.id) || 'none'}, the key for: ${command.words}`}
                title="Change this key"
                onClick={() => setChanging(command)}
                className={`rounded border bg-paper px-1.5 text-[13px] hover:border-soft ${own[command.id] === undefined ? 'border-rule' : 'border-thread'}`}
              >
                {keysOf(command.id) || 'none'}
              </button>
            </Row>
          ))}
        {OTHERS.map(([press, words]) => (
          <Row key={press} words={words}>
            <span className="rounded border border-rule bg-paper px-1.5 text-[13px]">{press}</span>
          </Row>
        ))}
      </dl>
      {Object.keys(own).length > 0 && (
        <div className="mt-3 flex justify-end">
          <Button onClick={() => prefer({ keys: {} })}>All keys as usual</Button>
        </div>
      )}
    </Sheet>
  );
}

function Row({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <div className="mb-1.5 flex break-inside-avoid items-baseline justify-between gap-3">
      <dt className="text-soft">{words}</dt>
      <dd className="shrink-0">{children}</dd>
    </div>
  );
}

/** Waits for the press that a command is to have; one that another command has is taken only if that is said. */
function Change({ command, onDone }: { command: Command; onDone: () => void }) {
  const [press, setPress] = useState<string | null>(null);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (HELD_ONLY.includes(event.key) || event.key === 'Tab') return;
      // A button that was walked to by keyboard keeps its Enter.
      if (event.key === 'Enter' && event.target instanceof HTMLButtonElement) return;
      event.preventDefault();
      event.stopPropagation();
      if (event.key === 'Escape') onDone();
      else setPress(pressOf(event));
    };
    window.addEventListener('keydown', listen, true);
    return () => window.removeEventListener('keydown', listen, true);
  }, [onDone]);
  const { keys } = preferencesStore.getState();
  const taken = press === null ? [] : conflictsOf(command.id, press);
  const kept = press !== null && KEPT.test(press);
  const give = () => {
    if (press === null) return;
    const others = Object.fromEntries(taken.map(({ id }) => [id, '']));
    prefer({ keys: { ...keys, ...others, [command.id]: press } });
    onDone();
  };
  return (
    <div data-testid="key-change" className="mb-3 rounded border border-thread bg-paper p-3">
      <p role="status" className="mb-2">
        {press === null ? (
          <>
            Press the key for <b>{command.words}</b>; it has {keysOf(command.id) || 'none'} now.
          </>
        ) : kept ? (
          <>
            <b>{readable(press)}</b> can't be given away: it points or types whatever tool is in hand.
          </>
        ) : taken[0] ? (
          <>
            <b>{readable(press)}</b> is a key for <b>{taken[0].words}</b> ({keysOf(taken[0].id)})
            {taken.length > 1 && ` and begins those of ${taken.length - 1} more`}, which would have none.
          </>
        ) : (
          <>
            <b>{readable(press)}</b> is free.
          </>
        )}
      </p>
      <div className="flex gap-2">
        <Button disabled={press === null || kept} onClick={give}>
          {taken.length > 0 ? 'Take it all the same' : 'Give it this key'}
        </Button>
        <Button look="quiet" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  );
}
