import { useEffect, useState } from 'react';

/** As long as the animation of the styles. */
const FALL_MS = 300;

/** Whether traffic that has just come is still falling; once only. */
export function useFirstFall(isThere: boolean): boolean {
  const [isDone, setDone] = useState(false);
  useEffect(() => {
    if (!isThere) return;
    const timer = setTimeout(() => setDone(true), FALL_MS);
    return () => clearTimeout(timer);
  }, [isThere]);
  return isThere && !isDone;
}
