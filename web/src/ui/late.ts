/** What is only worth saying when it lasts. */
import { useEffect, useState } from 'react';

/** Nobody waits for what takes no longer. */
const LATE_MS = 250;

/** Who waits so long may want to stop it. */
export const LONG_MS = 2000;

/** Whether something has gone on for so long that it should be said. */
export function useLate(on: boolean, afterMs = LATE_MS): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    setLate(false);
    if (!on) return;
    const timer = setTimeout(() => setLate(true), afterMs);
    return () => clearTimeout(timer);
  }, [on, afterMs]);
  return on && late;
}
