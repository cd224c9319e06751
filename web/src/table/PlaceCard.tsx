/** Where the part in hand stands on the table, in numbers; its place made its own. */

import { useState } from 'react';
import { useStore } from 'zustand';
import { client, expectData } from '../api/client';
import { LIMITS } from '../api/limits';
import { FoldingCard } from '../plan/FoldingCard';
import { meet, partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { type Placement, tableStore } from '../stores/tableStore';
import { Button } from '../ui/Button';
import { Chip } from '../ui/Chip';
import { ANGLE, COORDINATE, wholeNumber } from '../ui/kinds';
import { ChoiceRow, NumberRow, type Three, ThreeRow } from '../ui/rows';
import { useTableChanges } from './tableQueries';

const BARE_ANGLE = { ...ANGLE, format: (value: number) => `${Number(value.toFixed(3))}°` };

export function PlaceCard({ project, onPart }: { project: number; onPart: (part: number) => void }) {
  const part = useStore(partStore, (s) => s.part);
  const moving = useStore(tableStore, (s) => s.moving);
  const parts = useStore(tableStore, (s) => s.parts);
  const { place, bridge } = useTableChanges(project);
  const [to, setTo] = useState<string>('');
  const [rows, setRows] = useState(0);
  if (!part) return null;
  const { move = [0, 0, 0], turn = [0, 0, 0] } = moving ?? part.placement;
  const change = (changed: Partial<Placement>) => void place(part.id, { move, turn, ...changed } as Placement);
  const atHome = [...move, ...turn].every((value) => value === 0);
  const own = async (): Promise<void> => {
    try {
      const made = await expectData(
        client.POST('/api/parts/{part_id}/place-made-its-own', {
          params: { path: { part_id: part.id } },
          body: { revision: part.revision },
        }),
      );
      if (partStore.getState().part?.id === made.part.id) partStore.setState({ part: made.part });
    } catch (refusal) {
      meet(refusal);
    }
  };
  const others = parts.filter((one) => one.id !== part.id);
  const goal = others.find((one) => String(one.id) === to) ?? others[0];
  return (
    <FoldingCard title="Place" aside={atHome ? 'at home' : 'on the table'} testId="place">
      <ThreeRow
        name="at"
        label="Where the part stands"
        testId="place-at"
        value={move as Three}
        kind={COORDINATE}
        onSettle={(next) => change({ move: next })}
      />
      <ThreeRow
        name="turned"
        label="How the part is turned"
        testId="place-turned"
        value={turn as Three}
        kind={BARE_ANGLE}
        onSettle={(next) => change({ turn: next })}
      />
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <Chip testId="place-own" disabled={atHome} onClick={() => void own()}>
          make it its own
        </Chip>
        <Chip testId="place-home" disabled={atHome} onClick={() => change({ move: [0, 0, 0], turn: [0, 0, 0] })}>
          back home
        </Chip>
      </div>
      {goal && (
        <details className="mt-2 text-[13.5px]">
          <summary className="cursor-pointer text-soft">bridge to another part</summary>
          <ChoiceRow
            name="to"
            label="The part the bridge goes to"
            testId="bridge-to"
            value={String(goal.id)}
            options={others.map((one) => [String(one.id), one.name] as const)}
            onChange={setTo}
          />
          <NumberRow
            name="rows between"
            label="Rows of vertices between the ends"
            testId="bridge-rows"
            value={rows}
            kind={wholeNumber(LIMITS.BridgeIn.steps)}
            narrow
            onSettle={setRows}
          />
          <Button
            className="mt-1 w-full"
            data-testid="bridge-parts"
            onClick={() =>
              void bridge(part, pickStore.getState().edges, goal.id, rows).then((made) => made && onPart(made.id))
            }
          >
            Bridge from the picked boundary
          </Button>
        </details>
      )}
    </FoldingCard>
  );
}
