/** Stencils: outlines taken from another part as it stands before the one in hand. */
import { useState } from 'react';
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { partStore } from '../stores/partStore';
import { tableStore } from '../stores/tableStore';
import { viewStore } from '../stores/viewStore';
import { Button } from '../ui/Button';
import { POSITION } from '../ui/kinds';
import { ChoiceRow, NumberRow } from '../ui/rows';

type StencilIn = Schemas['StencilIn'];
type Kind = 'silhouette' | 'border' | 'x' | 'y' | 'z';

const KINDS: [Kind, string][] = [
  ['silhouette', 'silhouette from this view'],
  ['border', 'open boundary'],
  ['x', 'section square to x'],
  ['y', 'section square to y'],
  ['z', 'section square to z'],
];
const AXES = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;

export function StencilBox({ onTake }: { onTake: (stencil: StencilIn) => void }) {
  const part = useStore(partStore, (s) => s.part);
  const parts = useStore(tableStore, (s) => s.parts);
  const view = useStore(viewStore, (s) => s.view);
  const [from, setFrom] = useState('');
  const [kind, setKind] = useState<Kind>('silhouette');
  const [at, setAt] = useState(0);
  const others = parts.filter((one) => one.id !== part?.id);
  const source = others.find((one) => String(one.id) === from) ?? others[0];
  if (!part || !source) return null;
  const take = (): void => {
    const head = { part: source.id, hand: part.id, name: '' };
    if (kind === 'silhouette') {
      if (view) onTake({ ...head, stencil: { of: 'silhouette', view } });
    } else if (kind === 'border') onTake({ ...head, stencil: { of: 'border' } });
    else {
      const normal = [...AXES[kind]] as [number, number, number];
      const point = normal.map((one) => one * at) as [number, number, number];
      onTake({ ...head, stencil: { of: 'section', point, normal } });
    }
  };
  return (
    <div className="mt-3 text-[13.5px]" data-testid="stencil">
      <h3 className="mb-1 text-[13px] text-soft">stencil from another part</h3>
      <ChoiceRow
        name="of"
        label="The part it is taken from"
        testId="stencil-part"
        value={String(source.id)}
        options={others.map((one) => [String(one.id), one.name] as const)}
        onChange={setFrom}
      />
      <ChoiceRow
        name="its"
        label="What of the part becomes the outline"
        testId="stencil-kind"
        value={kind}
        options={KINDS}
        onChange={setKind}
      />
      {kind !== 'silhouette' && kind !== 'border' && (
        <NumberRow
          name="at"
          label="Where the plane stands, in the coordinates of the part in hand"
          testId="stencil-at"
          value={at}
          kind={POSITION}
          onSettle={setAt}
        />
      )}
      <Button className="mt-1 w-full" onClick={take}>
        Take the stencil
      </Button>
    </div>
  );
}
