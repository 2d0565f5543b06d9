import { dayTotals, type Draw } from '../demand/draws.ts';
import type { FieldKey, Known } from '../gauge/fields.ts';
import { FIELD_KEYS } from '../gauge/fields.ts';
import type { CupboardThing, Placed, PlacedThing, Pose, Spot } from '../gauge/place.ts';
import { AGREED_STEP, CHANGE_STEP, JOINT_STEP } from '../words/stored.ts';
import type { Fact, FactOf, ReadingFact } from './facts.ts';
import { LAMP_SAMPLE_STEP } from './sample.ts';

/** A running or ended wait. */
export interface TimerState {
  readonly step: string;
  readonly startedAt: string;
  readonly dueAt: string;
  readonly by: string;
}

/** A clock as it went: it stays on record when its wait is over. */
export interface Clock extends TimerState {
  /** when its step was ticked; null while it is open */
  readonly endedAt: string | null;
  /** somebody found that it was not over when it should have been */
  readonly extended: boolean;
}

/** What a job's facts amount to; what concerns a system, that of one version of its design. */
export interface JobRecord {
  /** the reading in use of each field */
  readonly readings: Partial<Record<FieldKey, ReadingFact>>;
  /** every reading of a field that still counts, oldest first */
  readonly taken: Partial<Record<FieldKey, readonly ReadingFact[]>>;
  /** why one of several is in use, where somebody chose */
  readonly uses: Partial<Record<FieldKey, FactOf<'use'>>>;
  /** doubts somebody looked at, with the reason, by code */
  readonly dismissed: Readonly<Record<string, FactOf<'dismiss'>>>;
  readonly known: Known;
  readonly ticks: Readonly<Record<string, FactOf<'tick'>>>;
  readonly timers: Readonly<Record<string, TimerState>>;
  /** every clock that was started, by its step */
  readonly clocks: Readonly<Record<string, Clock>>;
  /** latest look at each joint in each round: round -> joint -> fact */
  readonly looks: Readonly<Record<string, Readonly<Record<string, FactOf<'look'>>>>>;
  readonly proofs: readonly FactOf<'proof'>[];
  readonly visits: readonly FactOf<'visit'>[];
  /** changes somebody began, oldest first; a visit closes each */
  readonly changes: readonly FactOf<'change'>[];
  /** calls about it, oldest first; a proof that is read later closes each */
  readonly calls: readonly FactOf<'call'>[];
  /** what else happened to it, oldest first */
  readonly happened: readonly FactOf<'happened'>[];
  /** what really went in, by component */
  readonly fitted: Readonly<Record<string, FactOf<'fitted'>>>;
  /** the time on a visit's bill, by the visit */
  readonly billed: Readonly<Record<string, FactOf<'billed'>>>;
  /** every label that was read off what went in, oldest first */
  readonly labels: readonly FactOf<'fitted'>[];
  /** how what was changed looked as it came out, oldest first */
  readonly cameOut: readonly FactOf<'came-out'>[];
  /** samples that went to a laboratory, and its answers, oldest first */
  readonly sampled: readonly FactOf<'sampled'>[];
  readonly answered: readonly FactOf<'answered'>[];
  /** steps of any version and change that took a sample behind a lamp, as they stand done */
  readonly lampSamples: readonly FactOf<'tick'>[];
  /** sheets the household was given, oldest first */
  readonly handed: readonly FactOf<'handed'>[];
  /** what was put in beside the sizing, in that order */
  readonly carries: readonly FactOf<'carries'>[];
  /** what of the firm's stock went into it */
  readonly stockOut: readonly FactOf<'stock-out'>[];
  readonly notes: readonly FactOf<'note'>[];
  readonly photos: readonly FactOf<'photo'>[];
  /** where parts of the system stand in the cupboard, by component */
  readonly stands: Readonly<Record<string, Pose>>;
  /** places tubes are led through, by link */
  readonly ways: Readonly<Record<string, readonly Pose[]>>;
  /** how tubes really run, by link */
  readonly runs: Readonly<Record<string, FactOf<'tube-run'>>>;
  /** the household's day as somebody drew it; null where the usual one is taken */
  readonly habits: readonly Draw[] | null;
  /** readings that the drawn day gives, as nobody has read them since */
  readonly ofTheDay: Partial<Record<FieldKey, number>>;
  /** what stands in the cupboard already, and where */
  readonly placed: Placed;
  readonly colours: Partial<Record<FactOf<'tube-colour'>['branch'], string>>;
}

/** Facts in the order they happened; the id settles a tie, so that every machine reads the same. */
export function inOrder<T extends { at: string; id: string }>(facts: readonly T[]): T[] {
  return [...facts].sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || a.id.localeCompare(b.id));
}

/** The change that somebody is at: begun, and no visit closes it yet; null where none is. */
export function openChange(record: Pick<JobRecord, 'changes' | 'visits'>): FactOf<'change'> | null {
  const closed = new Set(record.visits.flatMap((v) => v.change ?? []));
  return record.changes.findLast((c) => !closed.has(c.id)) ?? null;
}

/** Calls that no proof has closed yet, the oldest first. */
export function openCalls(record: Pick<JobRecord, 'calls' | 'proofs'>): readonly FactOf<'call'>[] {
  const proved = Math.max(-Infinity, ...record.proofs.map((p) => Date.parse(p.at)));
  return record.calls.filter((c) => Date.parse(c.at) > proved);
}

/** Whether a visit is one to come, not one that was made: by itself it says nothing of what was done there. */
export const isPlanned = (v: FactOf<'visit'>): boolean =>
  v.toChange !== undefined || (v.on !== undefined && Date.parse(v.on) > Date.parse(v.at));

/** When a visit is, or was. */
export const visitMs = (v: FactOf<'visit'>): number => Date.parse(v.on ?? v.at);

/** Kinds of facts that tell of one version of a design only. */
const OF_A_VERSION: ReadonlySet<Fact['kind']> = new Set(['tick', 'timer', 'look']);
/**
 * A joint is made once, and stays made through every version its component stands in; so does what a household agreed to, and
 * a change is the same one whatever version is approved beside it.
 */
const lasts = (f: Fact): boolean =>
  (f.kind === 'tick' && (f.step.startsWith(JOINT_STEP) || f.step.startsWith(AGREED_STEP))) ||
  ((f.kind === 'tick' || f.kind === 'timer') && f.step.startsWith(CHANGE_STEP)) ||
  (f.kind === 'look' && f.round.startsWith(CHANGE_STEP));

/** A version as far as its record is read. */
export interface ReadVersion {
  readonly id: string;
  readonly goesOn?: readonly { readonly design: string; readonly steps: readonly string[] }[] | undefined;
}

/** Whether what happened belongs to a version: it names it, names none, or is a step that stands since an earlier one. */
function countsIn(f: Fact, version: ReadVersion): boolean {
  if (!('design' in f) || f.design === version.id) return true;
  if (f.kind !== 'tick' && f.kind !== 'timer') return false;
  return version.goesOn?.some((g) => g.design === f.design && g.steps.includes(f.step)) ?? false;
}

/**
 * Reads a job out of its facts. A fact named by another's `corrects` no longer counts; the last one of a kind is in use.
 * @param version the version whose ticks, clocks and looks are read, with what stands of those before it; left out, those of all
 */
export function readJob(facts: readonly Fact[], version?: ReadVersion): JobRecord {
  const corrected = new Set(facts.flatMap((f) => (f.corrects === undefined ? [] : [f.corrects])));
  const readings: Partial<Record<FieldKey, ReadingFact>> = {};
  const taken: Partial<Record<FieldKey, ReadingFact[]>> = {};
  const uses: Partial<Record<FieldKey, FactOf<'use'>>> = {};
  const dismissed: Record<string, FactOf<'dismiss'>> = {};
  const ticks: Record<string, FactOf<'tick'>> = {};
  const timers: Record<string, TimerState> = {};
  const clocks: Record<string, Clock> = {};
  const looks: Record<string, Record<string, FactOf<'look'>>> = {};
  const fitted: Record<string, FactOf<'fitted'>> = {};
  const proofs: FactOf<'proof'>[] = [];
  const visits: FactOf<'visit'>[] = [];
  const changes: FactOf<'change'>[] = [];
  const calls: FactOf<'call'>[] = [];
  const billed: Record<string, FactOf<'billed'>> = {};
  const labels: FactOf<'fitted'>[] = [];
  const cameOut: FactOf<'came-out'>[] = [];
  const happened: FactOf<'happened'>[] = [];
  const sampled: FactOf<'sampled'>[] = [];
  const answered: FactOf<'answered'>[] = [];
  const lampSamples = new Map<string, FactOf<'tick'>>();
  const handed: FactOf<'handed'>[] = [];
  const carries: FactOf<'carries'>[] = [];
  const stockOut: FactOf<'stock-out'>[] = [];
  const notes: FactOf<'note'>[] = [];
  const photos: FactOf<'photo'>[] = [];
  const stands: Record<string, Pose> = {};
  const ways: Record<string, readonly Pose[]> = {};
  const runs: Record<string, FactOf<'tube-run'>> = {};
  let habits: FactOf<'habits'> | null = null;
  const placed: Partial<Record<CupboardThing, PlacedThing>> = {};
  const colours: Partial<Record<FactOf<'tube-colour'>['branch'], string>> = {};
  for (const f of inOrder(facts)) {
    if (corrected.has(f.id)) continue;
    // what went to a laboratory is answered, whatever version is approved meanwhile
    if (f.kind === 'tick' && f.step.endsWith(LAMP_SAMPLE_STEP)) lampSamples.set(`${f.design ?? ''} ${f.step}`, f);
    if (version && OF_A_VERSION.has(f.kind) && !lasts(f) && !countsIn(f, version)) continue;
    switch (f.kind) {
      case 'reading':
        readings[f.field] = f;
        if (f.value !== null) taken[f.field] = [...(taken[f.field] ?? []), f];
        break;
      case 'use':
        uses[f.field] = f;
        break;
      case 'dismiss':
        if (f.reason === '') Reflect.deleteProperty(dismissed, f.doubt);
        else dismissed[f.doubt] = f;
        break;
      case 'tick': {
        ticks[f.step] = f;
        const clock = clocks[f.step];
        if (!clock) break;
        clocks[f.step] = { ...clock, endedAt: f.done ? (clock.endedAt ?? f.at) : null };
        // what is undone loses no clock
        if (!f.done) timers[f.step] = timerOf(clock);
        break;
      }
      case 'timer':
        if (f.action === 'start') {
          const startedAt = f.startedAt ?? f.at;
          const dueAt = new Date(Date.parse(startedAt) + f.minutes * 60000).toISOString();
          const before = clocks[f.step];
          const timer = { step: f.step, startedAt, dueAt, by: f.by };
          timers[f.step] = timer;
          // begun again from the same moment with more minutes: it was found not over
          const extended = before?.startedAt === startedAt && before.dueAt < dueAt;
          clocks[f.step] = { ...timer, endedAt: null, extended: extended || (before?.extended ?? false) };
        } else Reflect.deleteProperty(timers, f.step);
        break;
      case 'look':
        looks[f.round] = { ...looks[f.round], [f.joint]: f };
        break;
      case 'proof':
        proofs.push(f);
        break;
      case 'visit':
        visits.push(f);
        break;
      case 'change':
        changes.push(f);
        break;
      case 'call':
        calls.push(f);
        break;
      case 'note':
        notes.push(f);
        break;
      case 'stands':
        if (f.spot) stands[f.component] = poseOf(f.spot, f);
        else Reflect.deleteProperty(stands, f.component);
        break;
      case 'tube-way':
        if (f.via.length > 0) ways[f.link] = f.via.map((v) => poseOf(v, { space: v.space }));
        else Reflect.deleteProperty(ways, f.link);
        break;
      case 'tube-run':
        runs[f.link] = f;
        break;
      case 'photo':
        photos.push(f);
        break;
      case 'fitted':
        fitted[f.component] = f;
        labels.push(f);
        break;
      case 'billed':
        billed[f.visit] = f;
        break;
      case 'came-out':
        cameOut.push(f);
        break;
      case 'happened':
        happened.push(f);
        break;
      case 'sampled':
        sampled.push(f);
        break;
      case 'answered':
        answered.push(f);
        break;
      case 'handed':
        handed.push(f);
        break;
      case 'carries':
        carries.push(f);
        break;
      case 'stock-out':
        stockOut.push(f);
        break;
      case 'taken-back':
        break;
      case 'habits':
        habits = f.draws.length > 0 ? f : null;
        break;
      case 'place':
        if (f.spot) placed[f.thing] = f.body ? { ...f.spot, body: f.body } : f.spot;
        else Reflect.deleteProperty(placed, f.thing);
        break;
      case 'tube-colour':
        colours[f.branch] = f.colour;
    }
  }
  // of several readings of a field the chosen one is in use, as long as it still counts
  for (const [field, use] of Object.entries(uses) as [FieldKey, FactOf<'use'>][]) {
    const chosen = taken[field]?.find((f) => f.id === use.reading);
    if (chosen) readings[field] = chosen;
    else Reflect.deleteProperty(uses, field);
  }
  const known: Known = {};
  for (const k of FIELD_KEYS) {
    const v = readings[k]?.value;
    if (v !== undefined && v !== null) known[k] = v;
    else Reflect.deleteProperty(readings, k);
  }
  const ofTheDay = habits ? fromTheDay(habits, readings, uses) : {};
  for (const [field, value] of Object.entries(ofTheDay) as [FieldKey, number][]) {
    known[field] = value;
    Reflect.deleteProperty(readings, field);
  }
  return {
    readings,
    taken,
    uses,
    dismissed,
    known,
    ticks,
    timers,
    clocks,
    looks,
    proofs,
    visits,
    changes,
    calls,
    happened,
    fitted,
    billed,
    labels,
    cameOut,
    sampled,
    answered,
    lampSamples: [...lampSamples.values()].filter((t) => t.done),
    handed,
    carries,
    stockOut,
    notes,
    photos,
    stands,
    ways,
    runs,
    habits: habits?.draws ?? null,
    ofTheDay,
    placed,
    colours,
  };
}

const timerOf = ({ step, startedAt, dueAt, by }: Clock): TimerState => ({ step, startedAt, dueAt, by });

/** How a part stands: upright and facing the door where nothing else was said. */
function poseOf(spot: Spot, { turn, lies, space }: Omit<Pose, keyof Spot>): Pose {
  return {
    ...spot,
    ...(turn === undefined || turn === 0 ? {} : { turn }),
    ...(lies === true ? { lies } : {}),
    ...(space === undefined || space === 'cupboard' ? {} : { space }),
  };
}

/** Litres a day and largest draw as the drawn day has them, each unless it was read, or chosen among readings, after the day was drawn. */
function fromTheDay(
  day: FactOf<'habits'>,
  readings: JobRecord['readings'],
  uses: JobRecord['uses'],
): JobRecord['ofTheDay'] {
  const drawnAt = Date.parse(day.at);
  const since = (field: FieldKey): boolean => {
    const r = readings[field];
    return r !== undefined && Math.max(Date.parse(r.at), Date.parse(uses[field]?.at ?? r.at)) >= drawnAt;
  };
  const { litresADay, largestDrawL } = dayTotals(day.draws);
  return {
    ...(since('litresADay') ? {} : { litresADay }),
    ...(since('largestDrawL') ? {} : { largestDrawL }),
  };
}

/** Whether a step stands ticked. */
export function isDone(record: Pick<JobRecord, 'ticks'>, step: string): boolean {
  return record.ticks[step]?.done === true;
}
