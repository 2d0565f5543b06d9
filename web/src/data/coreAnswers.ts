import {
  bandsOf,
  CORE_VERSION,
  decide,
  glanceAt,
  simulateDay,
  makeVersion,
  proposeLayout,
  provisionalFor,
  callTold,
  diagnose,
  layByHand,
  planDay,
  travelBy,
  readJob,
  remediesFor,
  seasonsOf,
  siteFrom,
  studyDesign,
  softeningFor,
  standingAmong,
  turnsOf,
  ventedBeside,
  viewOf,
  viewSystem,
  wouldGo,
  type Approval,
  type Circumstances,
  type Complaint,
  type DayFitter,
  type DayPlan,
  type DayTable,
  type DayVisit,
  type Catalogue,
  type Contender,
  type Decision,
  type Design,
  type FailureCode,
  type Draw,
  type HouseRules,
  type Known,
  type Placed,
  type ProofReadings,
  type Proposal,
  type Room,
  type SizeInput,
  type StandingDesign,
  type Stands,
  type System,
  type SystemResult,
} from '@katharos/core';
import { KEY_PARTS } from './shelfKeys.ts';
import type { Job, KeptDecision, Shelf as ServerShelf } from '@katharos/contract';
import equal from 'fast-deep-equal';

/** The firm's parts and rules, sent once and named by a key after that: a question then carries only what is known. */
interface Shelf {
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
}
const shelves = new Map<string, Shelf>();
/** what stands in cupboards already, by the name a key ends with */
const places = new Map<string, Placed>();
type Errors = SizeInput['errors'];
const inputOf = (
  key: string,
  known: Known,
  errors?: Errors,
  standing?: StandingDesign | null,
): SizeInput & { readonly placed: Placed } => {
  const [shelfName = '', place = ''] = key.split(KEY_PARTS);
  const shelf = shelves.get(shelfName);
  if (!shelf) throw new Error('the shelf has not come yet');
  return { known, ...shelf, placed: places.get(place) ?? {}, errors, standing };
};
const siteOf = (key: string, known: Known) => {
  const { rules, catalogue, placed } = inputOf(key, known);
  const r = siteFrom(known, rules, placed);
  return r.ok ? { site: r.site, catalogue } : null;
};

/** What a decision is made from. */
interface Asked extends Shelf {
  readonly known: Known;
  readonly placed: Placed;
  readonly standing: StandingDesign | null;
}
interface Decided {
  readonly asked: Asked;
  readonly decision: Decision;
}
/** What was decided before it was asked, here and by the server; it holds for the same readings, parts and rules only. */
const decidedBefore: { here?: Decided; kept?: Decided } = {};

/** Takes up what the server decided, as far as it was decided from this shelf and by this core. */
function takeUp(kept: KeptDecision | null, { catalogue, rules }: Shelf, stamp: string): void {
  if (kept?.coreVersion !== CORE_VERSION || kept.stamp !== stamp || stamp === '') return;
  const { known, placed, standing, decision } = kept;
  decidedBefore.kept = { asked: { catalogue, rules, known, placed, standing }, decision };
}
const decisionOn = (asked: Asked): Decision =>
  [decidedBefore.kept, decidedBefore.here].find((d) => d && equal(d.asked, asked))?.decision ?? decide(asked);

/** Everything the page asks the computation, by name; what goes in and out can be sent between threads: see core.worker.ts. */
export const core = {
  /** Decides from a job and a shelf as the server sent them, for the page that will ask it. @param kept what the server decided */
  prefetchDecision: (job: unknown, shelf: unknown, kept: unknown): void => {
    const { facts, designs } = job as Job;
    const { parts: catalogue, rules, stamp } = shelf as ServerShelf;
    takeUp(kept as KeptDecision | null, { catalogue, rules }, stamp);
    const { known, placed } = readJob(facts);
    const asked = { catalogue, rules, known, placed, standing: standingAmong(designs, facts) };
    decidedBefore.here = { asked, decision: decisionOn(asked) };
  },
  /** Takes up what the server decided of a job, before it is asked. @param key of the shelf with this stamp */
  setKept: (key: string, kept: KeptDecision, stamp: string): void => {
    const shelf = shelves.get(key);
    if (shelf) takeUp(kept, shelf, stamp);
  },
  setPlaced: (name: string, placed: Placed): void => {
    places.set(name, placed);
  },
  setShelf: (key: string, catalogue: Catalogue, rules: HouseRules): void => {
    const [oldest] = shelves.keys();
    if (shelves.size >= 3 && oldest !== undefined) shelves.delete(oldest);
    shelves.set(key, { catalogue, rules });
  },
  /** @param standing what is approved already */
  decide: (key: string, known: Known, standing: StandingDesign | null = null): Decision => {
    const { catalogue, rules, placed } = inputOf(key, known);
    return decisionOn({ catalogue, rules, known, placed, standing });
  },
  glance: (key: string, known: Known, design: Design, contenders: readonly Contender[], risk: number) =>
    glanceAt(inputOf(key, known), design, contenders, risk),
  study: (key: string, known: Known, errors: Errors, design: Design, contenders: readonly Contender[], risk: number) =>
    studyDesign(inputOf(key, known, errors), design, contenders, risk),
  turns: (
    key: string,
    known: Known,
    design: Design | null,
    contenders: readonly Contender[],
    risk: number,
    standing: StandingDesign | null,
  ) => turnsOf(inputOf(key, known, undefined, standing), design, contenders, risk),
  softening: (key: string, known: Known, design: Design, standing: StandingDesign | null) =>
    softeningFor(inputOf(key, known, undefined, standing), design),
  /** what would do stored otherwise; null where nothing would */
  vented: (key: string, known: Known, design: Design, worth: number) =>
    ventedBeside(inputOf(key, known), design, worth),
  remedies: (
    key: string,
    known: Known,
    errors: Errors,
    because: readonly FailureCode[],
    standing: StandingDesign | null,
  ) => remediesFor(inputOf(key, known, errors, standing), because),
  provisional: (key: string, known: Known, errors: Errors, standing: StandingDesign | null) =>
    provisionalFor(inputOf(key, known, errors, standing)),
  bands: (key: string, known: Known, errors: Errors, design: Design) => bandsOf(inputOf(key, known, errors), design),
  view: (key: string, known: Known, proposal: Proposal) => viewSystem(inputOf(key, known), proposal),
  /** a system as it was built, in a house as it was judged or as it is tried */
  viewBuilt: (system: System, known: Known, rules: HouseRules): SystemResult => {
    const r = siteFrom(known, rules);
    return r.ok
      ? { ok: true, view: viewOf(system, r.site, r.assumed, rules) }
      : { ok: false, reason: 'Readings this system was designed from are missing.' };
  },
  /** where everything would stand; what stands already stays */
  layout: (system: System, room: Room, fixed: Stands) => proposeLayout(system, room, fixed),
  /** what would make everything go in */
  wouldGo: (key: string, system: System, room: Room, known: Known) =>
    wouldGo(system, room, known, inputOf(key, known).catalogue),
  /** the document an approval keeps */
  version: (key: string, known: Known, proposal: Proposal, approval: Omit<Approval, 'newId'>) =>
    makeVersion(inputOf(key, known), proposal, { ...approval, newId: () => crypto.randomUUID() }),
  faults: (readings: ProofReadings, system: System, known: Known, rules: HouseRules, asked: Circumstances) => {
    const r = siteFrom(known, rules);
    return r.ok ? diagnose(readings, system, r.site, asked) : null;
  },
  /** what a call may come from; null where the house is not known */
  call: (of: Complaint, system: System, known: Known, rules: HouseRules, ageDays: number | undefined) => {
    const r = siteFrom(known, rules);
    return r.ok ? callTold(system, r.site, of, ageDays) : null;
  },
  /** who goes where when; see `planDay` */
  planDay: (visits: readonly DayVisit[], fitters: readonly DayFitter[], table: DayTable, before: DayPlan | null) =>
    planDay(visits, fitters, travelBy(table), before),
  /** a day as a hand ordered it */
  layDay: (
    visits: readonly DayVisit[],
    fitters: readonly DayFitter[],
    table: DayTable,
    hand: Readonly<Record<string, readonly string[]>>,
  ) => layByHand(visits, fitters, travelBy(table), hand),
  day: (key: string, known: Known, design: Design, draws: readonly Draw[], temperatureC: number) => {
    const at = siteOf(key, known);
    return at && simulateDay(design, at.catalogue, at.site, draws, temperatureC);
  },
  seasons: (key: string, known: Known, design: Design) => {
    const at = siteOf(key, known);
    return at && seasonsOf(design, at.catalogue, at.site);
  },
};
