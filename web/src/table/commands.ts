/** What can be done on the table, as commands. */
import type { Command } from '../hand/commands';
import { download } from '../page/download';
import { partStore } from '../stores/partStore';
import { toggleList, toggleOthers } from '../stores/tableStore';
import { stageOf } from '../viewport/stageOf';

/** The formats that all shown parts can be taken out in together, each with what it keeps. */
export const TOGETHER = [
  ['obj', 'OBJ', 'one file of objects, as they stand'],
  ['glb', 'glb', 'one scene of nodes, places kept'],
] as const;

const there = (): boolean => partStore.getState().part !== null;
const take = (file: string): void => {
  const { part } = partStore.getState();
  if (part) void download(`/api/projects/${part.project}/${file}`);
};

export const takeTogether = (ending: string): void => take(`export.${ending}`);
export const takeProject = (): void => take('project.zip');

export const ON_TABLE: Command[] = [
  { id: 'table', words: 'Table: open or fold the list of parts', keys: ['t'], run: toggleList },
  { id: 'others', words: 'Table: draw the other parts, or only this one', keys: ['Shift+t'], run: toggleOthers },
  {
    id: 'frame-all',
    words: 'Frame all parts',
    keys: ['Shift+Home'],
    run: () => void stageOf.current?.fit(true, true),
  },
  ...TOGETHER.map(([ending, words]) => ({
    id: `export-all-${ending}`,
    words: `Take all shown parts out together as ${words}`,
    keys: [],
    when: there,
    run: () => takeTogether(ending),
  })),
  { id: 'export-project', words: 'Take the whole project out as one file', keys: [], when: there, run: takeProject },
];
