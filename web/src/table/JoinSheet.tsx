/** Several parts made one: what it is called, and whether vertices that touch are welded. */
import { useState } from 'react';
import type { Schemas } from '../api/client';
import type { TablePart } from '../stores/tableStore';
import { Button } from '../ui/Button';
import { LENGTH_OR_0 } from '../ui/kinds';
import { NumberRow, TickRow } from '../ui/rows';
import { Sheet } from '../ui/Sheet';

interface Props {
  parts: TablePart[];
  onClose: () => void;
  onJoin: (body: Schemas['JoinIn']) => void;
}

export function JoinSheet({ parts, onClose, onJoin }: Props) {
  const [name, setName] = useState(parts[0]?.name ?? '');
  const [welds, setWelds] = useState(true);
  const [within, setWithin] = useState(0.01);
  return (
    <Sheet title={`Join ${parts.length} parts`} open onClose={onClose}>
      <form
        data-testid="join-sheet"
        onSubmit={(event) => {
          event.preventDefault();
          onJoin({ parts: parts.map((part) => part.id), name, weld: welds ? within : null });
        }}
      >
        <input
          aria-label="What the part is called"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.currentTarget.value)}
          className="mb-2 h-9 w-full rounded border border-rule bg-paper px-2"
        />
        <TickRow
          name="weld where they touch"
          tip="Vertices of two parts that lie together become one; how many is told."
          on={welds}
          onChange={setWelds}
        />
        {welds && (
          <NumberRow
            name="within"
            label="Vertices of two parts this near to each other become one"
            testId="join-within"
            value={within}
            kind={LENGTH_OR_0}
            onSettle={setWithin}
          />
        )}
        <p className="my-2 text-[13.5px] text-soft">
          They are joined as they stand, into a part without steps. Faces that then lie on each other go. It can be
          undone on the table: the parts are kept with their steps.
        </p>
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={onClose}>Leave them</Button>
          <Button look="primary" type="submit">
            Join them
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
