import type { DesignVersion, Household, Shelf } from '@katharos/contract';
import {
  readJob,
  type Catalogue,
  type Design,
  type Fact,
  type HouseRules,
  type JobRecord,
  type Decision,
  type SystemView,
} from '@katharos/core';
import { createContext, useCallback, useContext, useMemo } from 'react';
import { useAppDispatch, useAppSelector } from './store.ts';
import { useGetJobQuery, useGetShelfQuery } from './api.ts';
import { recordFacts } from '../store/outbox.ts';
import { useCore, type Answer } from '../worker/useCore.ts';

type Without<F> = F extends Fact ? Omit<F, 'id' | 'jobId' | 'at' | 'by'> : never;
/** A fact before it is stamped with its id, time and person. */
export type NewFact = Without<Fact>;

/** Everything a lens needs of the job it is on. */
export interface JobContext {
  readonly id: string;
  readonly household: Household;
  readonly record: JobRecord;
  readonly facts: readonly Fact[];
  readonly designs: readonly DesignVersion[];
  readonly approved: DesignVersion | null;
  readonly parts: Catalogue;
  readonly rules: HouseRules;
  readonly people: Shelf['people'];
  readonly decision: Answer<Decision>;
  /** the approved design, else the recommended one */
  readonly design: Design | null;
  readonly view: SystemView | null;
  readonly viewFresh: boolean;
  readonly viewProblem: string | null;
  readonly personName: (id: string) => string;
  readonly add: (...facts: NewFact[]) => void;
}

export const JobContext = createContext<JobContext | null>(null);

/** The job of the page. @throws outside a job's page (a programming fault) */
export function useJob(): JobContext {
  const job = useContext(JobContext);
  if (!job) throw new Error('useJob outside a job');
  return job;
}

/** Reads a job and its shelf, merges what waits to be sent, and works the system out. */
export function useJobData(id: string): { job: JobContext | null; error: unknown; loading: boolean } {
  const dispatch = useAppDispatch();
  const jobQuery = useGetJobQuery(id, { pollingInterval: 20_000, skipPollingIfUnfocused: true, refetchOnFocus: true });
  const shelfQuery = useGetShelfQuery(null);
  const pending = useAppSelector((s) => s.outbox.pending);
  const personId = useAppSelector((s) => s.session.personId);
  const server = jobQuery.data;
  const shelf = shelfQuery.data;

  const facts = useMemo(() => {
    if (!server) return [];
    const have = new Set(server.facts.map((f) => f.id));
    return [...server.facts, ...pending.filter((f) => f.jobId === id && !have.has(f.id))];
  }, [server, pending, id]);
  const record = useMemo(() => readJob(facts), [facts]);
  const input = useMemo(
    () => (shelf ? { known: record.known, catalogue: shelf.parts, rules: shelf.rules } : null),
    [record.known, shelf],
  );
  const decision = useCore('decide', input && server ? [input] : null);
  const approved = server?.designs.at(-1) ?? null;
  const recommended = decision.value?.kind === 'recommendation' ? decision.value.chosen.design : null;
  const design = approved?.design ?? recommended;
  const view = useCore('viewSystem', input && design ? [input, design] : null);

  const add = useCallback(
    (...news: NewFact[]) => {
      if (personId === null) return;
      const now = Date.now();
      const stamped = news.map((f, i) => ({
        ...f,
        id: crypto.randomUUID(),
        jobId: id,
        at: new Date(now + i).toISOString(),
        by: personId,
      })) as Fact[];
      void dispatch(recordFacts(stamped));
    },
    [dispatch, id, personId],
  );
  const people = shelf?.people;
  const personName = useCallback((pid: string) => people?.find((p) => p.id === pid)?.name ?? 'somebody', [people]);

  const job = useMemo(
    (): JobContext | null =>
      server && shelf
        ? {
            id,
            household: server.household,
            record,
            facts,
            designs: server.designs,
            approved,
            parts: shelf.parts,
            rules: shelf.rules,
            people: shelf.people,
            decision,
            design,
            view: view.value?.ok ? view.value.view : null,
            viewFresh: view.fresh && decision.fresh,
            viewProblem: view.value && !view.value.ok ? view.value.reason : view.error,
            personName,
            add,
          }
        : null,
    [server, shelf, id, record, facts, approved, decision, design, view, personName, add],
  );
  return {
    job,
    error: server && shelf ? undefined : (jobQuery.error ?? shelfQuery.error),
    loading: jobQuery.isLoading || shelfQuery.isLoading,
  };
}
