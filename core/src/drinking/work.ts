import { isDone, openChange, visitMs, type JobRecord } from '../facts/record.ts';
import type { FactOf } from '../facts/facts.ts';
import type { RunStep } from '../facts/step.ts';
import { readProblem } from '../flush/order.ts';
import { beforeDrinking, stepsToDrink, type BeforeDrinking } from '../flush/schedule.ts';
import type { AsBuilt } from '../record/asBuilt.ts';
import { CHLORINE_BORNE_MG_L } from './proofs.ts';
import type { Against } from './mayDrink.ts';

/** What work says against drinking, and what of it lies before the first glass. */
export interface Work {
  readonly against: readonly Against[];
  readonly before: readonly BeforeDrinking[] | null;
  /** the first flush is what is in hand */
  readonly flushing: boolean;
}

/** So many of the steps left open are named. */
const NAMED = 2;

/** Whether anything of a sheet was done, or its clock begun; reading first opens nothing. */
const isTouched = (sheet: readonly RunStep[], record: JobRecord): boolean =>
  sheet.some((s) => s.phase !== 'Read it first' && (isDone(record, s.key) || record.clocks[s.key] !== undefined));

const isStep = (step: RunStep, key: string): boolean => step.key === key || step.key.endsWith(`:${key}`);

/** Whether bleach went in by a sheet, and a strip that proves it is out was not read. */
function bleachStands(sheet: readonly RunStep[], record: JobRecord): boolean {
  const began = sheet.some((s) => isStep(s, 'sanitise') && (isDone(record, s.key) || record.clocks[s.key] !== undefined));
  const unproved = sheet.some(
    (s) =>
      (isStep(s, 'sanitise-rinse') || isStep(s, 'strip-carbon')) &&
      (!isDone(record, s.key) || readProblem(s, record.ticks[s.key]?.read, record) !== null),
  );
  return began && unproved;
} // oxfmt-ignore

/** The first flush, or what a later version still asks for; bleach is part of the work as long as that is in hand. */
function versionWork({ version, record, inService }: AsBuilt): Work {
  const { sheet } = version;
  const none = { against: [], before: null, flushing: false };
  const before = inService ? null : beforeDrinking(sheet, record);
  const begun = version.number > 1 || isTouched(sheet, record);
  if (before) return { against: [{ code: begun ? 'work' : 'not-put-in' }], before, flushing: true };
  const bleach = bleachStands(sheet, record) && !bleachReadOut(record, Date.parse(version.at));
  return bleach ? { ...none, against: [{ code: 'bleach' }] } : none;
} // oxfmt-ignore

/** Whether a proof after a moment read the chlorine, and too little of it was there to be bleach. */
function bleachReadOut(record: JobRecord, sinceMs: number): boolean {
  const read = record.proofs.findLast((p) => p.readings.chlorineMgL !== undefined && Date.parse(p.at) > sinceMs);
  return (read?.readings.chlorineMgL?.value ?? Infinity) < CHLORINE_BORNE_MG_L;
}

/** Steps a closed change left open before the first glass, where nothing later made up for them. */
function leftOpen(change: FactOf<'change'>, closedMs: number, record: JobRecord): Against | null {
  if (!isTouched(change.sheet, record)) return null;
  const left = stepsToDrink(change.sheet, record);
  if (left.length === 0) return null;
  const bleach = bleachStands(change.sheet, record);
  const later = record.changes.filter((c) => c.at > change.at && isTouched(c.sheet, record));
  const madeUp = later.some(
    (c) =>
      stepsToDrink(c.sheet, record).length === 0 &&
      (!bleach || c.sheet.some((s) => isStep(s, 'sanitise-rinse'))),
  );
  if (madeUp) return null;
  if (bleach) return bleachReadOut(record, closedMs) ? null : { code: 'bleach' };
  const proved = record.proofs.some((p) => Date.parse(p.at) > closedMs);
  const names = left.slice(0, NAMED).map((s) => s.title);
  const about = `${names.join('; ')}${left.length > NAMED ? ` and ${String(left.length - NAMED)} more` : ''}`;
  return proved ? null : { code: 'left-open', about };
} // oxfmt-ignore

/** What is in hand at a system as it stands, and what was left undone. */
export function workAgainst(built: AsBuilt): Work {
  const { record } = built;
  const ofVersion = versionWork(built);
  const open = openChange(record);
  const against = [...ofVersion.against];
  let before = ofVersion.before;
  for (const change of record.changes) {
    const visit = record.visits.find((v) => v.change === change.id);
    if (visit) {
      const left = leftOpen(change, visitMs(visit), record);
      if (left) against.push(left);
    } else if (change === open && change.takesOut === true) {
      // no first glass comes of it
      if (isTouched(change.sheet, record)) against.push({ code: 'taken-out' });
    } else if (change === open) {
      const mine = beforeDrinking(change.sheet, record);
      if (mine) against.push({ code: 'work' });
      before = mine ?? before;
    }
  }
  return { against, before, flushing: ofVersion.flushing && open === null };
}
