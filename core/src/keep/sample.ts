import type { FactOf } from '../facts/facts.ts';
import type { JobRecord } from '../facts/record.ts';
import type { SampledWater, Sought } from '../facts/sample.ts';
import { ofKind, type System } from '../system/system.ts';

const DAY_MS = 86_400_000;

/** What a laboratory is asked for: how long it usually takes, and how its sample is taken. */
interface SoughtRow {
  readonly label: string;
  /** an answer is asked after once it has taken so long, days */
  readonly days: number;
  readonly take: string;
}

const ROWS: Readonly<Record<Sought, SoughtRow>> = {
  microbes: {
    label: 'microbes',
    days: 7,
    take: 'The laboratory’s sterile bottle, the tap flamed or wiped with alcohol, run for two minutes; cooled, in the dark, there within a day. The inside of the cap is not touched.',
  },
  minerals: {
    label: 'lead, nitrate, minerals',
    days: 14,
    take: 'Say which: lead, arsenic, nitrate, fluoride, uranium. For lead the first litre after a night without use, and one after it has run. Acid that is in the bottle stays in it.',
  },
  organics: {
    label: 'PFAS, pesticides, solvents',
    days: 21,
    take: 'The laboratory’s bottle without a bubble; no sealing tape, grease or coated cloth near it.',
  },
};
export const soughtRow = (s: Sought): SoughtRow => ROWS[s];
export const WATER_WORDS: Readonly<Record<SampledWater, string>> = { raw: 'raw water', product: 'water at the tap' };

/** A sample that went to a laboratory, and what came of it. */
export interface Sample {
  /** the fact it was taken by: its own, or the step of a run sheet */
  readonly id: string;
  readonly atMs: number;
  readonly by: string;
  readonly water: SampledWater;
  readonly sought: Sought;
  readonly words: string;
  readonly answer: FactOf<'answered'> | null;
  /** its answer is asked after from then on, ms */
  readonly dueMs: number;
}

/** Every sample that was taken, the oldest first; that of a run sheet's step among them. */
export function samplesOf(record: Pick<JobRecord, 'sampled' | 'answered' | 'lampSamples'>): readonly Sample[] {
  const one = (f: FactOf<'sampled'> | FactOf<'tick'>, water: SampledWater, sought: Sought, words: string, at: string): Sample => ({
    id: f.id,
    atMs: Date.parse(at),
    by: f.by,
    water,
    sought,
    words,
    answer: record.answered.findLast((a) => a.sample === f.id) ?? null,
    dueMs: Date.parse(at) + ROWS[sought].days * DAY_MS,
  });
  return [
    ...record.sampled.map((f) => one(f, f.water, f.sought, f.words, f.on ?? f.at)),
    ...record.lampSamples.map((t) => one(t, 'product', 'microbes', '', t.at)),
  ].sort((a, b) => a.atMs - b.atMs);
} // oxfmt-ignore

/** Samples whose answer has not come, the oldest first; a later one of the same that was answered stands for it. */
export function awaitedSamples(record: Pick<JobRecord, 'sampled' | 'answered' | 'lampSamples'>): readonly Sample[] {
  const all = samplesOf(record);
  return all.filter((s) => s.answer === null && !all.some((x) => isSame(x, s) && x.atMs > s.atMs && x.answer !== null));
}

/** Samples that were found not clean, and no later one of the same clean. */
export function uncleanSamples(record: Pick<JobRecord, 'sampled' | 'answered' | 'lampSamples'>): readonly Sample[] {
  const answered = samplesOf(record).filter((s) => s.answer !== null);
  return answered.filter(
    (s, i) => s.answer?.finding === 'not-clean' && !answered.some((x, k) => isSame(x, s) && k > i),
  );
}

const isSame = (a: Sample, b: Sample): boolean => a.water === b.water && a.sought === b.sought;

/** What the household is told of a sample that was not clean, and what is done, a sentence each; never that a water is safe. */
export function uncleanWords({ water, sought }: Pick<Sample, 'water' | 'sought'>, system: System | null): readonly string[] {
  const lit = system !== null && ofKind(system, 'lamp').length > 0;
  if (sought === 'microbes')
    return [
      'They boil what they drink for a minute, ice and infants’ food too, until a later sample is clean. Whoever is ill asks a doctor.',
      ...(water === 'raw'
        ? [lit ? 'A lamp is behind it: sample at the tap as well, look at the lamp, its sleeve and its alarm.' : 'Nothing here disinfects: the cause at the source is sought, and the water disinfected before anything is promised.']
        : [`${lit ? 'Lamp, sleeve and alarm looked at, then sanitised' : 'Sanitised'} from the first bowl to the tap, flushed, and sampled again a week later at the earliest: what was killed is still washed out before.`]),
    ];
  return [
    'It is not drunk and not cooked with, by infants least of all: bottled water until it is cleared up. Boiling makes it worse.',
    water === 'raw'
      ? 'The laboratory’s figures go into Gauge, and what stands is decided anew by them; sample at the tap as well.'
      : 'The system is proved anew: rejection read, seals looked at; where it is as new, this system is not enough for this water.',
    'A household with its own well tells its health authority.',
  ];
} // oxfmt-ignore

/** What is wrong with the day a sample is said to have been taken, in words; null where nothing is. */
export function sampleProblem(onMs: number, nowMs: number): string | null {
  if (!Number.isFinite(onMs)) return 'A day, such as 3 March.';
  return onMs > nowMs ? 'That is to come: written down once it is taken.' : null;
}
