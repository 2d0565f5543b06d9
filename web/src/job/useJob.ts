import type { Shelf } from '@katharos/contract';
import {
  FACT_VERSION,
  proposalOf,
  sheetNow,
  type Decision,
  type Design,
  type Fact,
  type Known,
  type NewFact,
  type Proposal,
  type SystemView,
} from '@katharos/core';
import { notifications } from '@mantine/notifications';
import { createContext, useCallback, useContext, useMemo } from 'react';
import { useGetJobQuery, useGetShelfQuery } from '../data/api.ts';
import { houseKey, takeUpDecision } from '../data/coreWorkers.ts';
import { recordFacts } from '../data/outbox/outbox.ts';
import { selectMay, type Trial } from '../data/session.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { useCore, type Answer } from '../data/useCore.ts';
import { useDecision } from './useDecision.ts';
import { useKeptDecision } from './useKeptDecision.ts';
import { selectJob, selectKnown, selectRecorded, selectTrial, type JobRecorded } from './selectors.ts';
import { nowMs } from '../ui/clock.ts';

/** What is recorded of the page's job, and the way to record more. */
export interface JobFacts extends JobRecorded {
  readonly personName: (id: string) => string;
  readonly add: (...facts: NewFact[]) => void;
}

/** Everything a lens needs of the job it is on. */
export interface JobContext extends JobFacts {
  /** readings in use: those taken, with what is being tried in their place */
  readonly known: Known;
  readonly trial: Trial | null;
  /** what was decided from the readings as they are, while something else is tried; the same object otherwise */
  readonly asRead: Decision | undefined;
  readonly decision: Answer<Decision>;
  /** what is decided, in a sentence; while figures move, what can be said at once of what was advised before */
  readonly sentence: string | undefined;
  /** the recommended design; null where none is */
  readonly design: Design | null;
  /** what would be put in, a design or filters; null where nothing is */
  readonly proposal: Proposal | null;
  /** the approved system as it was judged, else the proposed one; while something is tried, under what is tried */
  readonly view: SystemView | null;
  readonly viewFresh: boolean;
  readonly viewProblem: string | null;
}

export type { NewFact };

export const JobContext = createContext<JobContext | null>(null);
export const JobFactsContext = createContext<JobFacts | null>(null);

/** What is recorded of the page's job: for what need not be drawn again while figures are tried. @throws outside a job's page */
export function useJobFacts(): JobFacts {
  const facts = useContext(JobFactsContext);
  if (!facts) throw new Error('useJobFacts outside a job');
  return facts;
}

/** The job of the page. @throws outside a job's page (a programming fault) */
export function useJob(): JobContext {
  const job = useContext(JobContext);
  if (!job) throw new Error('useJob outside a job');
  return job;
}

/** Kinds of facts that tell of the approved design. */
const OF_A_DESIGN: ReadonlySet<NewFact['kind']> = new Set([
  'tick',
  'timer',
  'look',
  'proof',
  'visit',
  'tube-colour',
  'stock-out',
  'handed',
]);

/** What a fact is about by id: the approved version, and which instrument it was read with. */
function about(f: NewFact, design: string | undefined, instruments: Shelf['instruments'] | undefined): NewFact {
  const of = design !== undefined && OF_A_DESIGN.has(f.kind) ? { design } : {};
  const name = f.kind === 'reading' || f.kind === 'proof' ? f.instrument?.toLowerCase() : undefined;
  const meter = name === undefined ? undefined : instruments?.find((i) => i.name.toLowerCase() === name);
  return { ...f, ...of, ...(meter ? { instrumentId: meter.id } : {}) };
}

/** What is recorded of a job, from the server and from what waits on this device; null until it is here. */
function useRecorded(id: string): { facts: JobFacts | null; error: unknown; loading: boolean } {
  const dispatch = useAppDispatch();
  const jobQuery = useGetJobQuery(id);
  const shelfQuery = useGetShelfQuery(null);
  const recorded = useAppSelector((s) => selectRecorded(s, id));
  const known = useAppSelector((s) => selectJob(s, id) !== null);
  const personId = useAppSelector((s) => s.session.personId);
  const mayWrite = useAppSelector((s) => selectMay(s, 'POST /jobs/:id/facts'));
  const approvedId = recorded?.approved?.id;
  const instruments = recorded?.instruments;
  const add = useCallback(
    (...news: NewFact[]) => {
      if (personId === null) return;
      if (!mayWrite) {
        notifications.show({ message: 'You look here: nothing was written.' });
        return;
      }
      const now = nowMs();
      const stamped = news.map((f, i) => ({
        ...about(f, approvedId, instruments),
        v: FACT_VERSION,
        id: crypto.randomUUID(),
        jobId: id,
        at: new Date(now + i).toISOString(),
        by: personId,
      })) as Fact[];
      void dispatch(recordFacts(stamped));
    },
    [dispatch, id, personId, mayWrite, approvedId, instruments],
  );
  const people = recorded?.people;
  const personName = useCallback((pid: string) => people?.find((p) => p.id === pid)?.name ?? 'somebody', [people]);
  const facts = useMemo(() => recorded && { ...recorded, personName, add }, [recorded, personName, add]);
  return {
    facts,
    error: facts ? undefined : (jobQuery.error ?? shelfQuery.error),
    loading: (jobQuery.isLoading && !known) || shelfQuery.isLoading,
  };
}

/** Reads a job and its shelf, with what waits to be sent, and has the system worked out. */
export function useJobData(id: string): {
  job: JobContext | null;
  facts: JobFacts | null;
  error: unknown;
  loading: boolean;
} {
  const { facts, error, loading } = useRecorded(id);
  const trial = useAppSelector((s) => selectTrial(s, id));
  const known = useAppSelector((s) => selectKnown(s, id));
  const built = facts?.built ?? null;
  const parts = facts?.parts;
  const rules = facts?.rules;
  const placed = facts?.record.placed;
  const kept = useKeptDecision(id, facts !== null);
  const key = useMemo(() => {
    if (!parts || !rules || !placed || kept === undefined) return null;
    if (kept) takeUpDecision(parts, rules, kept.kept, kept.stamp);
    return houseKey(parts, rules, placed);
  }, [parts, rules, placed, kept]);
  const approvedParts = facts?.standing ?? null;
  const { decision, sentence } = useDecision(facts ? key : null, id, known, approvedParts);
  // what the readings themselves decide stays on hand while something else is tried
  const asRead = useCore('decide', key !== null && facts && trial ? [key, facts.record.known, approvedParts] : null);
  const proposal = useMemo(() => proposalOf(decision.value), [decision.value]);
  const proposed = useCore('view', key !== null && proposal && !built ? [key, known, proposal] : null);
  const judged = built?.version.judged;
  const standing = useCore(
    'viewBuilt',
    built && judged ? [built.system, trial ? known : judged.known, judged.rules] : null,
  );
  const view = built ? standing : proposed;
  const shown = useMemo(() => {
    if (!view.value?.ok) return null;
    // what an approved version is flushed by is what was made for it then
    return built ? { ...view.value.view, sheet: sheetNow(built, view.value.view.sheet) } : view.value.view;
  }, [view.value, built]);
  const job = useMemo(
    (): JobContext | null =>
      facts && {
        ...facts,
        known,
        trial,
        asRead: trial ? asRead.value : decision.value,
        decision,
        sentence,
        design: proposal && 'design' in proposal ? proposal.design : null,
        proposal,
        view: shown,
        viewFresh: view.fresh && decision.fresh,
        viewProblem: view.value && !view.value.ok ? view.value.reason : view.error,
      },
    [facts, known, trial, asRead, decision, sentence, proposal, shown, view],
  );
  return { job, facts, error, loading };
}
