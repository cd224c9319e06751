/** What is only worth saying when it lasts. */
import { useEffect, useState } from 'react';

/** Nobody waits for what takes no longer. */
const LATE_MS = 250;

/** Whether something has gone on for so long that it should be said. */
export function useLate(on: boolean): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    setLate(false);
    if (!on) return;
    const timer = setTimeout(() => setLate(true), LATE_MS);
    return () => clearTimeout(timer);
  }, [on]);
  return on && late;
}
