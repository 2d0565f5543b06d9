import type { DesignVersion, Household, Shelf } from '@katharos/contract';
import {
  asBuilt,
  errorsOf,
  proposalOf,
  FACT_VERSION,
  readJob,
  type AsBuilt,
  type Catalogue,
  type Design,
  type Fact,
  type FieldKey,
  type HouseRules,
  type JobRecord,
  type Known,
  type Decision,
  type NewFact,
  type Proposal,
  type SystemView,
  type Unreadable,
} from '@katharos/core';
import { createContext, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import { useAppDispatch, useAppSelector, useAppStore } from '../data/store.ts';
import { useGetJobQuery, useGetShelfQuery } from '../data/api.ts';
import { jobWith } from '../data/outbox/jobWith.ts';
import { recordFacts } from '../data/outbox/outbox.ts';
import type { Trial } from '../data/session.ts';
import { askEarly, shelfKey, useCore, type Answer } from '../data/useCore.ts';

/** What is recorded of a job and what the firm has: it changes when something is recorded, not while a hand tries. */
export interface JobFacts {
  readonly id: string;
  readonly household: Household;
  readonly record: JobRecord;
  readonly facts: readonly Fact[];
  readonly designs: readonly DesignVersion[];
  readonly approved: DesignVersion | null;
  /** the approved system as it stands, with what really went in */
  readonly built: AsBuilt | null;
  readonly unreadable: readonly Unreadable[];
  readonly parts: Catalogue;
  readonly rules: HouseRules;
  readonly people: Shelf['people'];
  readonly instruments: Shelf['instruments'];
  /** half-widths of readings whose instrument the firm knows */
  readonly errors: Partial<Record<FieldKey, number>>;
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

/** The part of a job that stands while figures are tried: the same object until one of its parts changes. */
export function useSteady(job: JobContext | null): JobFacts | null {
  const j = job;
  return useMemo(
    () =>
      j && {
        id: j.id,
        household: j.household,
        record: j.record,
        facts: j.facts,
        designs: j.designs,
        approved: j.approved,
        built: j.built,
        unreadable: j.unreadable,
        parts: j.parts,
        rules: j.rules,
        people: j.people,
        instruments: j.instruments,
        errors: j.errors,
        personName: j.personName,
        add: j.add,
      },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the job itself is new with every answer; its parts are not
    [
      j?.id,
      j?.household,
      j?.record,
      j?.facts,
      j?.designs,
      j?.approved,
      j?.built,
      j?.unreadable,
      j?.parts,
      j?.rules,
      j?.people,
      j?.instruments,
      j?.errors,
      j?.personName,
      j?.add,
    ],
  );
}

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
const OF_A_DESIGN: ReadonlySet<NewFact['kind']> = new Set(['tick', 'timer', 'look', 'proof', 'visit', 'tube-colour']);

/** What a fact is about by id: the approved version, and which instrument it was read with. */
function about(f: NewFact, design: string | undefined, instruments: Shelf['instruments'] | undefined): NewFact {
  const of = design !== undefined && OF_A_DESIGN.has(f.kind) ? { design } : {};
  const name = f.kind === 'reading' || f.kind === 'proof' ? f.instrument?.toLowerCase() : undefined;
  const meter = name === undefined ? undefined : instruments?.find((i) => i.name.toLowerCase() === name);
  return { ...f, ...of, ...(meter ? { instrumentId: meter.id } : {}) };
}

/** Reads a job and its shelf, merges what waits to be sent, and works the system out. */
export function useJobData(id: string): { job: JobContext | null; error: unknown; loading: boolean } {
  const dispatch = useAppDispatch();
  const jobQuery = useGetJobQuery(id);
  const shelfQuery = useGetShelfQuery(null);
  const pending = useAppSelector((s) => s.outbox.pending);
  const personId = useAppSelector((s) => s.session.personId);
  const stored = jobQuery.data;
  const shelf = shelfQuery.data;

  const server = useMemo(() => jobWith(stored, pending, id), [stored, pending, id]);
  const facts = useMemo(() => server?.facts ?? [], [server]);
  const designs = server?.designs;
  const built = useMemo(() => (designs ? asBuilt(designs, facts) : null), [designs, facts]);
  const record = useMemo(() => built?.record ?? readJob(facts), [built, facts]);
  const trialNow = useAppSelector((s) => s.session.trial);
  const trial = trialNow?.jobId === id ? trialNow : null;
  const known = useMemo(() => (trial ? { ...record.known, ...trial.values } : record.known), [record.known, trial]);
  const key = useMemo(() => (shelf ? shelfKey(shelf.parts, shelf.rules) : null), [shelf]);
  const instruments = shelf?.instruments;
  const errors = useMemo(
    () =>
      errorsOf(
        Object.values(record.readings).flatMap((r) =>
          r.instrument !== undefined && typeof r.value === 'number'
            ? [{ field: r.field, value: r.value, instrument: r.instrument, instrumentId: r.instrumentId }]
            : [],
        ),
        instruments ?? [],
      ),
    [record.readings, instruments],
  );
  // what is tried is asked before the page is drawn with it
  const store = useAppStore();
  useEffect(() => {
    let last = store.getState().session.trial;
    return store.subscribe(() => {
      const now = store.getState().session.trial;
      if (now === last) return;
      last = now;
      if (key !== null && now?.jobId === id) askEarly('decide', [key, { ...record.known, ...now.values }]);
    });
  }, [store, key, id, record.known]);
  const decision = useCore('decide', key !== null && server ? [key, known] : null);
  // what the readings themselves decide stays on hand while something else is tried
  const [asRead, setAsRead] = useState<Decision>();
  if (!trial && decision.fresh && decision.value !== asRead) setAsRead(decision.value);
  const approved = built?.version ?? null;
  const proposal = useMemo(() => proposalOf(decision.value), [decision.value]);
  const design = proposal && 'design' in proposal ? proposal.design : null;
  const proposed = useCore('view', key !== null && proposal && !built ? [key, known, proposal] : null);
  const standing = useCore(
    'viewBuilt',
    built ? [built.system, trial ? known : built.version.judged.known, built.version.judged.rules] : null,
  );
  const view = built ? standing : proposed;
  const shown = useMemo(() => {
    if (!view.value?.ok) return null;
    // what an approved version is flushed by is what was made for it then
    return built ? { ...view.value.view, sheet: built.version.sheet } : view.value.view;
  }, [view.value, built]);

  const approvedId = approved?.id;
  const add = useCallback(
    (...news: NewFact[]) => {
      if (personId === null) return;
      const now = Date.now();
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
    [dispatch, id, personId, approvedId, instruments],
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
            built,
            unreadable: server.unreadable,
            parts: shelf.parts,
            rules: shelf.rules,
            people: shelf.people,
            instruments: shelf.instruments,
            errors,
            known,
            trial,
            asRead: trial ? asRead : decision.value,
            decision,
            design,
            proposal,
            view: shown,
            viewFresh: view.fresh && decision.fresh,
            viewProblem: view.value && !view.value.ok ? view.value.reason : view.error,
            personName,
            add,
          }
        : null,
    [
      server,
      shelf,
      id,
      record,
      facts,
      errors,
      approved,
      built,
      known,
      trial,
      asRead,
      decision,
      design,
      proposal,
      shown,
      view,
      personName,
      add,
    ],
  );
  return {
    job,
    error: server && shelf ? undefined : (jobQuery.error ?? shelfQuery.error),
    loading: (jobQuery.isLoading && !server) || shelfQuery.isLoading,
  };
}
