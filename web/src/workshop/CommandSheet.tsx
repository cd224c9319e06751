/** All commands, found by the words that people bring. What can't be used now says what it needs, and leads there. */
import { Command as List } from 'cmdk';
import { useStore } from 'zustand';
import { type Command, commands, keysOf } from '../hand/commands';
import { find } from '../hand/finding';
import { take, usable } from '../hand/take';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { Sheet } from '../ui/Sheet';
import { goOnAtThePart } from '../viewport/stageOf';

function choose(command: Command): void {
  openSheet(null);
  take(command);
}

export function CommandSheet() {
  const open = useStore(sheetStore, (s) => s.sheet === 'commands');
  const typed = useStore(sheetStore, (s) => s.typed);
  const { found, takenFor } = find(commands(), typed);
  return (
    <Sheet title="All commands" open={open} onClose={() => openSheet(null)} wide onCloseAutoFocus={goOnAtThePart}>
      <List label="All commands" shouldFilter={false}>
        <List.Input
          autoFocus
          value={typed}
          onValueChange={(next) => sheetStore.setState({ typed: next })}
          placeholder="Type what you want to do"
          className="mb-2 h-9 w-full rounded border border-rule bg-paper px-2"
        />
        {takenFor && (
          <p className="mb-1 px-2 text-[13.5px] text-soft">
            for <b className="text-ink">{takenFor}</b>
          </p>
        )}
        <List.List className="max-h-[52vh] overflow-auto" data-testid="commands">
          <List.Empty className="p-2 text-soft">No command has these words.</List.Empty>
          {found.map((command) => {
            const now = usable(command);
            return (
              <List.Item
                key={command.id}
                value={command.id}
                data-command={command.id}
                data-usable={now}
                onSelect={() => choose(command)}
                className="flex cursor-pointer items-baseline justify-between gap-4 rounded px-2 py-1 data-[selected=true]:bg-rule/60"
              >
                <span className={now ? '' : 'text-soft'}>
                  {command.words}
                  {!now && command.needs && <em className="ml-2 text-[13px]">{command.needs} first</em>}
                </span>
                <kbd className="shrink-0 font-sans text-[13px] text-soft">{keysOf(command.id)}</kbd>
              </List.Item>
            );
          })}
        </List.List>
      </List>
    </Sheet>
  );
}
