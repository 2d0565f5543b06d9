import type { DesignVersion, Household, Job, Shelf } from '@katharos/contract';
import {
  asBuilt,
  drinkBasis,
  errorsOf,
  readJob,
  standingIn,
  type AsBuilt,
  type Catalogue,
  type DrinkBasis,
  type Fact,
  type FieldKey,
  type HouseRules,
  type JobRecord,
  type Known,
  type StandingDesign,
  type Unreadable,
} from '@katharos/core';
import { createSelector } from '@reduxjs/toolkit';
import { api } from '../data/api.ts';
import { jobWith } from '../data/outbox/jobWith.ts';
import { selectOwnPending } from '../data/outbox/state.ts';
import type { Trial } from '../data/session.ts';
import type { RootState } from '../data/store.ts';

/** What is recorded of a job and what the firm has: it changes when something is recorded, not while a hand tries. */
export interface JobRecorded {
  readonly id: string;
  readonly household: Household;
  readonly record: JobRecord;
  readonly facts: readonly Fact[];
  readonly designs: readonly DesignVersion[];
  readonly approved: DesignVersion | null;
  /** the approved system as it stands, with what really went in */
  readonly built: AsBuilt | null;
  /** its parts, which are preferred where the house is sized anew; null where no design is approved */
  readonly standing: StandingDesign | null;
  /** what whether they may drink rests on */
  readonly drinking: DrinkBasis;
  readonly unreadable: readonly Unreadable[];
  readonly parts: Catalogue;
  readonly rules: HouseRules;
  readonly people: Shelf['people'];
  readonly instruments: Shelf['instruments'];
  /** half-widths of readings whose instrument the firm knows, in the unit of each field */
  readonly errors: Partial<Record<FieldKey, number>>;
}

const idOf = (_: RootState, id: string): string => id;
const storedJob = (s: RootState, id: string): Job | undefined => api.endpoints.getJob.select(id)(s).data;
const selectShelf = (s: RootState): Shelf | undefined => api.endpoints.getShelf.select(null)(s).data;

/** A job as the server has it, with what of it waits on this device; null where neither has it. */
export const selectJob = createSelector([storedJob, selectOwnPending, idOf], jobWith);

/** The approved system with the facts about it; null where none is approved. */
const selectBuilt = createSelector([selectJob], (job) => (job ? asBuilt(job.designs, job.facts) : null));
const selectRecord = createSelector(
  [selectJob, selectBuilt],
  (job, built): JobRecord => built?.record ?? readJob(job?.facts ?? []),
);

const selectDrinking = createSelector([selectJob, selectBuilt], (job, built): DrinkBasis =>
  drinkBasis(job?.designs ?? [], job?.facts ?? [], built),
);

/** What is tried of this job in place of what was read; null where nothing is, or where it is of another job. */
export const selectTrial = (s: RootState, id: string): Trial | null =>
  s.session.trial?.jobId === id ? s.session.trial : null;

/** The readings in use: those taken, with what is tried in their place. */
export const selectKnown = createSelector([selectRecord, selectTrial], (record, trial): Known =>
  trial ? { ...record.known, ...trial.values } : record.known,
);

const selectErrors = createSelector([selectRecord, selectShelf], (record, shelf) =>
  errorsOf(Object.values(record.readings), shelf?.instruments ?? []),
);

/** All that is recorded of a job; null until both the job and the shelf are here. The same object until one of them changes. */
export const selectRecorded = createSelector(
  [selectJob, selectShelf, selectRecord, selectBuilt, selectErrors, selectDrinking],
  (job, shelf, record, built, errors, drinking): JobRecorded | null =>
    job && shelf
      ? {
          id: job.id,
          household: job.household,
          record,
          facts: job.facts,
          designs: job.designs,
          approved: built?.version ?? null,
          built,
          standing: built && standingIn(built.system),
          drinking,
          unreadable: job.unreadable,
          parts: shelf.parts,
          rules: shelf.rules,
          people: shelf.people,
          instruments: shelf.instruments,
          errors,
        }
      : null,
);
