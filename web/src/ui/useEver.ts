import { useState } from 'react';

/** Whether something has been so since the page came: what is seldom opened is built when it is first opened. */
export function useEver(now: boolean): boolean {
  const [ever, setEver] = useState(now);
  if (now && !ever) setEver(true);
  return now || ever;
}
