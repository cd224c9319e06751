/** All parts of the project in a list beside the picture: shown or hidden, taken in hand, ticked to be worked on together. */
import { Copy, Eye, EyeOff, Focus, Group, X } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { useOffered } from '../hand/offered';
import { usePartChanges } from '../projects/partQueries';
import { tableStore, toggleList, toggleOthers } from '../stores/tableStore';
import { IconButton } from '../ui/Button';
import { Chip } from '../ui/Chip';
import { stageOf } from '../viewport/stageOf';
import { CopiesSheet } from './CopiesSheet';
import { JoinSheet } from './JoinSheet';
import { SpreadBox } from './SpreadBox';
import { useTable, useTableChanges } from './tableQueries';

interface Props {
  project: number;
  partId: number | null;
  onPart: (part: number) => void;
}

/** A name whose end stays readable: pieces of a part are told apart by it. */
function Name({ name }: { name: string }) {
  const at = name.lastIndexOf(', ');
  if (at < 0) return <span className="min-w-0 flex-1 truncate">{name}</span>;
  return (
    <span className="flex min-w-0 flex-1">
      <span className="truncate">{name.slice(0, at)}</span>
      <span className="shrink-0 whitespace-pre">{name.slice(at)}</span>
    </span>
  );
}

export function TableList({ project, partId, onPart }: Props) {
  const table = useTable(project);
  const open = useStore(tableStore, (s) => s.list);
  const others = useStore(tableStore, (s) => s.others);
  const settles = useStore(tableStore, (s) => s.settles);
  const ticked = useStore(tableStore, (s) => s.ticked);
  const { hide } = usePartChanges();
  const { show, join, copies } = useTableChanges(project);
  const [sheet, setSheet] = useState<'join' | 'copies' | null>(null);
  const there = open && table !== undefined;
  useOffered('join-parts', there && ticked.length > 1 ? () => setSheet('join') : null);
  useOffered('copies', there && partId !== null ? () => setSheet('copies') : null);
  if (!there) return null;
  const { parts } = table;
  const tick = (id: number, on: boolean) =>
    tableStore.setState({ ticked: on ? [...ticked, id] : ticked.filter((one) => one !== id) });
  const part = parts.find((one) => one.id === partId);
  return (
    <aside
      aria-label="Parts on the table"
      data-testid="table-list"
      className="flex w-[232px] shrink-0 flex-col border-rule border-r bg-card max-[760px]:absolute max-[760px]:top-[76px] max-[760px]:bottom-0 max-[760px]:left-0 max-[760px]:z-20 max-[760px]:shadow-lg"
    >
      <header className="flex items-center gap-1 px-3 pt-2">
        <h2 className="flex-1 font-display font-semibold text-[16px]">Table</h2>
        <IconButton label="Fold the list of parts away" onClick={toggleList}>
          <X size={16} />
        </IconButton>
      </header>
      <div className="flex flex-wrap gap-1.5 px-3 pt-1 pb-2">
        <Chip on={others} testId="others" onClick={toggleOthers}>
          other parts
        </Chip>
        <Chip on={settles} testId="settle-on" onClick={() => tableStore.setState({ settles: !settles })}>
          settle on them
        </Chip>
        <Chip testId="only-this" disabled={partId === null} onClick={() => partId !== null && void show([partId])}>
          only this one
        </Chip>
        <Chip testId="show-all" disabled={parts.every((one) => !one.hidden)} onClick={() => void show(null)}>
          show all
        </Chip>
        <Chip testId="frame-all" onClick={() => void stageOf.current?.fit(true, true)}>
          frame all
        </Chip>
      </div>
      <ul className="min-h-0 flex-1 overflow-auto border-rule border-y border-dashed">
        {parts.map((one) => (
          <li
            key={one.id}
            data-part={one.name}
            className={`flex items-center gap-1 pr-1 pl-2 hover:bg-rule/40 ${one.id === partId ? 'bg-rule/50' : ''}`}
          >
            <input
              type="checkbox"
              aria-label={`Tick ${one.name}`}
              checked={ticked.includes(one.id)}
              className="h-3.5 w-3.5 accent-tide"
              onChange={(event) => tick(one.id, event.currentTarget.checked)}
            />
            <button
              type="button"
              aria-current={one.id === partId}
              title={`Take ${one.name} in hand`}
              onClick={() => one.id !== partId && onPart(one.id)}
              className={`flex min-w-0 flex-1 items-baseline gap-2 py-1 text-left ${one.id === partId ? 'font-semibold' : ''} ${one.hidden ? 'text-soft italic' : ''}`}
            >
              <Name name={one.name} />
              <span className="text-[12.5px] text-soft tabular-nums">{one.faces}</span>
            </button>
            <button
              type="button"
              aria-label={one.hidden ? `Show ${one.name}` : `Hide ${one.name}`}
              aria-pressed={one.hidden}
              onClick={() => hide(one.id, !one.hidden)}
              className="flex h-6 w-6 items-center justify-center rounded text-soft hover:text-ink"
            >
              {one.hidden ? <EyeOff size={15} /> : <Eye size={15} />}
            </button>
          </li>
        ))}
      </ul>
      <div className="px-3 py-2">
        <p className="mb-1 flex items-center justify-between text-[13px] text-soft">
          <span data-testid="ticked">{ticked.length} ticked</span>
          <button
            type="button"
            className="underline"
            onClick={() => tableStore.setState({ ticked: ticked.length ? [] : parts.map((one) => one.id) })}
          >
            {ticked.length ? 'none' : 'all'}
          </button>
        </p>
        <div className="flex flex-wrap gap-1.5">
          <Chip testId="join" disabled={ticked.length < 2} onClick={() => setSheet('join')}>
            <Group size={13} className="mr-1 inline" />
            join…
          </Chip>
          <Chip testId="copies" disabled={!part} onClick={() => setSheet('copies')}>
            <Copy size={13} className="mr-1 inline" />
            copies…
          </Chip>
          <Chip testId="frame-part" disabled={!part} onClick={() => void stageOf.current?.fit()}>
            <Focus size={13} className="mr-1 inline" />
            frame it
          </Chip>
        </div>
        <SpreadBox project={project} />
      </div>
      {sheet === 'join' && (
        <JoinSheet
          parts={parts.filter((one) => ticked.includes(one.id))}
          onClose={() => setSheet(null)}
          onJoin={async (body) => {
            setSheet(null);
            const made = await join(body);
            if (made) onPart(made.id);
          }}
        />
      )}
      {sheet === 'copies' && part && (
        <CopiesSheet
          part={part}
          onClose={() => setSheet(null)}
          onCopy={(wanted) => {
            setSheet(null);
            void copies(part.id, wanted);
          }}
        />
      )}
    </aside>
  );
}
