/** The letters of the patches, on the part, while its patches are worked with. */
import { useStore } from 'zustand';
import { type Place, projector } from '../space/projection';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import { PatchLetter } from './PatchSwatch';
import { MOST_LISTED, patchStore, usePatches } from './patches';

export function PatchSigns() {
  const tool = useStore(toolStore, (s) => s.tool);
  const signs = useStore(patchStore, (s) => s.signs);
  return signs && (tool === 'pick' || tool === 'mend') ? <Signs /> : null;
}

function Signs() {
  const view = useStore(viewStore, (s) => s.view);
  const patches = usePatches();
  if (!view) return null;
  const project = projector(view);
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="patch-signs" aria-hidden="true">
      {patches.slice(0, MOST_LISTED).map((patch, k) => {
        const at = project(patch.at as Place);
        return at && <PatchLetter key={patch.name} at={k} place={at} size={15} colour="var(--color-tide)" />;
      })}
    </svg>
  );
}
