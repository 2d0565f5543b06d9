import { useEffect, useState } from 'react';
import { nowMs } from './clock.ts';

/** The clock of the page, ms since 1970, ticking every `everyMs`. */
export function useNow(everyMs = 1000): number {
  const [now, setNow] = useState(nowMs);
  useEffect(() => {
    const id = setInterval(() => {
      setNow(nowMs());
    }, everyMs);
    return () => {
      clearInterval(id);
    };
  }, [everyMs]);
  return now;
}
