import { Spline } from 'lucide-react';
import { setShared } from '../../hand/planning';
import type { Tool } from '../../hand/tool';
import { planStore } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { SeamMarks } from './SeamMarks';
import { SeamPlan, useSeamAside, useSeamChanged } from './SeamPlan';
import { SeamReadout } from './SeamReadout';
import { nextWay, POINTER, putAgain, resetSeam, takeBack, toggleGrid } from './seam';
import { seamStore } from './seamStore';

export const TOOL: Tool = {
  ...POINTER,
  name: 'seam',
  key: 'm',
  words: 'Seam',
  also: ['shortest path', 'geodesic', 'path over surface', 'line on surface'],
  icon: Spline,
  order: 8,
  Readout: SeamReadout,
  Plan: SeamPlan,
  Marks: SeamMarks,
  hint: 'Click two points: the seam joins them by the shortest way that lies on the surface. Further clicks carry it on; the first point, clicked again, closes it.',
  begin: 'Nothing is planned. Click where the seam is to begin.',
  useAside: useSeamAside,
  useChanged: useSeamChanged,
  reset: resetSeam,
  uses: ['stops', 'mirror', 'limit', 'finish', 'woven', 'hard above'],
  underWay: () => seamStore.getState().points.length === 1,
  half: () => setShared({ half: !planStore.getState().half }),
  commands: [
    { id: 'seam-back', words: 'Take back the last point of the seam', keys: ['Backspace'], run: takeBack },
    { id: 'seam-again', words: 'Put the point of the seam again', keys: ['Shift+Backspace'], run: putAgain },
    {
      id: 'seam-grid',
      words: 'Settle points of the seam on the grid, or not',
      keys: ['Shift+g'],
      when: () => viewStore.getState().view?.projection === 'parallel',
      run: toggleGrid,
    },
    { id: 'next-way', words: 'Next way from point to point', keys: ['x'], run: nextWay },
  ],
};
