import { type Site } from '../gauge/site.ts';
import { partIn, type System } from '../system/system.ts';
import { type OwnErrors, type ProofKey, type ProofReadings } from './fields.ts';
import { SPREAD, SUSPECTS, type Look, type Model, type Prediction, type Sign, type Suspect } from './suspects.ts';
import { BEHIND_CARBON_MGL, look, looksFor, OF_TANK, placesOf, predict, readingOf, type Reading } from './simulated.ts';

const { abs, exp, hypot, log, max } = Math;

/** A fault with how well it explains the readings. */
export interface RankedFault {
  readonly code: Suspect;
  /** a second one beside it, where no single one explains what was read */
  readonly with?: Suspect;
  readonly name: string;
  /** 0 to 1; all together make 1 */
  readonly likelihood: number;
  /** how far it would have gone, 0 to 1 */
  readonly severity: number;
  /** what would be read if it were so, beside what was read */
  readonly predicted: Readonly<Partial<Record<Sign, number>>>;
  readonly check: string;
}

/** How likely readings are where a prediction holds: the logarithm of their density, each sign by its own spread and the pen's error. */
function logDensity(read: Prediction, predicted: Prediction, asked: Circumstances): number {
  let sum = 0;
  for (const k of Object.keys(SPREAD) as Sign[]) {
    const r = read[k];
    const e = predicted[k];
    if (r === undefined || e === undefined) continue;
    const sigma = sigmaOf(k, e, r, asked);
    sum -= ((r - e) / sigma) ** 2 / 2 + log(sigma);
  }
  return sum;
}

/** One standard deviation of a sign where so much is predicted and so much was read. */
function sigmaOf(k: Sign, predicted: number, read: number, { meterError, own }: Circumstances): number {
  const { share, floor } = SPREAD[k];
  const pen = k === 'productTdsMgL' || k === 'secondPenMgL' ? meterError : 0;
  const usual = hypot(share, pen) * max(abs(predicted), 0.3 * abs(read)) + floor;
  // anywhere within its error alike
  return hypot(usual, (own?.[k] ?? 0) / Math.sqrt(3));
}

/** Severities tried of each fault: it is averaged over them, so that one that fits at a single severity is not preferred. */
const STEPS = 12;

/** What hardly shows before it is nearly all the way is tried there more closely. */
const LATE = 2.5;

/** A suspect against the readings: how likely they are with it, and what each severity would show. */
interface Tried {
  readonly f: Model;
  /** a second one beside it */
  readonly with?: Model;
  /** logarithm of prior times the readings' density, averaged over the severities */
  readonly weight: number;
  /** what each severity would show, with its share of that suspect */
  readonly shown: readonly { readonly severity: number; readonly predicted: Prediction; readonly share: number }[];
}

const meanLog = (logs: readonly number[]): number => {
  const top = max(...logs);
  return top + log(logs.reduce((s, l) => s + exp(l - top), 0) / logs.length);
};

/** Below this age a system is new work, days. */
export const NEW_WORK_DAYS = 30;

/** How a trial is tried: what a sound system shows, the looks that are worked out, and what was read. */
interface Bench {
  readonly at: Reading;
  readonly read: Prediction;
  readonly sound: Prediction;
  readonly looks: readonly Look[];
  readonly asked: Circumstances;
}

const benchOf = (at: Reading, read: Prediction, looks: readonly Look[], asked: Circumstances): Bench => ({
  at,
  read,
  looks,
  asked,
  sound: Object.assign({ chlorineMgL: BEHIND_CARBON_MGL }, ...looks.map((l) => look(at, l, []))) as Prediction,
});

const priorOf = (f: Model, { ageDays }: Circumstances): number =>
  log(f.prior * (ageDays !== undefined && ageDays < NEW_WORK_DAYS ? f.fresh : 1));

/** Each suspect tried at every severity. */
function tryAll(bench: Bench): Tried[] {
  const { at, read, sound, looks, asked } = bench;
  const able = SUSPECTS.filter((f) => !f.in || placesOf(at.system, f).length > 0);
  return able.map((f) => {
    // what shows in none of the looks is as likely as before them
    const told = f.shows.some((l) => looks.includes(l)) || f.code === 'meter-off' || f.code === 'carbon-spent';
    const steps = told ? STEPS : 1;
    const tried = Array.from({ length: steps }, (_, i) => {
      const u = (i + 1) / steps;
      const severity = f.late === true ? 1 - (1 - u) ** LATE : u;
      const predicted = predict(at, [{ f, severity }], sound, looks);
      return { severity, predicted, log: logDensity(read, predicted, asked) };
    });
    const mean = meanLog(tried.map((t) => t.log));
    return {
      f,
      weight: priorOf(f, asked) + mean,
      shown: tried.map((t) => ({ ...t, share: exp(t.log - mean) / steps })),
    };
  });
}

/** A reading further than this from what any one fault would show is of a second one, standard deviations. */
const UNEXPLAINED = 3.3;
/** The likeliest faults are tried with each other one. */
const FIRST_OF_TWO = 4;

const bestOf = (t: Tried): Tried['shown'][number] => t.shown.reduce((a, b) => (b.share > a.share ? b : a));

/** How far the reading that fits worst is from its prediction, standard deviations. */
const misfit = (read: Prediction, predicted: Prediction, asked: Circumstances): number =>
  max(
    0,
    ...(Object.keys(SPREAD) as Sign[]).map((k) => {
      const [r, e] = [read[k], predicted[k]];
      return r === undefined || e === undefined ? 0 : abs(r - e) / sigmaOf(k, e, r, asked);
    }),
  );

/** Two faults at once, where no single one explains what was read: the likeliest each with every other, near the severities that fit. */
function tryTwo(bench: Bench, tried: readonly Tried[]): Tried[] {
  const { at, read, sound, looks, asked } = bench;
  if (tried.some((t) => misfit(read, bestOf(t).predicted, asked) < UNEXPLAINED)) return [];
  const faults = tried.filter((t) => t.f.code !== 'none').sort((a, b) => b.weight - a.weight);
  const lead = faults.slice(0, FIRST_OF_TWO);
  return lead.flatMap((a, i) =>
    faults.slice(i + 1).flatMap((b): Tried[] => {
      const places = new Set(placesOf(at.system, a.f));
      // one thing has one fault
      if (placesOf(at.system, b.f).some((id) => places.has(id))) return [];
      const severities = (t: Tried): number[] => [...new Set([0.3, 0.6, 0.9, bestOf(t).severity])];
      const both = severities(a).flatMap((x) =>
        severities(b).map((y) => {
          const predicted = predict(at, [{ f: a.f, severity: x }, { f: b.f, severity: y }], sound, looks);
          return { severity: x, predicted, log: logDensity(read, predicted, asked) };
        }),
      );
      const mean = meanLog(both.map((t) => t.log));
      return [
        {
          f: a.f,
          with: b.f,
          weight: priorOf(a.f, asked) + priorOf(b.f, asked) + mean,
          shown: both.map((t) => ({ ...t, share: exp(t.log - mean) / both.length })),
        },
      ];
    }),
  );
} // oxfmt-ignore

/** What is asked with the readings: the pen's error as a share; how long the system has worked, days, where that is known. */
export interface Circumstances {
  readonly meterError: number;
  /** errors of instruments that are known: a coarse one tells causes apart less surely */
  readonly own?: OwnErrors | undefined;
  readonly ageDays?: number | undefined;
}

const shares = (weights: readonly number[]): number[] => {
  const top = max(...weights);
  const total = weights.reduce((s, w) => s + exp(w - top), 0);
  return weights.map((w) => exp(w - top) / total);
};

/** The signs that were read. */
const signsIn = (r: ProofReadings): Prediction =>
  Object.fromEntries((Object.keys(SPREAD) as Sign[]).flatMap((k) => (r[k] === undefined ? [] : [[k, r[k]]])));

/**
 * Ranks what may be wrong: each fault is put into its component, the same solver works the system out at every severity,
 * and what would be read is compared with all that was; severities are averaged. Two at once where one does not explain it.
 * @returns most likely first; empty where the needed readings are missing, or there is no membrane
 */
export function rankFaults(
  r: ProofReadings,
  system: System,
  site: Site,
  meterError: number,
  ageDays?: number,
): RankedFault[] {
  const at = readingOf(r, system, site);
  if (!at) return [];
  const read = signsIn(r);
  const bench = benchOf(at, read, looksFor(read), { meterError, ageDays });
  const tried = tryAll(bench);
  return ranked([...tried, ...tryTwo(bench, tried)]);
}

function ranked(tried: readonly Tried[]): RankedFault[] {
  const likely = shares(tried.map((t) => t.weight));
  return tried
    .map((t, i) => {
      const { f, with: second } = t;
      const best = bestOf(t);
      return {
        code: f.code,
        ...(second ? { with: second.code } : {}),
        name: second ? `two at once: ${f.name}; and ${second.name}` : f.name,
        likelihood: likely[i] ?? 0,
        severity: f.code === 'none' ? 0 : best.severity,
        predicted: best.predicted,
        check: second ? `${f.check} Then: ${second.check}` : f.check,
      };
    })
    .sort((a, b) => b.likelihood - a.likelihood || a.code.localeCompare(b.code));
}

/** A reading that was not taken yet, and what it is worth. */
export interface FurtherReading {
  readonly key: ProofKey;
  /** minutes it takes */
  readonly minutes: number;
  /** how much less is left to guess once it is read, bits, by what is likely now */
  readonly bits: number;
}

/** What readings say of a system, and what they leave open. */
export interface Diagnosis {
  readonly ranked: readonly RankedFault[];
  /** readings worth taking next, most for their minutes first */
  readonly next: readonly FurtherReading[];
  /** faults that none of the readings taken shows, with the reading that would */
  readonly notLookedAt: readonly { readonly code: Suspect; readonly name: string; readonly by: ProofKey }[];
}

/** Minutes each further reading takes, its walk and its wait. */
const MINUTES: Readonly<Partial<Record<Sign, number>>> = {
  chlorineMgL: 2,
  secondPenMgL: 2,
  feedPressureBar: 3,
  drainFeedOffLMin: 4,
  drainWhenFullLMin: 6,
  tankAirBar: 12,
  tankEmptiedL: 10,
  tankFullBar: 6,
  tapFlowLMin: 3,
};
/** Which further reading shows what a look does. */
const SHOWN_BY: Readonly<Partial<Record<Look, Sign>>> = {
  full: 'drainWhenFullLMin',
  tank: 'tankAirBar',
  'feed-off': 'drainFeedOffLMin',
};
/** A reading worth less than this is not named, bits. */
const WORTH_BITS = 0.02;

const entropy = (p: readonly number[]): number => -p.reduce((s, x) => (x > 1e-12 ? s + x * Math.log2(x) : s), 0);

/**
 * Ranks what may be wrong and says which reading would tell most for its minutes: what is left to guess now, against what would be
 * left on average once it is read, each fault in turn taken as the truth at the severities that fit it.
 * @returns null where the needed readings are missing, or there is no membrane
 */
export function diagnose(r: ProofReadings, system: System, site: Site, asked: Circumstances): Diagnosis | null {
  const at = readingOf(r, system, site);
  if (!at) return null;
  const read = signsIn(r);
  const taken = looksFor(read);
  const stored = partIn(system, 'tank') !== undefined;
  const open = (Object.keys(MINUTES) as Sign[]).filter(
    (k) => read[k] === undefined && (stored || !OF_TANK.includes(k)),
  );
  const all: Look[] = [...new Set<Look>([...taken, 'full', 'feed-off', ...(stored ? (['tank'] as const) : [])])];
  const bench = benchOf(at, read, all, asked);
  const single = tryAll(bench);
  const tried = [...single, ...tryTwo(bench, single)];
  const now = shares(tried.map((t) => t.weight));
  const left = entropy(now);
  const next = open.map((k): FurtherReading => {
    const minutes = MINUTES[k] ?? 5;
    return { key: k, minutes, bits: max(0, left - leftAfter(tried, now, k, asked)) };
  });
  const shown = (f: Model): boolean => f.shows.length === 0 || f.shows.some((l) => taken.includes(l));
  return {
    ranked: ranked(tried),
    next: next.filter((x) => x.bits >= WORTH_BITS).sort((a, b) => b.bits / b.minutes - a.bits / a.minutes),
    notLookedAt: single.flatMap(({ f }) => {
      const by =
        f.code === 'carbon-spent'
          ? read.chlorineMgL === undefined
            ? 'chlorineMgL'
            : null
          : shown(f)
            ? null
            : f.code === 'after-tank'
              ? 'tapFlowLMin'
              : f.shows.flatMap((l) => SHOWN_BY[l] ?? [])[0];
      return by && (stored || !OF_TANK.includes(by)) ? [{ code: f.code, name: f.name, by }] : [];
    }),
  };
}

/** What is left to guess on average once a sign is read, bits. */
function leftAfter(tried: readonly Tried[], now: readonly number[], k: Sign, asked: Circumstances): number {
  // a suspect's figure at each of its severities, as likely as that severity is
  const density = (t: Tried, value: number): number =>
    t.shown.reduce((s, x) => {
      const e = x.predicted[k] ?? 0;
      const sigma = sigmaOf(k, e, value, asked);
      return s + (x.share * exp(-(((value - e) / sigma) ** 2) / 2)) / sigma;
    }, 0);
  return tried.reduce((sum, truth, i) => {
    const p = now[i] ?? 0;
    if (p < 1e-4) return sum;
    // the truth at a few of its severities stands for all of them
    return (
      sum +
      p *
        truth.shown.reduce((s, x) => {
          if (x.share < 0.02) return s;
          const value = x.predicted[k] ?? 0;
          const then = tried.map((t, j) => (now[j] ?? 0) * density(t, value));
          const total = then.reduce((a, b) => a + b, 0);
          return s + x.share * (total > 0 ? entropy(then.map((v) => v / total)) : 0);
        }, 0)
    );
  }, 0);
}
