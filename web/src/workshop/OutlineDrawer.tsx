/** The outlines of the project: take one in hand, make new ones, work on them. */
import { Box, Copy, Download, PenLine, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { changeTool } from '../hand/planning';
import { AddOutline } from '../outlines/AddOutline';
import { OutlineEditor } from '../outlines/OutlineEditor';
import { OutlinePart } from '../outlines/OutlinePart';
import { type Outline, useOutlines } from '../outlines/outlineQueries';
import { StencilBox } from '../outlines/StencilBox';
import { Thumbnail } from '../outlines/Thumbnail';
import { download } from '../page/download';
import { useProjectsChanged } from '../projects/projectQueries';
import { drawerStore, toggleDrawer } from '../stores/drawerStore';
import { choose, standByNumbers } from '../tools/outline/outline';
import { outlineStore } from '../tools/outline/outlineStore';
import { IconButton } from '../ui/Button';
import { countOf, formatLength } from '../ui/numbers';

export function OutlineDrawer() {
  const { outlines, ...changes } = useOutlines();
  const changed = useProjectsChanged();
  const edited = useStore(drawerStore, (s) => s.edited);
  const outline = outlines.find((one) => one.id === edited);
  return (
    <section aria-label="Outlines" data-testid="outlines" className="min-h-full px-4 py-3">
      <header className="mb-2 flex items-center justify-between">
        <h2 className="font-display font-semibold text-[16px]">Outlines</h2>
        <IconButton label="Close the drawer" onClick={toggleDrawer}>
          <X size={16} />
        </IconButton>
      </header>
      {outline ? (
        <OutlineEditor
          key={outline.id}
          outline={outline}
          onChange={(change) => changes.change(outline.id, change)}
          onClose={() => drawerStore.setState({ edited: null })}
        />
      ) : (
        <>
          {outlines.length === 0 && (
            <p className="mb-2 text-soft">No outline yet. Make one by its sizes, letter it, or import an SVG file.</p>
          )}
          <ul>
            {outlines.map((one) => (
              <Line
                key={one.id}
                outline={one}
                onTake={() => take(one)}
                onCopy={() => changes.copy(one.id)}
                onRemove={() => changes.remove(one.id)}
                onPart={(params) => changes.makePart(one.id, params, changed)}
              />
            ))}
          </ul>
          <AddOutline add={changes.add} bringIn={changes.bringIn} />
          <StencilBox
            onTake={(stencil) =>
              changes.takeStencil(stencil, (made) => {
                take(made);
                standByNumbers(made.sheet ?? null);
              })
            }
          />
        </>
      )}
    </section>
  );
}

function take(outline: Outline): void {
  changeTool('outline');
  choose(outline.id, new Map([[outline.id, outline.name]]), false);
  drawerStore.setState({ open: false });
}

interface LineProps {
  outline: Outline;
  onTake: () => void;
  onCopy: () => void;
  onRemove: () => void;
  onPart: (params: Required<Schemas['FlatPart']>) => void;
}

function Line({ outline, onTake, onCopy, onRemove, onPart }: LineProps) {
  const [parting, setParting] = useState(false);
  const inHand = useStore(outlineStore, (s) => s.chosen.includes(outline.id));
  return (
    <li data-outline={outline.name} data-points={outline.points} className="border-rule border-b border-dashed py-1.5">
      <div className="flex items-center gap-2">
        <button
          type="button"
          title={`Take ${outline.name} in hand`}
          onClick={onTake}
          className={`flex min-w-0 flex-1 items-center gap-2 rounded text-left hover:bg-rule/40 ${inHand ? 'bg-rule/60' : ''}`}
        >
          <Thumbnail outline={outline} size={46} />
          <span className="min-w-0">
            <span className="block truncate font-semibold">{outline.name}</span>
            <span className="block text-[13px] text-soft">
              {formatLength(outline.width)} × {formatLength(outline.height)} · {countOf(outline.points, 'point')}
            </span>
          </span>
        </button>
        <span className="grid grid-cols-3">
          <Small label={`Make a part of ${outline.name}`} onClick={() => setParting(!parting)}>
            <Box size={14} />
          </Small>
          <Small label={`Work on ${outline.name}`} onClick={() => drawerStore.setState({ edited: outline.id })}>
            <PenLine size={14} />
          </Small>
          <Small label={`Copy ${outline.name}`} onClick={onCopy}>
            <Copy size={14} />
          </Small>
          <Small
            label={`Export ${outline.name} as SVG`}
            onClick={() => void download(`/api/outlines/${outline.id}/export.svg`)}
          >
            <Download size={14} />
          </Small>
          <Small label={`Drop ${outline.name}`} onClick={onRemove}>
            <Trash2 size={14} />
          </Small>
        </span>
      </div>
      {parting && (
        <OutlinePart
          onMake={(params) => {
            setParting(false);
            onPart(params);
          }}
        />
      )}
    </li>
  );
}

function Small({ label, onClick, children }: { label: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="flex h-6 w-6 items-center justify-center rounded text-soft hover:bg-rule/50 hover:text-ink"
    >
      {children}
    </button>
  );
}
