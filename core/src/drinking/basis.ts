import type { Fact } from '../facts/facts.ts';
import { isPlanned, openCalls, readJob, visitMs, type JobRecord } from '../facts/record.ts';
import { firstGlassNeeds } from '../flush/drinking.ts';
import { isPrivate } from '../gauge/doubts.ts';
import { choiceOf, choicesIn, numberOf, type Known } from '../gauge/fields.ts';
import { openHappenings, STOOD } from '../keep/happening.ts';
import { lifeAt, type LifeSpan } from '../keep/life.ts';
import { awaitedSamples, soughtRow, WATER_WORDS } from '../keep/sample.ts';
import { COMPLAINTS } from '../prove/complaint.ts';
import { asBuilt, spansAsBuilt, type AsBuilt } from '../record/asBuilt.ts';
import type { DesignVersion } from '../record/version.ts';
import { NITRATE_GUIDELINE_MGL } from '../size/kinds/otherWay.ts';
import { ofKind, partIn, type System } from '../system/system.ts';
import { findingsAgainst, lampSampleAgainst } from './laboratory.ts';
import { stricter, type Against, type DrinkBasis } from './mayDrink.ts';
import type { Meanwhile } from './causes.ts';
import { proofsAgainst } from './proofs.ts';
import { workAgainst } from './work.ts';

const DAY_MS = 86_400_000;

/** What stands under the sink: the newest version whose work has begun. One that is only approved changes no water. */
export function standingVersions(versions: readonly DesignVersion[], facts: readonly Fact[]): readonly DesignVersion[] {
  const begun = versions.findLastIndex((d, i) => {
    if (i === 0 || d.sheet.length === 0) return true;
    const { ticks, clocks } = readJob(facts, d);
    return d.sheet.some((s) => ticks[s.key]?.done === true || clocks[s.key] !== undefined);
  });
  return versions.slice(0, begun + 1);
}

/**
 * Gathers what is known for or against drinking in one house, without a clock.
 * @param versions of the design, oldest first; empty before any is approved
 * @param newest the newest version as built, where the caller has it already
 */
export function drinkBasis(versions: readonly DesignVersion[], facts: readonly Fact[], newest?: AsBuilt | null): DrinkBasis {
  const standing = standingVersions(versions, facts);
  const built = newest && standing.length === versions.length ? newest : asBuilt(standing, facts);
  const record = built?.record ?? readJob(facts);
  const known: Known = { ...built?.version.judged.known, ...record.known };
  const own = ownWater(known);
  if (!built) {
    const against: Against[] = [...sourceAgainst(known, null), ...findingsAgainst(record), { code: 'not-put-in' }];
    return { against, before: null, workFirst: [], own, heed: [] };
  }
  const { system, version } = built;
  if (built.outMs !== null) return { against: [{ code: 'taken-out' }], before: null, workFirst: [], own, heed: [] };
  const work = workAgainst(built);
  const against: Against[] = [
    ...sourceAgainst(known, system),
    ...findingsAgainst(record),
    ...lampAgainst(standing, built),
    ...work.against,
    ...proofsAgainst(record),
    ...happeningsAgainst(record),
    ...callsAgainst(record),
    ...unprovedAgainst(known, built),
  ];
  return {
    against,
    before: work.before,
    workFirst: work.flushing ? firstGlassNeeds(system, version.judged.rules) : [],
    own,
    heed: heedOf(known, system, record, versions.length > standing.length ? (versions.at(-1)?.number ?? null) : null),
  };
} // oxfmt-ignore

/** The house's own water, as it comes: mains and a clean source are drunk as before. */
function ownWater(known: Known): Meanwhile {
  const source = choiceOf(known, 'source');
  const report = choiceOf(known, 'laboratory') ?? 'none';
  const microbes: Meanwhile = !isPrivate(source) || report === 'clean' ? 'own' : report === 'unsafe' ? 'boil' : 'bottled';
  const dissolved = choiceOf(known, 'pipeMaterial') === 'lead' || nitrateAbove(known);
  return stricter(microbes, dissolved ? 'bottled' : 'own');
} // oxfmt-ignore

const nitrateAbove = (known: Known): boolean => (numberOf(known, 'nitrateMgL') ?? 0) > NITRATE_GUIDELINE_MGL;

/** What the source and the pipe say, whatever stands behind them. */
function sourceAgainst(known: Known, system: System | null): Against[] {
  const out: Against[] = [];
  const report = choiceOf(known, 'laboratory') ?? 'none';
  const lit = system !== null && ofKind(system, 'lamp').length > 0;
  if (isPrivate(choiceOf(known, 'source'))) {
    if (report === 'none') out.push({ code: 'no-report' });
    if (report === 'unsafe' && !lit) out.push({ code: 'not-disinfected' });
  }
  if (choiceOf(known, 'pipeMaterial') === 'lead') out.push({ code: 'lead-pipe' });
  return out;
}

/** The lamp: its sample, and its hours. */
function lampAgainst(standing: readonly DesignVersion[], built: AsBuilt): Against[] {
  const lamps = ofKind(built.system, 'lamp');
  if (lamps.length === 0) return [];
  const since = lamps.map((l) => {
    const first = standing.find((d) => d.system.components.some((c) => c.id === l.id));
    return Date.parse((first ?? built.version).at);
  });
  const spent = spansAsBuilt(built)
    .filter((s: LifeSpan) => s.kind === 'lamp')
    .map((s): Against => ({ code: 'lamp-spent', fromMs: lifeAt(s, Math.max(s.beganMs, ...s.changesMs)).dueMs }));
  return [...lampSampleAgainst(built.record, Math.max(...since)), ...spent];
}

/** What happened to it and is not closed; what it stood. */
function happeningsAgainst(record: JobRecord): Against[] {
  const open = openHappenings(record).flatMap(({ event }): Against[] => {
    switch (event) {
      case 'boil-notice':
      case 'notice-lifted':
      case 'frost':
      case 'adopted':
      case 'lamp-dark':
        return [{ code: event }];
      // who lives there, and what closes by itself, changes no water
      case 'new-owner':
      case 'away':
      case 'taken-out':
        return [];
    }
  });
  const visits = record.visits.filter((v) => !isPlanned(v)).map(visitMs);
  const stood = record.happened.flatMap((h): Against[] => {
    if (h.event !== 'away' || h.from === undefined || h.until === undefined) return [];
    const longMs = Date.parse(h.from) + STOOD.sanitiseDays * DAY_MS;
    return Date.parse(h.until) > longMs && !visits.some((ms) => ms >= longMs) ? [{ code: 'stood', fromMs: longMs }] : [];
  });
  return [...open, ...stood];
} // oxfmt-ignore

/** Calls about what is drunk, and about a leak, until somebody has read it. */
function callsAgainst(record: JobRecord): Against[] {
  return openCalls(record).flatMap((c): Against[] =>
    c.complaint === 'tastes' ? [{ code: 'tastes-call' }] : c.complaint === 'leak' ? [{ code: 'leak-call' }] : [],
  );
}

/** A feed above a health guideline is not drunk on the element's rating alone. */
function unprovedAgainst(known: Known, { record, system }: AsBuilt): Against[] {
  const wanted = nitrateAbove(known) && partIn(system, 'element') !== undefined;
  return wanted && record.proofs.length === 0 ? [{ code: 'feed-unproved' }] : [];
}

/** What stays to be heeded by those who drink. @param waits number of a version that is approved and not put in; null for none */
function heedOf(known: Known, system: System, record: JobRecord, waits: number | null): string[] {
  const told = choicesIn(known.care ?? 'none');
  const membrane = partIn(system, 'element') !== undefined;
  const lit = ofKind(system, 'lamp').length > 0;
  const worries = choicesIn(known.worry ?? 'none').filter((w) => w !== 'none' && w !== 'microbes');
  const calls = openCalls(record).filter((c) => c.complaint !== 'tastes' && c.complaint !== 'leak');
  const awaited = awaitedSamples(record);
  return [
    ...(told.includes('infant') ? [nitrateAbove(known) ? 'Not for the infant’s bottles until a laboratory has read the nitrate at this tap: bottled water.' : 'Infants: very low mineral water, ask the doctor first.'] : []),
    ...(told.includes('diet') ? ['Whoever keeps to a doctor’s diet does not drink it until the doctor has agreed.'] : []),
    ...(told.includes('medical') ? ['Not for dialysis or any other medical use, theirs among them.'] : []),
    ...(lit ? ['While the lamp is off nobody drinks.'] : []),
    ...(membrane && told.every((t) => t === 'none')
      ? ['Infants, and diets a doctor set: very low mineral water, ask the doctor. Not for dialysis or other medical use.']
      : []),
    ...(worries.length > 0 ? [`What they worry about (${worries.join(', ')}) no pocket meter sees: a laboratory’s sample at this tap answers it.`] : []),
    ...awaited.map((s) => `A laboratory has not answered yet: ${soughtRow(s.sought).label} in the ${WATER_WORDS[s.water]}.`),
    ...calls.map((c) => `They called because ${COMPLAINTS[c.complaint]}. If taste or smell changes they stop drinking and call.`),
    ...(waits === null ? [] : [`Version ${String(waits)} is approved and not put in yet: this is said of what stands there now.`]),
    'After days away the first glasses are poured away. A notice to boil water holds for this water too.',
  ];
} // oxfmt-ignore
