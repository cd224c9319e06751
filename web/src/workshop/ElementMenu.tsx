/** What can be done with the vertex, edge or face under the pointer. Nothing in it changes the part: it picks, or begins a plan. */
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useEffect } from 'react';
import { useStore } from 'zustand';
import { commandOf, keysOf } from '../hand/commands';
import { changeTool, discard, make } from '../hand/planning';
import { toolInHand } from '../hand/tool';
import { closeElementMenu, elementMenuStore, type ElementMenu as Menu } from '../stores/elementMenuStore';
import { stillMeant } from '../stores/meant';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { viewStore } from '../stores/viewStore';
import { isPicked, pickMeant, pickToBe } from '../tools/pick/elementMenu';
import { begin } from '../tools/reshape/reshape';
import type { Work } from '../tools/reshape/work';
import { mendsFor, offersFor } from '../tools/reshape/works';
import { goOnAtThePart } from '../viewport/stageOf';

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-6 rounded px-3 py-1 outline-none data-[highlighted]:bg-rule/50';
const ONE = { vertices: 'vertex', edges: 'edge', faces: 'face' } as const;
/** Where the pick leads from an element of each kind. */
const LEADS: Record<keyof typeof ONE, string[]> = {
  vertices: ['pick-grow'],
  edges: ['pick-loop', 'pick-ring'],
  faces: ['pick-connected', 'pick-patch', 'pick-grow', 'hide'],
};
const ANYWHERE = ['undo', 'redo', 'frame', 'pick-none'];

export function ElementMenu() {
  const menu = useStore(elementMenuStore, (s) => s.menu);
  const view = useStore(viewStore, (s) => s.view);
  const revision = useStore(partStore, (s) => s.part?.revision);
  const about = menu && menu.meant.view === view && menu.meant.part.revision === revision && stillMeant(menu.meant);
  useEffect(() => {
    if (menu && !about) closeElementMenu();
  }, [menu, about]);
  if (!menu || !about) return null;
  return (
    <DropdownMenu.Root open modal={false} onOpenChange={(open) => !open && closeElementMenu()}>
      <DropdownMenu.Trigger asChild>
        <span
          aria-hidden
          className="pointer-events-none absolute h-px w-px"
          style={{ left: menu.at[0], top: menu.at[1] }}
        />
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="start"
        sideOffset={4}
        collisionPadding={8}
        aria-label="What can be done here"
        data-testid="element-menu"
        onCloseAutoFocus={goOnAtThePart}
        className="z-40 max-h-[var(--radix-dropdown-menu-content-available-height)] min-w-52 overflow-auto rounded-md border border-rule bg-card p-1 shadow-md"
      >
        <Offers menu={menu} />
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}

function Offers({ menu }: { menu: Menu }) {
  const planned = useStore(planStore, (s) => s.planned);
  const { at, kind, element } = menu;
  const among = isPicked();
  /** Take a tool and click where the menu was opened. */
  const click = (tool: string) => () => {
    changeTool(tool);
    toolInHand().click(at, { shift: false, control: false });
  };
  return (
    <>
      {planned && (
        <>
          <Item onSelect={() => void make()} keys={keysOf('make')}>
            Make the cut
          </Item>
          <Item onSelect={discard} keys={keysOf('discard')}>
            Discard the plan
          </Item>
          <Line />
        </>
      )}
      {element !== null && (
        <>
          <DropdownMenu.Label className="px-3 py-1 text-[13px] text-soft">
            {among ? 'what is picked' : `${ONE[kind]} ${element}`}
          </DropdownMenu.Label>
          {!among && <Item onSelect={pickMeant}>Pick it</Item>}
          {LEADS[kind].map((id) => (
            <Item
              key={id}
              onSelect={() => {
                pickMeant();
                commandOf(id)?.run();
              }}
            >
              {commandOf(id)?.words}
            </Item>
          ))}
          <Line />
          <Item onSelect={click('knife')}>Knife line from here</Item>
          {kind === 'edges' && <Item onSelect={click('loop')}>Edge loop through here</Item>}
          {offersFor(pickToBe()).length > 0 && <Line />}
          <Works offers={offersFor(pickToBe())} />
          {mendsFor(pickToBe()).length > 0 && (
            <DropdownMenu.Sub>
              <DropdownMenu.SubTrigger className={ITEM}>
                <span>Mend</span>
                <span aria-hidden>▸</span>
              </DropdownMenu.SubTrigger>
              <DropdownMenu.SubContent className="z-40 min-w-44 rounded-md border border-rule bg-card p-1 shadow-md">
                <Works offers={mendsFor(pickToBe())} inTray />
              </DropdownMenu.SubContent>
            </DropdownMenu.Sub>
          )}
          <Line />
        </>
      )}
      {ANYWHERE.map((id) => commandOf(id))
        .filter((command) => command !== undefined)
        .filter(({ when }) => when?.() ?? true)
        .map(({ id, words, run }) => (
          <Item key={id} onSelect={run} keys={keysOf(id)}>
            {words}
          </Item>
        ))}
    </>
  );
}

/** What can be made of the element, or of the pick it is among. */
function Works({ offers, inTray = false }: { offers: Work[]; inTray?: boolean }) {
  return offers.map(({ name, words }) => (
    <Item
      key={name}
      onSelect={() => {
        pickMeant();
        begin(name, inTray);
      }}
    >
      {words[0]?.toUpperCase()}
      {words.slice(1)}
    </Item>
  ));
}

function Item({ onSelect, keys, children }: { onSelect: () => void; keys?: string; children: ReactNode }) {
  return (
    <DropdownMenu.Item className={ITEM} onSelect={onSelect}>
      <span>{children}</span>
      {keys && <kbd className="font-sans text-[13px] text-soft">{keys}</kbd>}
    </DropdownMenu.Item>
  );
}

const Line = () => <DropdownMenu.Separator className="my-1 h-px bg-rule" />;
