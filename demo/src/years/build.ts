import {
  agreedStep,
  decide,
  FACT_VERSION,
  householdTexts,
  jointsOf,
  jointStep,
  judgedSite,
  makeVersion,
  readJob,
  type Catalogue,
  type Design,
  type Fact,
  type FieldKey,
  type HouseRules,
  type NewFact,
} from '@katharos/core';
import type { DemoHouse } from '../house.ts';
import { HOUSES } from '../houses.ts';
import { uuidOf } from '../ids.ts';
import type { DemoJob } from '../job.ts';
import { liveYears, planDue } from './live.ts';
import { townHouses, type TownHouse } from './town.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** A design that is put in at houses of one kind, decided once for the one drawn by hand. */
function designs(catalogue: Catalogue, rules: HouseRules): (like: DemoHouse) => Design {
  const made = new Map<string, Design>();
  return (like) => {
    const known = made.get(like.key);
    if (known) return known;
    const values = Object.fromEntries(Object.entries(like.readings).map(([k, r]) => [k, r.value]));
    const decision = decide({ known: values, placed: like.placed ?? {}, catalogue, rules });
    if (decision.kind !== 'recommendation') throw new Error(`${like.key}: ${decision.sentence}`);
    made.set(like.key, decision.chosen.design);
    return decision.chosen.design;
  };
}

/** What a house of the town is put together from. */
interface Making {
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
  readonly nowMs: number;
  readonly designOf: (like: DemoHouse) => Design;
  /** who drives out: the first to the quay's half of the town, the second to the ridge's */
  readonly fitters: readonly [string, string];
}

/** Those of the town one of the two lives nearer to. */
const SECOND_HAS = /ridge|reservoir|weir|moor/;

function townJob(of: TownHouse, nth: number, m: Making): DemoJob & { readonly planned: boolean } {
  const { catalogue, rules, nowMs } = m;
  const jobId = uuidOf(`job ${of.key}`);
  const by = m.fitters[SECOND_HAS.test(of.place) ? 1 : 0];
  const facts: Fact[] = [];
  const put = (atMs: number, fact: NewFact): Fact => {
    const id = uuidOf(`fact ${of.key} ${String(facts.length)}`);
    const made: Fact = { ...fact, v: FACT_VERSION, id, jobId, at: new Date(Math.round(atMs)).toISOString(), by };
    facts.push(made);
    return made;
  };
  const gaugedMs = nowMs - (of.daysAgo + 6) * DAY;
  Object.entries(of.readings).forEach(([field, r], i) => {
    put(gaugedMs + i * 60_000, {
      kind: 'reading', field: field as FieldKey, value: r.value, typed: r.typed, ...(r.instrument ? { instrument: r.instrument } : {}),
    });
  }); // oxfmt-ignore
  const { known, placed } = readJob(facts);
  const startMs = nowMs - of.daysAgo * DAY;
  let born = 0;
  const version = makeVersion(
    { known, placed, catalogue, rules },
    { design: m.designOf(of.like) },
    {
      id: uuidOf(`design ${of.key}`), at: new Date(gaugedMs + HOUR).toISOString(), by, reason: '', against: '', before: null,
      newId: () => uuidOf(`thing ${of.key} ${String(born++)}`),
    },
  ); // oxfmt-ignore
  const site = judgedSite(version.judged);
  if (!site) throw new Error(`${of.key} is not known`);
  if (of.fate !== 'adopted') {
    put(startMs - 5 * HOUR, { kind: 'tick', design: version.id, step: agreedStep('holes'), done: true });
    for (const j of jointsOf(version.system))
      put(startMs - 5 * HOUR + j.number * 60_000, { kind: 'tick', design: version.id, step: jointStep(j.id), done: true });
    version.sheet.forEach((s, i) => {
      put(startMs - 3 * HOUR + i * 5 * 60_000, { kind: 'tick', design: version.id, step: s.key, done: true });
    });
  }
  liveYears(of, version, site, startMs, nowMs, facts, put);
  const planned = planDue(version, facts, nth, nowMs, m.fitters, put);
  const { name, place, contact, phone, keyHolder = '' } = of;
  const household = { id: uuidOf(`household ${of.key}`), ...householdTexts({ name, place, contact, phone, keyHolder }), version: 0 };
  return { household, jobId, facts: facts.sort((a, b) => Date.parse(a.at) - Date.parse(b.at)), designs: [version], planned };
} // oxfmt-ignore

/** The houses the firm has looked after for up to four years, with a coming week of visits. @param nowMs ms since 1970 */
export function buildTown(catalogue: Catalogue, rules: HouseRules, nowMs: number, fitters: readonly [string, string]): DemoJob[] {
  const making = { catalogue, rules, nowMs, designOf: designs(catalogue, rules), fitters };
  let nth = 0;
  return townHouses(HOUSES).map((of) => {
    const { planned, ...job } = townJob(of, nth, making);
    if (planned) nth++;
    return job;
  });
} // oxfmt-ignore
