import type { Decision, Known, StandingDesign } from '@katharos/core';
import { useEffect, useState } from 'react';
import type { Questions } from '../data/coreWorkers.ts';
import { useAppStore } from '../data/store.ts';
import { askEarly, useCore, type Answer } from '../data/useCore.ts';
import { selectKnown } from './selectors.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** How long a hand that moves figures must rest before the whole catalogue is searched for them, ms. */
const DECIDE_REST_MS = 120;

type GlanceArgs = Parameters<Questions['glance']>;
const glanceArgs = (key: string, known: Known, { chosen, contenders, risk }: Recommendation): GlanceArgs => [
  key,
  known,
  chosen.design,
  contenders,
  risk,
];

/** Asks for what is tried before the page is drawn with it, so that the worker begins at once. */
function useAskedEarly(
  key: string | null,
  id: string,
  advised: Recommendation | null,
  standing: StandingDesign | null,
): void {
  const store = useAppStore();
  useEffect(() => {
    let last = store.getState().session.trial;
    return store.subscribe(() => {
      const now = store.getState().session.trial;
      if (now === last) return;
      last = now;
      if (key === null || now?.jobId !== id) return;
      const known = selectKnown(store.getState(), id);
      if (advised) store.dispatch(askEarly('glance', glanceArgs(key, known, advised)));
      else store.dispatch(askEarly('decide', [key, known, standing]));
    });
  }, [store, key, id, advised, standing]);
}

/** The decision, and its sentence as the hand moves: by what was advised last at once, by the whole catalogue once it rests. */
export function useDecision(
  key: string | null,
  id: string,
  known: Known,
  standing: StandingDesign | null,
): { decision: Answer<Decision>; sentence: string | undefined } {
  const [advised, setAdvised] = useState<Recommendation | null>(null);
  const decision = useCore('decide', key === null ? null : [key, known, standing], advised ? DECIDE_REST_MS : 0);
  const d = decision.value?.kind === 'recommendation' ? decision.value : null;
  if (d !== advised) setAdvised(d);
  useAskedEarly(key, id, advised, standing);
  const glance = useCore('glance', key !== null && advised && !decision.fresh ? glanceArgs(key, known, advised) : null);
  const atOnce = !decision.fresh && glance.fresh ? glance.value?.sentence : undefined;
  return { decision, sentence: atOnce ?? decision.value?.sentence };
}
