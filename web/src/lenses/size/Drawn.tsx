import { memo, useEffect, useState, type ReactElement } from 'react';

/** A browser that is never at rest draws all the same after so long, ms. */
const AT_LATEST_MS = 600;

/** Waits until the page has nothing else to do. */
const atRest = (): Promise<void> =>
  new Promise((resolve) => {
    const go = (): void => {
      resolve();
    };
    if (typeof requestIdleCallback === 'undefined') setTimeout(go);
    else requestIdleCallback(go, { timeout: AT_LATEST_MS });
  });
let before: Promise<void> = Promise.resolve();

interface Props {
  /** what is drawn: it is drawn again only when one of these is another; null while it has not come */
  readonly of: readonly unknown[] | null;
  /** what it takes up, px */
  readonly height: number;
  readonly children: () => ReactElement;
}

/** A chart. It takes longer to draw than a hand may wait: each is drawn in its turn, and only when what it shows is another. */
export const Drawn = memo(
  function Drawn({ of, height, children }: Props): ReactElement {
    const [turn, setTurn] = useState(false);
    const here = of !== null;
    useEffect(() => {
      if (!here) return;
      let alive = true;
      before = before.then(atRest).then(() => {
        if (alive) setTurn(true);
      });
      return () => {
        alive = false;
      };
    }, [here]);
    return here && turn ? children() : <div style={{ height }} aria-busy />;
  },
  (a, b) => a.of === b.of || (a.of !== null && b.of !== null && a.of.every((x, i) => Object.is(x, b.of?.[i]))),
);
