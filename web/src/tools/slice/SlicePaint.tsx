/** Hatches the side of the part that a planned slice takes away. */
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { limitOf, pickStore } from '../../stores/pickStore';
import { extraOf, planStore } from '../../stores/planStore';
import { stageOf } from '../../viewport/stageOf';

export function SlicePaint() {
  const scrap = useStore(planStore, (s) => {
    const extra = extraOf(s.plan, 'slice');
    return extra?.scrap ? extra.planes : null;
  });
  useEffect(() => {
    stageOf.current?.showScrap(scrap ?? [], scrap && limitOf(pickStore.getState()));
    return () => stageOf.current?.showScrap([], null);
  }, [scrap]);
  return null;
}
