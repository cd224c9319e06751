/** The planes that plans are mirrored across. */
import { setShared } from '../../hand/planning';
import { planStore } from '../../stores/planStore';

export const MIRRORS = [
  ['off', 'off'],
  ['x', 'across x'],
  ['y', 'across y'],
  ['z', 'across z'],
] as const;

export function mirrorAcross(axis: (typeof MIRRORS)[number][0]): void {
  const { mirror } = planStore.getState();
  setShared({ mirror: axis === 'off' ? null : { axis, offset: mirror?.offset ?? 0 } });
}
