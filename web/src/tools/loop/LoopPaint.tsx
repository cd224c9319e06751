/** Tints the faces that the loop under the pointer, or the planned one, runs over. */
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { extraOf, planStore } from '../../stores/planStore';
import { stageOf } from '../../viewport/stageOf';
import { loopStore } from './loopStore';

const NO_FACES: number[] = [];

export function LoopPaint() {
  const planned = useStore(planStore, (s) => extraOf(s.plan, 'loop')?.crossed);
  const hovered = useStore(loopStore, (s) => s.aim?.crossed);
  const crossed = planned ?? hovered ?? NO_FACES;
  useEffect(() => {
    stageOf.current?.tint(crossed);
    return () => stageOf.current?.tint(NO_FACES);
  }, [crossed]);
  return null;
}
