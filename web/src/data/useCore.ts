import type { Catalogue, HouseRules } from '@katharos/core';
import type { Remote } from 'comlink';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { takeWorker } from '../boot/prefetched.ts';
import type { CoreWorker } from './core.worker.ts';

/** The sentence and the Line do not wait behind what takes longer: that has a worker of its own. */
type Lane = 'first' | 'slow';
const SLOW: ReadonlySet<keyof CoreWorker> = new Set(['study', 'turns', 'bands', 'day', 'seasons', 'faults']);
/** What takes longest is asked once the hand rests: while it moves, the sentence has the machine to itself. */
const AT_REST: ReadonlySet<keyof CoreWorker> = new Set(['study', 'turns', 'bands', 'faults']);
const REST_MS = 250;
const remotes: Partial<Record<Lane, Remote<CoreWorker>>> = {};

/** Every shelf the page has had, for a worker that starts later. */
const shelvesSent = new Map<string, { readonly catalogue: Catalogue; readonly rules: HouseRules }>();

/** The two workers of the page, each started when first asked, and given the shelves there are. */
function coreWorker(lane: Lane): Remote<CoreWorker> {
  const there = remotes[lane];
  if (there) return there;
  const made = takeWorker<CoreWorker>();
  remotes[lane] = made;
  // questions are answered in the order they are asked: the shelf is there before the first that names it
  for (const [key, { catalogue, rules }] of shelvesSent) void made.setShelf(key, catalogue, rules);
  return made;
}

const shelfKeys = new WeakMap<Catalogue, { readonly rules: HouseRules; readonly key: string }>();
let shelfCount = 0;
/** Shelves a worker keeps at the most: the newest, and what a question under way may still name. */
const KEPT = 3;

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

let asking = 0;
const watchers = new Set<() => void>();
function count(by: 1 | -1): void {
  asking += by;
  for (const w of watchers) w();
}

/** Whether anything is being worked out at this moment. */
export function useWorking(): boolean {
  return useSyncExternalStore(
    (w) => {
      watchers.add(w);
      return () => watchers.delete(w);
    },
    () => asking > 0,
  );
}

/** Waits until what is wanted has stood still for a moment. @returns what is wanted then */
async function handRests(wanted: () => string | null): Promise<string | null> {
  let last: string | null;
  do {
    last = wanted();
    await new Promise((r) => setTimeout(r, REST_MS));
  } while (wanted() !== last);
  return last;
}

type Functions = Omit<{ [K in keyof CoreWorker]: CoreWorker[K] }, 'setShelf' | 'prefetchDecision'>;

const ask = (name: keyof Functions, asked: string): Promise<unknown> => {
  const call = coreWorker(SLOW.has(name) ? 'slow' : 'first')[name] as unknown as (...a: unknown[]) => Promise<unknown>;
  return call(...(JSON.parse(asked) as unknown[]));
};
/** Asks once, for what a hand has decided on. @throws what the worker found wrong */
export async function askCore<K extends keyof Functions>(
  name: K,
  args: Parameters<Functions[K]>,
): Promise<ReturnType<Functions[K]>> {
  return (await ask(name, JSON.stringify(args))) as ReturnType<Functions[K]>;
}

/** Questions that wait for their answer, and one that was asked before the page came to it. */
const underWay = new Set<keyof Functions>();
let early: { readonly name: keyof Functions; readonly asked: string; readonly answer: Promise<unknown> } | null = null;

/**
 * Asks what the page will ask once it is drawn again, so that the worker begins at once. Nothing is asked while another of
 * its kind is under way: the newest is asked then anyway.
 */
export function askEarly<K extends keyof Functions>(name: K, args: Parameters<Functions[K]>): void {
  if (typeof Worker === 'undefined' || underWay.has(name)) return;
  const asked = JSON.stringify(args);
  const answer = ask(name, asked);
  // a fault is told where the question is asked for good
  answer.catch(() => undefined);
  early = { name, asked, answer };
}

/** A question's last answer; `fresh` tells whether it answers the question asked now. */
export interface Answer<T> {
  readonly value: T | undefined;
  readonly fresh: boolean;
  readonly error: string | null;
}

/**
 * Asks the worker and keeps the last answer on the page while a new one is worked out. One question of a kind is in
 * flight; while it is, only the newest next one is kept, older ones are dropped.
 * @param args null asks nothing
 */
export function useCore<K extends keyof Functions>(
  name: K,
  args: Parameters<Functions[K]> | null,
): Answer<ReturnType<Functions[K]>> {
  type Result = ReturnType<Functions[K]>;
  const key = args === null ? null : JSON.stringify(args);
  const [answer, setAnswer] = useState<{ key: string | null; value: Result | undefined; error: string | null }>({
    key: null,
    value: undefined,
    error: null,
  });
  const state = useRef<{ busy: boolean; asked: boolean; wanted: string | null; alive: boolean }>({
    busy: false,
    asked: false,
    wanted: null,
    alive: true,
  });
  useEffect(() => {
    const s = state.current;
    s.alive = true;
    return () => {
      s.alive = false;
    };
  }, []);
  useEffect(() => {
    const s = state.current;
    s.wanted = key;
    if (key === null || s.busy) return;
    const rests = s.asked && AT_REST.has(name);
    s.asked = true;
    const run = async (): Promise<void> => {
      s.busy = true;
      underWay.add(name);
      count(1);
      try {
        while (s.wanted !== null && s.alive) {
          const asked: string | null = rests ? await handRests(() => s.wanted) : s.wanted;
          if (asked === null) return;
          try {
            const begun = early?.name === name && early.asked === asked ? early.answer : null;
            if (begun) early = null;
            const value = (await (begun ?? ask(name, asked))) as Result;
            setAnswer({ key: asked, value, error: null });
          } catch (e) {
            setAnswer((a) => ({
              ...a,
              key: asked,
              error: e instanceof Error ? e.message : 'It could not be worked out.',
            }));
          }
          if (s.wanted === asked) return;
        }
      } finally {
        s.busy = false;
        underWay.delete(name);
        count(-1);
      }
    };
    void run();
  }, [key, name]);
  return { value: key === null ? undefined : answer.value, fresh: answer.key === key, error: answer.error };
}
