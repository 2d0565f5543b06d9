import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import { formatNumber } from '../quantity/format.ts';
import { solve } from '../system/solve.ts';
import { ofKind, ofWork, partIn, type Component, type System } from '../system/system.ts';
import { BEHIND_CARBON_MGL, faultsIn, look, placesOf, type Gone, type Reading } from './simulated.ts';
import { SUSPECTS, type Model, type Suspect } from './suspects.ts';
import { NEW_WORK_DAYS } from './faults.ts';

const { max } = Math;

/** What a household says when it calls. */
export const COMPLAINTS = {
  slow: 'the tap runs slow',
  empty: 'it runs out, there is not enough',
  tastes: 'it tastes or smells',
  'drain-runs': 'it runs to the drain all the time',
  noise: 'it is loud',
  leak: 'water where none should be',
} as const;
export type Complaint = keyof typeof COMPLAINTS;
export const COMPLAINT_KEYS = Object.keys(COMPLAINTS) as Complaint[];

/** What a call may come from. */
export interface MayBe {
  readonly code: Suspect;
  readonly name: string;
  /** 0 to 1; all together make 1 */
  readonly likelihood: number;
  readonly check: string;
  /** things of the system it lies in, to be brought along */
  readonly brings: readonly Component[];
}

/** What is said of a call before anybody drives out. */
export interface CallTold {
  /** what the household does now */
  readonly now: readonly string[];
  /** what is asked on the telephone */
  readonly ask: readonly string[];
  readonly mayBe: readonly MayBe[];
}

/** How a system is lived with: what reaches the tap, the tank and the drain. */
interface Lived {
  readonly tapLMin: number;
  readonly litresADay: number;
  readonly tankL: number;
  readonly productMgL: number;
  readonly drainFullLMin: number;
  readonly chlorineMgL: number;
}

/** A system in its house as it is supplied, with what is wrong with it. */
function lived(at: Reading, wrong: readonly Gone[]): Lived {
  const { system, house } = at;
  const stored = ofWork(system, 'stores');
  const opening = {
    ...Object.fromEntries(ofKind(system, 'tap').map((c) => [c.id, 1])),
    ...Object.fromEntries(stored.map((c) => [c.id, 0])),
  };
  const s = solve(system, house, { faults: faultsIn(system, wrong), opening });
  const tank = partIn(system, 'tank') ? look(at, 'tank', wrong) : {};
  const spent = wrong.find((w) => w.f.code === 'carbon-spent');
  return {
    tapLMin: tank.tapFlowLMin ?? s.productLMin,
    litresADay: 1440 * s.productLMin,
    tankL: tank.tankEmptiedL ?? 0,
    productMgL: s.productTdsMgL,
    drainFullLMin: stored.length > 0 ? (look(at, 'full', wrong).drainWhenFullLMin ?? 0) : 0,
    chlorineMgL: spent ? max(BEHIND_CARBON_MGL, spent.severity * max(0.2, at.site.chlorineMgL)) : BEHIND_CARBON_MGL,
  };
}

/** What somebody notices: a quarter less, salt by half more, any of the mains' own chlorine, a drain that does not stand. */
const LESS = 0.75;
const SALTIER = { times: 1.5, mgL: 10 } as const;
const SMELT_MGL = 0.1;
const DRAIN_SEEN_LMIN = 0.01;

/** Whether it would be complained of so. */
const shows: Readonly<Record<Complaint, ((now: Lived, sound: Lived) => boolean) | null>> = {
  slow: (n, s) => n.tapLMin < LESS * s.tapLMin,
  empty: (n, s) => n.litresADay < LESS * s.litresADay || n.tankL < LESS * s.tankL,
  tastes: (n, s) => n.productMgL > SALTIER.times * s.productMgL + SALTIER.mgL || n.chlorineMgL > SMELT_MGL,
  'drain-runs': (n, s) => n.drainFullLMin > s.drainFullLMin + DRAIN_SEEN_LMIN,
  // no model tells what is heard, or where it drips
  noise: null,
  leak: null,
};

const SHUT =
  'Shut the small valve at the cold pipe under the sink, then the tank’s; towel under it. The kitchen’s own tap runs as always.';

/** What the household does, and what is asked, before anybody drives. */
const FIRST: Readonly<Record<Complaint, Pick<CallTold, 'now' | 'ask'>>> = {
  slow: { now: [], ask: ['Slow at once, or only after the first glasses? Since when, and was it cold these days?', 'Does the kitchen’s own tap run as always?', 'Was anything in the cupboard moved?'] },
  empty: { now: [], ask: ['How much was drawn before it ran out, and how long since it was full?', 'Does the drain run while it fills?', 'More people than usual?'] },
  tastes: { now: ['Another water to drink until it was read, above all for infants.'], ask: ['Salty, of chlorine, of plastic, musty? The first glass of the day, or every one?', 'Was there work on the mains, or a notice to boil?', 'When were the cartridges changed last?'] },
  'drain-runs': { now: ['Nothing is in danger; it costs water. Shut it at its valve overnight if it goes on.'], ask: ['Also hours after the last glass?', 'Is the tank heavy, and does the tap start with a spurt?'] },
  noise: { now: ['A pump that runs without stopping: plug out, with dry hands.'], ask: ['A knock, a hum, a hiss, a gurgle at the drain? While it fills, or when the tap is shut?', 'Does it stop with the valve at the cold pipe shut?'] },
  leak: { now: [SHUT, 'Wet plugs and sockets are not touched: the fuse first.'], ask: ['Where does it stand, how much, and does it go on with the valve shut?', 'Is it warm? Then it is not this system.'] },
}; // oxfmt-ignore

/** Nobody finds anything in so many of the calls. */
const NOTHING = 0.25;
const STEPS = 8;

/** A sound system of a house as it is supplied today. */
function soundIn(system: System, site: Site): Reading {
  const house = { supply: supplyOf(site, 'today'), water: feedWaterAt(site, site.todayC), airBar: site.airBar };
  const at: Reading = { system, site, house, inletBar: 0, penMgL: 0 };
  return { ...at, inletBar: look(at, 'supplied', []).membranePressureBar ?? 0 };
}

/**
 * What a call may come from, before anybody has read anything: each fault simulated in this house at every severity, as likely
 * as it is common at this age and as often as it would be noticed so; with what the household does now and what is asked.
 * @param ageDays since the system began to work; undefined where that is not known
 * @returns without causes where no model tells them, or without a membrane
 */
export function callTold(system: System, site: Site, of: Complaint, ageDays?: number): CallTold {
  const first = FIRST[of];
  const noticed = shows[of];
  if (!noticed || ofWork(system, 'separates').length === 0) return { ...first, mayBe: [] };
  const at = soundIn(system, site);
  const sound = lived(at, []);
  const fresh = ageDays !== undefined && ageDays < NEW_WORK_DAYS;
  const weigh = (f: Model): number => {
    if (f.code === 'none') return NOTHING * 0.1;
    if (f.code === 'meter-off' || (f.in && placesOf(system, f).length === 0)) return 0;
    const severities = Array.from({ length: STEPS }, (_, i) => (i + 1) / STEPS);
    const share = severities.filter((severity) => noticed(lived(at, [{ f, severity }]), sound)).length / STEPS;
    return f.prior * (fresh ? f.fresh : 1) * share;
  };
  const weighed = SUSPECTS.map((f) => ({ f, w: weigh(f) })).filter((x) => x.w > 0);
  const all = weighed.reduce((s, x) => s + x.w, 0);
  return {
    ...first,
    mayBe: weighed
      .sort((a, b) => b.w - a.w)
      .map(({ f, w }) => ({
        code: f.code,
        name: f.code === 'none' ? 'nothing that is broken: colder water, more drawn, a strainer at the spout' : f.name,
        likelihood: w / all,
        check: f.code === 'none' ? 'Read it all the same: the figures say that it does what it should.' : f.check,
        brings: system.components.filter((c) => c.part !== null && c.kind !== 'feed' && f.in?.[0] === c.kind),
      })),
  };
}

/** A likelihood as people say it. */
export const likelihoodWords = (x: number): string => `${formatNumber(100 * x, 2)} %`;
