import type { FactOf } from '../facts/facts.ts';
import { isPlanned, visitMs, type JobRecord } from '../facts/record.ts';
import type { Happening } from '../facts/happening.ts';
import { ofKind, partIn, type System } from '../system/system.ts';

const DAY_MS = 86_400_000;
type Happened = FactOf<'happened'>;

/** What a happening asks for, what the household is told, and what follows for the firm until it is closed. */
interface HappeningRow {
  readonly label: string;
  /** which moments it has */
  readonly asks: 'day' | 'span';
  /** what is written down with it */
  readonly words: string;
  /** what the household is told, a sentence each */
  readonly told: (h: Pick<Happened, 'from' | 'until'>, system: System | null) => readonly string[];
  /** what the firm does next; '' where nothing hangs on it */
  readonly next: string;
  /** what closes it */
  readonly closedBy: 'visit' | 'proof' | 'notice-lifted' | null;
}

/** Away for longer than this a tank is poured away, and longer than that the system is sanitised, days. */
export const STOOD = { pourDays: 3, sanitiseDays: 28 } as const;

/** How long they are away, days; null where nobody said. */
const daysAway = (h: Pick<Happened, 'from' | 'until'>): number | null =>
  h.from === undefined || h.until === undefined ? null : (Date.parse(h.until) - Date.parse(h.from)) / DAY_MS;

function toldAway(h: Pick<Happened, 'from' | 'until'>, system: System | null): string[] {
  const days = daysAway(h);
  const tank = system !== null && partIn(system, 'tank') !== undefined;
  const lit = system !== null && ofKind(system, 'lamp').length > 0;
  const away = days ?? STOOD.pourDays + 1;
  const pour = tank ? 'Empty the tank at the tap, let it fill, and pour that away too, before you drink.' : 'Let it run for five minutes before you drink.';
  return [
    'Before you go: shut the stop valve under the sink and open the tap until nothing comes.',
    ...(lit ? ['Leave the lamp burning: what stood while it was dark is not for drinking.'] : []),
    away <= STOOD.pourDays
      ? 'Back home: open the valve, look under the sink, let it run for a few seconds.'
      : `Back home: open the valve, look under the sink. ${pour}`,
    ...(away > STOOD.sanitiseDays ? ['After so long it is sanitised and its pre-filters are changed first: call us before you drink it.'] : []),
  ];
} // oxfmt-ignore

const ROWS: Readonly<Record<Happening, HappeningRow>> = {
  'new-owner': {
    label: 'Another household lives there now',
    asks: 'day',
    words: 'Who it is now, and what they were told',
    told: () => [
      'There is a system for drinking water under your sink. Its sheet says what stands there, when each part is due and how it is shut.',
      'Infants, and diets that a doctor ordered: ask the doctor whether water this low in minerals is right.',
      'Shut the stop valve under the sink and call us if anything drips.',
    ],
    next: 'Visit the new household: show how it is shut, leave the sheet, read it.',
    closedBy: 'visit',
  },
  adopted: {
    label: 'Somebody else put it in: we look after it now',
    asks: 'day',
    words: 'What is there, and what nobody knows',
    told: () => [
      'We did not put this in, and look after it from now on. How old its parts are is not known: they are taken as due.',
      'Until it is proved nobody can say what it holds back. Whatever was wrong before is told with the first proof.',
    ],
    next: 'Prove it: the first proof is the baseline of what somebody else put in.',
    closedBy: 'proof',
  },
  away: {
    label: 'They are away',
    asks: 'span',
    words: 'Whom to ask meanwhile',
    told: toldAway,
    next: '',
    closedBy: null,
  },
  frost: {
    label: 'It froze',
    asks: 'day',
    words: 'What was found',
    told: () => [
      'Leave the stop valve shut. Do not thaw it with a flame or a hair dryer: let the room warm.',
      'Ice cracks bowls and splits membranes: it runs only while somebody looks at every joint, and is not for drinking before it is proved.',
      'Pull its plug with dry hands.',
    ],
    next: 'It froze: every joint looked at under pressure, bowls for cracks, then proved.',
    closedBy: 'proof',
  },
  'boil-notice': {
    label: 'A boil-water notice',
    asks: 'day',
    words: 'Who gave it, and for what',
    told: (_, system) => [
      'Until the notice is lifted boil all you drink for a minute, from this tap too: a membrane does not disinfect.',
      ...(system !== null && ofKind(system, 'lamp').length > 0 ? ['The lamp is no way round it: cloudy water shades its light.'] : []),
      'Ice made since yesterday goes away. For infants: boiled or bottled water. Whoever is ill asks a doctor.',
      'Do not change filters now. We come when it is lifted.',
    ],
    next: 'A boil-water notice holds: nothing is changed until it is lifted.',
    closedBy: 'notice-lifted',
  },
  'notice-lifted': {
    label: 'The boil-water notice is lifted',
    asks: 'day',
    words: 'Who lifted it',
    told: () => [
      'The notice is lifted. Go on boiling what you drink from this tap until we have been there: what came before stands in its filters and its tank.',
      'We change the pre-filters, sanitise what stands behind them, pour the tank away and read it again.',
    ],
    next: 'The notice is lifted: change the pre-filters, sanitise, pour away, read.',
    closedBy: 'visit',
  },
  'lamp-dark': {
    label: 'The lamp was off, or lost its power',
    asks: 'day',
    words: 'Since when, and whether anybody drew water meanwhile',
    told: () => [
      'Do not drink from this tap until we have been there. Boil for a minute what you drink, ice and infants’ food too.',
      'Leave the lamp plugged in where it burns again. Never look into its light.',
      'What was drawn while it was dark, ice and bottles too, is poured away.',
    ],
    next: 'The lamp was dark: look at it, disinfect the tap behind it, run it, and sample.',
    closedBy: 'visit',
  },
  'taken-out': {
    label: 'It was taken out',
    asks: 'day',
    words: 'What became of it',
    told: () => [
      'The system is out: the stop valve is shut and capped, the hole in the drain is closed.',
      'Look under the sink tomorrow and after a week: a dry paper towel round the cap and the clamp.',
    ],
    next: '',
    closedBy: null,
  },
}; // oxfmt-ignore

/** The row of a happening. */
export const happeningRow = (h: Happening): HappeningRow => ROWS[h];

/** What has happened and nothing has closed yet, the oldest first. */
export function openHappenings(record: Pick<JobRecord, 'happened' | 'visits' | 'proofs'>): readonly Happened[] {
  const last = (all: readonly number[]): number => Math.max(-Infinity, ...all);
  const visited = last(record.visits.filter((v) => !isPlanned(v)).map(visitMs));
  const proved = last(record.proofs.map((p) => Date.parse(p.at)));
  const lifted = last(record.happened.filter((h) => h.event === 'notice-lifted').map((h) => Date.parse(h.at)));
  return record.happened.filter((h) => {
    const atMs = Date.parse(h.at);
    const { closedBy } = ROWS[h.event];
    if (closedBy === 'visit') return visited <= atMs;
    if (closedBy === 'proof') return proved <= atMs;
    return closedBy === 'notice-lifted' && lifted <= atMs;
  });
}

/** When a system was taken out, ms; null where it stands, or stands again since a later version. @param approvedMs its newest version */
export function takenOutMs(record: Pick<JobRecord, 'happened'>, approvedMs: number): number | null {
  const out = record.happened.findLast((h) => h.event === 'taken-out');
  const atMs = out === undefined ? null : Date.parse(out.from ?? out.at);
  return atMs !== null && Date.parse(out?.at ?? '') >= approvedMs ? atMs : null;
}

/** Whether somebody is away at a moment. */
export const isAway = (
  span: { readonly from?: string | undefined; readonly until?: string | undefined } | undefined,
  ms: number,
): boolean =>
  span?.from !== undefined && span.until !== undefined && Date.parse(span.from) <= ms && ms < Date.parse(span.until);

/** What is wrong with the moments of a happening, in words; null where nothing is. @param beganMs it began to work, null before */
export function happeningProblem(
  what: Happening,
  fromMs: number,
  untilMs: number | null,
  nowMs: number,
  beganMs: number | null,
): string | null {
  if (!Number.isFinite(fromMs)) return 'A day, such as 3 March.';
  if (ROWS[what].asks === 'day' && fromMs > nowMs) return 'That is to come: written down once it is so.';
  if (ROWS[what].asks === 'day' && what !== 'adopted' && beganMs !== null && fromMs < beganMs - DAY_MS)
    return 'That is before the system was put in.';
  if (ROWS[what].asks === 'span' && (untilMs === null || !(untilMs > fromMs))) return 'They come back after they go.';
  return null;
}
