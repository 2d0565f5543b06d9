import { CHARTS } from './charts.ts';
import { CUPBOARD } from './cupboard.ts';
import { LABORATORY } from './laboratory.ts';
import type { LazyPart } from './lazyPart.ts';
import { HOUSEHOLD, ROUNDS } from './rounds.ts';
import { SHEETS } from './sheets.ts';
import { whenHandRests } from './whenHandRests.ts';

/** What is fetched and run while a hand rests: no more than one part between two looks whether it still does. */
type Part = Pick<LazyPart<never>, 'fetch'> & { readonly come: unknown };

/** A hand rests this long before a part is fetched that the page does not show yet, ms. */
const REST_MS = 2000;
/** Where it still does, the next one follows so soon: signal may go at any time, ms. */
const NEXT_MS = 100;
/** Charts are as much script as all the rest, and run in one piece: a hand has left the page for this long, ms. */
const CHARTS_MS = 8000;

/**
 * Fetches what has not come yet, one part after another while the hand rests, so that every part of a job opens at
 * once, and where there is no signal too. What does not come now is asked for again where it is opened.
 * @returns takes it back, as far as it was not done
 */
export function fetchTheRest(
  parts: readonly Part[] = [...Object.values(SHEETS), CUPBOARD, LABORATORY, ROUNDS, HOUSEHOLD],
  charts: readonly Part[] = Object.values(CHARTS),
): () => void {
  const wanted = [...parts, ...charts];
  let stop = (): void => undefined;
  let over = false;
  const next = (ms: number): void => {
    const part = wanted.find((p) => p.come === null);
    if (over || part === undefined) return;
    wanted.splice(wanted.indexOf(part), 1);
    const act = (): void => {
      void part
        .fetch()
        .catch(() => undefined)
        .then(() => {
          next(NEXT_MS);
        });
    };
    stop = charts.includes(part) ? whenHandRests(CHARTS_MS, act) : whenHandRests(REST_MS, act, ms);
  };
  next(REST_MS);
  return () => {
    over = true;
    stop();
  };
}
