/** What can be done on the table, as commands. */
import type { Command } from '../hand/commands';
import { asOffered } from '../hand/offered';
import { openCard } from '../hand/openCard';
import { download } from '../page/download';
import { partStore } from '../stores/partStore';
import { tableStore, toggleList, toggleOthers } from '../stores/tableStore';
import { stageOf } from '../viewport/stageOf';

/** The formats that all shown parts can be exported in together, each with what it keeps. */
export const TOGETHER = [
  ['obj', 'OBJ', 'one file of objects, as they stand'],
  ['glb', 'glb', 'one scene of nodes, places kept'],
] as const;

const openTable = (): void => {
  if (!tableStore.getState().list) toggleList();
};
const there = (): boolean => partStore.getState().part !== null;
const take = (file: string): void => {
  const { part } = partStore.getState();
  if (part) void download(`/api/projects/${part.project}/${file}`);
};

export const takeTogether = (ending: string): void => take(`export.${ending}`);
export const takeProject = (): void => take('project.zip');

export const ON_TABLE: Command[] = [
  {
    id: 'table',
    words: 'Table: open or fold the list of parts',
    also: ['scene', 'assembly', 'objects'],
    keys: ['t'],
    run: toggleList,
  },
  {
    id: 'others',
    words: 'Table: draw the other parts, or only this one',
    also: ['isolate part', 'solo', 'hide others'],
    keys: ['Shift+t'],
    run: toggleOthers,
  },
  {
    ...asOffered('join-parts'),
    words: 'Join the ticked parts into one',
    also: ['combine', 'merge parts', 'attach', 'unite', 'group'],
    keys: [],
    needs: 'tick two parts on the table',
    lead: openTable,
  },
  {
    ...asOffered('copies'),
    words: 'Copies of the part in a row, round an axis, or mirrored',
    also: ['array', 'instances', 'pattern', 'radial copies', 'duplicate along'],
    keys: [],
    needs: 'open the table',
    lead: openTable,
  },
  {
    ...asOffered('spread'),
    words: 'Spread the ticked parts apart',
    also: ['exploded view', 'explode'],
    keys: [],
    needs: 'tick two parts on the table',
    lead: openTable,
  },
  {
    ...asOffered('fall'),
    words: 'Let the ticked parts fall',
    also: ['drop', 'gravity', 'physics', 'simulate'],
    keys: [],
    needs: 'tick two parts on the table',
    lead: openTable,
  },
  {
    id: 'place',
    words: 'Place: where the part stands, and how it is turned',
    also: ['rotate part', 'move part', 'position', 'transform part', 'orientation', 'place on ground'],
    keys: [],
    when: there,
    needs: 'take a part in hand',
    run: () => {
      openTable();
      openCard(null, 'place');
    },
  },
  {
    id: 'frame-all',
    words: 'Frame all parts',
    keys: ['Shift+Home'],
    run: () => void stageOf.current?.fit(true, true),
  },
  ...TOGETHER.map(([ending, words]) => ({
    id: `export-all-${ending}`,
    words: `Export all shown parts together as ${words}`,
    also: ['save all', 'take out'],
    keys: [],
    when: there,
    needs: 'take a part in hand',
    run: () => takeTogether(ending),
  })),
  {
    id: 'export-project',
    words: 'Export the whole project as one file',
    also: ['backup', 'save project', 'take out', 'archive'],
    keys: [],
    when: there,
    needs: 'take a part in hand',
    run: takeProject,
  },
];
