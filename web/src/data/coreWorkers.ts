import type { KeptDecision } from '@katharos/contract';
import type { Catalogue, HouseRules, Placed } from '@katharos/core';
import type { Remote } from 'comlink';
import { newWorker, takeWorker } from '../boot/prefetched.ts';
import type { CoreWorker } from './core.worker.ts';
import { KEY_PARTS } from './shelfKeys.ts';

/** What the computation can be asked, by name. */
export type Questions = Omit<CoreWorker, 'setShelf' | 'setPlaced' | 'setKept' | 'prefetchDecision'>;

/** The sentence and the Line do not wait behind what takes longer: that has a worker of its own. */
type Lane = 'first' | 'slow';
const SLOW: ReadonlySet<keyof Questions> = new Set([
  'study',
  'turns',
  'softening',
  'vented',
  'bands',
  'day',
  'seasons',
  'faults',
  'remedies',
  'provisional',
  'layout',
  'wouldGo',
]);
const remotes: Partial<Record<Lane, Remote<CoreWorker>>> = {};

/** The newest shelves the page has had, for a worker that starts later and for what a question under way may still name. */
const shelvesSent = new Map<string, { readonly catalogue: Catalogue; readonly rules: HouseRules }>();
const KEPT = 3;

/** The two workers of the page, each started when first asked, and given the shelves there are. */
function coreWorker(lane: Lane): Remote<CoreWorker> {
  const there = remotes[lane];
  if (there) return there;
  // what was begun ahead is for what decides, whatever is asked first
  const made = lane === 'first' ? takeWorker<CoreWorker>() : newWorker<CoreWorker>();
  remotes[lane] = made;
  // questions are answered in the order they are asked: the shelf is there before the first that names it
  for (const [key, { catalogue, rules }] of shelvesSent) void made.setShelf(key, catalogue, rules);
  for (const [name, placed] of Object.values(placesSent)) void made.setPlaced(name, placed);
  return made;
}

const shelfKeys = new WeakMap<Catalogue, { readonly rules: HouseRules; readonly key: string }>();
let shelfCount = 0;

/** What the workers know of cupboards, by what it says. */
const placesSent: Record<string, readonly [string, Placed]> = {};

/** The name the workers know a shelf by, and what stands in a cupboard; what they have not seen is sent to them first. */
export function houseKey(catalogue: Catalogue, rules: HouseRules, placed: Placed): string {
  const shelf = shelfKey(catalogue, rules);
  if (Object.keys(placed).length === 0) return shelf;
  const said = JSON.stringify(placed);
  const known = placesSent[said];
  if (known) return `${shelf}${KEY_PARTS}${known[0]}`;
  const name = String(Object.keys(placesSent).length + 1);
  placesSent[said] = [name, placed];
  for (const worker of Object.values(remotes)) void worker.setPlaced(name, placed);
  return `${shelf}${KEY_PARTS}${name}`;
}

/** The name the workers know a shelf by; one they have not seen is sent to them first. */
export function shelfKey(catalogue: Catalogue, rules: HouseRules): string {
  const known = shelfKeys.get(catalogue);
  if (known?.rules === rules) return known.key;
  const key = String(++shelfCount);
  shelfKeys.set(catalogue, { rules, key });
  shelvesSent.set(key, { catalogue, rules });
  const [oldest] = shelvesSent.keys();
  if (shelvesSent.size > KEPT && oldest !== undefined) shelvesSent.delete(oldest);
  for (const worker of Object.values(remotes)) void worker.setShelf(key, catalogue, rules);
  return key;
}

/** Gives the computation what the server decided of a job, before it is asked. @param stamp of the shelf the page has */
export function takeUpDecision(catalogue: Catalogue, rules: HouseRules, kept: KeptDecision, stamp: string): void {
  void coreWorker('first').setKept(shelfKey(catalogue, rules), kept, stamp);
}

/** Puts a question to the worker of its lane, past the cache: for what a hand has decided on. @throws what the worker found wrong */
export function askWorker<K extends keyof Questions>(
  name: K,
  args: Parameters<Questions[K]>,
): Promise<ReturnType<Questions[K]>> {
  const call = coreWorker(SLOW.has(name) ? 'slow' : 'first')[name] as unknown as (
    ...a: Parameters<Questions[K]>
  ) => Promise<ReturnType<Questions[K]>>;
  return call(...args);
}
