/** Files that are dropped, chosen or pasted: as parts once their unit is said, as projects, as outlines. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { bringInSvg, USUAL_TOLERANCE_MM } from '../outlines/bringInSvg';
import { go } from '../page/route';
import { importFile, importObjects, mayHoldObjects } from '../projects/importFile';
import { importProject, isProjectFile } from '../projects/projectFile';
import { tell, useProjectsChanged } from '../projects/projectQueries';
import { drawerStore } from '../stores/drawerStore';
import { toast } from '../stores/toastStore';
import type { Unit } from '../ui/lengths';
import { countOf } from '../ui/numbers';
import { listenToPaste } from './paste';

interface BringIn {
  /** Take files in, of whatever kind. */
  take: (files: File[]) => void;
  /** Those that wait until their unit is said. */
  waiting: File[] | null;
  forget: () => void;
  /** They are parts, in a unit; the objects of each apart, if that is wanted. */
  asParts: (files: File[], unit: Unit, apart: boolean) => Promise<void>;
}

/** `leave` is asked before another project is opened; the last part that came in is handed to `onPart`. */
export function useBringIn(
  projectId: number,
  leave: (run: () => void) => void,
  onPart: (part: number) => void,
): BringIn {
  const changed = useProjectsChanged();
  const queries = useQueryClient();
  const [waiting, setWaiting] = useState<File[] | null>(null);

  const project = async (file: File) => {
    try {
      const made = await importProject(file);
      const run = () => leave(() => go({ screen: 'workshop', project: made.id, part: null }));
      toast({ title: `The project ${made.name} was imported`, action: { label: 'Open it', run } });
      changed();
    } catch (refusal) {
      tell(refusal);
    }
  };
  const outline = async (file: File) => {
    try {
      const { outline, notes } = await bringInSvg(projectId, file, USUAL_TOLERANCE_MM);
      await queries.invalidateQueries({ queryKey: ['outlines', projectId] });
      drawerStore.setState({ open: true });
      toast({ title: `${outline.name} was imported as an outline`, words: notes.join(' ') });
    } catch (refusal) {
      tell(refusal);
    }
  };
  const take = (files: File[]) => {
    const parts = files.filter((file) => !isProjectFile(file));
    if (parts.length > 0) setWaiting(parts);
    for (const file of files.filter(isProjectFile)) void project(file);
  };
  const asParts = async (files: File[], unit: Unit, apart: boolean) => {
    setWaiting(null);
    let last: number | null = null;
    for (const file of files) {
      try {
        if (apart && mayHoldObjects(file)) {
          const { parts, notes } = await importObjects(projectId, file, unit);
          toast({ title: `${countOf(parts.length, 'part')} imported`, words: notes.slice(0, 4).join(' ') });
          last = parts[0]?.id ?? last;
          continue;
        }
        const { part, notes } = await importFile(projectId, file, unit);
        toast({ title: `${part.name} was imported`, words: notes.slice(0, 4).join(' ') });
        last = part.id;
      } catch (refusal) {
        tell(refusal);
      }
    }
    if (last !== null) onPart(last);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is done with it is of the project alone
  useEffect(
    () =>
      listenToPaste({
        onPart: (file) => take([file]),
        onOutline: (file) => void outline(file),
        onOther: () =>
          toast({ title: 'Nothing to paste', words: 'The text of an SVG drawing or of an OBJ file can be pasted.' }),
      }),
    [projectId],
  );
  return { take, waiting, forget: () => setWaiting(null), asParts };
}
