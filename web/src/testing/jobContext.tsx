import {
  asBuilt,
  buildSystem,
  choiceFor,
  drinkBasis,
  FACT_VERSION,
  FactSchema,
  judgedSite,
  makeVersion,
  operateIn,
  proposalOf,
  readJob,
  runSheet,
  standingIn,
  viewOf,
  viewSystem,
  type Approval,
  type DesignVersion,
  type Fact,
  type HouseRules,
  type Known,
  type Proposal,
  type SizeInput,
  householdTexts,
} from '@katharos/core';
import { house, rules as firmRules, shelf } from '@katharos/core/testing';
import { jest } from '@jest/globals';
import type { ReactElement } from 'react';
import { renderIn } from './renderIn.tsx';
import { JobProvider } from '../job/JobProvider.tsx';
import type { JobContext, NewFact } from '../job/useJob.ts';
import { decided } from '@katharos/core/testing/decided';

export const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
export const WHO = '5f0c4b1e-2222-4222-a222-000000000002';

let serial = 0;
/** A stamped fact, some minutes ago. */
export function happened(fact: NewFact, minutesAgo = 0): Fact {
  const id = `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`;
  return FactSchema.parse({
    v: FACT_VERSION,
    ...fact,
    id,
    jobId: JOB,
    by: WHO,
    at: new Date(Date.now() - minutesAgo * 60000).toISOString(),
  });
}

/** The readings of a house as facts of yesterday. */
export function readings(known: Known = house): Fact[] {
  return Object.entries(known).map(([field, value]) =>
    happened({ kind: 'reading', field: field as keyof Known, value, typed: String(value), instrument: 'pen A' }, 1440),
  );
}

/** The version an approval of a design makes, its things named by their kind. */
export function versionOf(input: SizeInput, proposal: Proposal, change: Partial<Approval> = {}): DesignVersion {
  const made = makeVersion(input, proposal, {
    id: '5f0c4b1e-4444-4444-a444-000000000001', at: new Date().toISOString(), by: WHO, reason: '', against: '', before: null,
    newId: () => crypto.randomUUID(), ...change,
  }); // oxfmt-ignore
  const site = judgedSite(made.judged);
  if (!site) throw new Error('the house is known');
  const plain = buildSystem(choiceFor(proposal, input.catalogue), input.catalogue, site);
  return { ...made, system: plain, sheet: runSheet(plain, input.rules, operateIn(plain, site, 'today')) };
} // oxfmt-ignore

/** A job as the page would have it, worked out by the real core. */
export function jobOf(
  facts: readonly Fact[],
  approved: boolean,
  ruled: Partial<HouseRules> = {},
): JobContext & { readonly added: NewFact[] } {
  const rules = { ...firmRules, ...ruled };
  const read = readJob(facts);
  const input = { known: read.known, catalogue: shelf, rules };
  const decision = decided(input);
  const proposal = proposalOf(decision);
  const design = proposal && 'design' in proposal ? proposal.design : null;
  const added: NewFact[] = [];
  const version = approved && proposal ? versionOf(input, proposal) : null;
  const built = version && asBuilt([version], facts);
  const record = built?.record ?? read;
  const site = version && judgedSite(version.judged);
  const proposed = proposal ? viewSystem(input, proposal) : null;
  const view =
    built && site
      ? { ...viewOf(built.system, site, [], rules), sheet: version.sheet }
      : proposed?.ok
        ? proposed.view
        : null;
  return {
    id: JOB,
    household: {
      id: '5f0c4b1e-5555-4555-a555-000000000001',
      ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }),
      version: 0,
    },
    record,
    facts,
    designs: version ? [version] : [],
    approved: version,
    built,
    standing: built && standingIn(built.system),
    drinking: drinkBasis(version ? [version] : [], facts, built),
    unreadable: [],
    parts: shelf,
    rules,
    people: [{ id: WHO, name: 'Imra Tole' }],
    instruments: [],
    errors: {},
    known: record.known,
    trial: null,
    asRead: decision,
    decision: { value: decision, fresh: true, error: null },
    sentence: decision.sentence,
    design,
    proposal,
    view,
    viewFresh: true,
    viewProblem: null,
    personName: () => 'Imra Tole',
    add: jest.fn((...news: NewFact[]) => {
      added.push(...news);
    }),
    added,
  };
}

/** Shows a part of a job's page. */
export const show = (element: ReactElement, job: JobContext): ReturnType<typeof renderIn> =>
  renderIn(
    <JobProvider job={job} facts={job}>
      {element}
    </JobProvider>,
  );
