import { Command } from 'cmdk';
import { useStore } from 'zustand';
import { commands, keysOf } from '../hand/commands';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { Sheet } from '../ui/Sheet';
import { goOnAtThePart } from '../viewport/stageOf';

/** All commands by their words, each with its key. */
export function CommandSheet() {
  const open = useStore(sheetStore, (s) => s.sheet === 'commands');
  return (
    <Sheet title="All commands" open={open} onClose={() => openSheet(null)} wide onCloseAutoFocus={goOnAtThePart}>
      <Command label="All commands">
        <Command.Input
          autoFocus
          placeholder="Type what you want to do"
          className="mb-2 h-9 w-full rounded border border-rule bg-paper px-2"
        />
        <Command.List className="max-h-[52vh] overflow-auto">
          <Command.Empty className="p-2 text-soft">No command has these words.</Command.Empty>
          {commands().map(({ id, words, when, run }) => (
            <Command.Item
              key={id}
              value={words}
              disabled={!(when?.() ?? true)}
              onSelect={() => {
                openSheet(null);
                run();
              }}
              className="flex cursor-pointer items-center justify-between rounded px-2 py-1 data-[disabled=true]:opacity-45 data-[selected=true]:bg-rule/60"
            >
              {words}
              <kbd className="font-sans text-[13px] text-soft">{keysOf(id)}</kbd>
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Sheet>
  );
}
