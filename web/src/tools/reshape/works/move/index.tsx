/** Move, turn or scale the pick by its handles. */
import type { Schemas } from '../../../../api/client';
import { waitFor } from '../../../../hand/planning';
import { planStore } from '../../../../stores/planStore';
import type { Three } from '../../../../ui/rows';
import { anything, each } from '../../picked';
import { workOf } from '../../work';
import { standHandles, typeMove } from './handles';
import { MoveNumbers } from './MoveNumbers';
import { AT_REST, type Curve, moveOf } from './moving';
import { PickHandles } from './PickHandles';

export const WORK = workOf({
  name: 'move',
  words: 'move',
  command: 'Move, turn or scale what is picked',
  also: ['translate', 'rotate', 'scale', 'transform', 'stretch', 'nudge', 'resize'],
  fits: anything,
  needs: 'faces, edges or vertices',
  beside: 0,
  // Places settle on whole lengths instead of what they are moved by, on a grid.
  lasting: { falloff: { rings: 0, curve: 'smooth' as Curve }, grid: false },
  // Where the handles stand and what they have settled on; the place they stand at instead of the middle.
  ofPick: { moving: AT_REST, handles: null as Schemas['HandleAimOut'] | null, pivot: null as Three | null },
  step(picked, { moving, handles, falloff }) {
    const move = moveOf(moving, handles);
    return (
      move && {
        tool: 'move',
        ...each(picked),
        move,
        falloff: falloff.rings > 0 ? falloff : null,
        mirror: planStore.getState().mirror,
      }
    );
  },
  Numbers: MoveNumbers,
  Marks: PickHandles,
  changed: () => waitFor(standHandles()),
  // What is typed goes along the handle that was held last.
  typeable: ({ moving }) => [moving.way === 'turn' ? 'angle' : 'length'],
  takeTyped: typeMove,
});
