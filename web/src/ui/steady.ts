import { useCallback, useRef } from 'react';

/** A function that stays the same while what it does is what was last said: who gets it need not be drawn anew. */
export function useSteady<Given extends unknown[]>(run: (...given: Given) => void): (...given: Given) => void {
  const latest = useRef(run);
  latest.current = run;
  return useCallback((...given: Given) => latest.current(...given), []);
}
