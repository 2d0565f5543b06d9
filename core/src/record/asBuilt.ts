import { commissionedAt } from '../flush/schedule.ts';
import { takenOutMs } from '../keep/happening.ts';
import { lifeAt, lifeSpans, type Life, type LifeSpan, type Wearing } from '../keep/life.ts';
import { numberOf } from '../gauge/fields.ts';
import { roomOf } from '../plumb/place/room.ts';
import { asLaid } from '../plumb/route/runs.ts';
import { throughBed } from '../size/judge/product.ts';
import { partIn, type System } from '../system/system.ts';
import { standingIn, type StandingDesign } from '../size/kinds/candidates.ts';
import { withExtras, type Extra } from '../plumb/extras.ts';
import type { Fact, FactOf } from '../facts/facts.ts';
import { isPlanned, readJob, visitMs, type JobRecord } from '../facts/record.ts';
import { judgedSite, type DesignVersion } from './version.ts';

/** A job's system as it stands: the newest version, with what really went in. */
export interface AsBuilt {
  readonly version: DesignVersion;
  readonly system: System;
  /** what was recorded under this version */
  readonly record: JobRecord;
  /** when each component began to work, ms; null before it does */
  readonly startedMs: (component: string) => number | null;
  readonly inService: boolean;
  /** it was taken out then, ms; null where it stands */
  readonly outMs: number | null;
}

/** What a fact says was put in. */
export const extraOf = ({ id, extra, part, tee }: FactOf<'carries'>): Extra => ({ name: extra, id, part, tee });

/**
 * A system as it really stands: the parts that went in, in place of those planned, what it carries beside its sizing, where they stand, and its
 * tubes as they were cut; what was cut counts before what the places make of it.
 */
export function asItStands(
  planned: System,
  record: Pick<JobRecord, 'fitted' | 'carries' | 'runs' | 'ways' | 'stands' | 'placed' | 'known'>,
): System {
  const { fitted, runs, ways, stands, placed, known } = record;
  const carried = withExtras(planned, record.carries.map(extraOf));
  const components = carried.components.map((c) => {
    const f = fitted[c.id];
    if (!f) return c;
    return { ...c, part: f.part, ...(f.serial === '' ? {} : { unit: { serial: f.serial, at: f.at } }) };
  });
  const { links } = asLaid({ ...carried, components }, roomOf(known, placed), stands, ways);
  return {
    components,
    links: links.map((l) => {
      const run = runs[l.id];
      return run && l.tube ? { ...l, lengthM: run.lengthM, riseM: run.riseM } : l;
    }),
  };
}

/**
 * When each version began to work: when the last step of its run sheet was ticked; a later version that asks for nothing,
 * when it was approved. A system taken over in service, without a tick on its sheet, when it was
 * adopted, or by its first proof or visit.
 */
function commissionings(versions: readonly DesignVersion[], facts: readonly Fact[]): (number | null)[] {
  let works = false;
  return versions.map((d) => {
    const record = readJob(facts, d);
    const done = commissionedAt(d.sheet, record);
    let at = done === null ? null : Date.parse(done);
    if (at === null && d.sheet.length === 0 && works) at = Date.parse(d.at);
    if (at === null && d.number === 1 && d.sheet.every((step) => record.ticks[step.key] === undefined)) {
      const seen = [
        ...record.visits.filter((v) => !isPlanned(v)).map(visitMs),
        ...record.proofs.map((f) => Date.parse(f.at)),
        ...record.happened.filter((h) => h.event === 'adopted').map((h) => Date.parse(h.from ?? h.at)),
      ];
      at = seen.length > 0 ? Math.min(...seen) : null;
    }
    works ||= at !== null;
    return at;
  });
}

/** Reads a job's system as built out of its versions and facts; null before anything is approved. */
export function asBuilt(versions: readonly DesignVersion[], facts: readonly Fact[]): AsBuilt | null {
  const version = versions.at(-1);
  if (!version) return null;
  const record = readJob(facts, version);
  const began = commissionings(versions, facts);
  const startedMs = (component: string): number | null => {
    const first = versions.findIndex(
      (d, i) => began[i] !== null && d.system.components.some((c) => c.id === component),
    );
    return first < 0 ? null : (began[first] ?? null);
  };
  return {
    version,
    system: asItStands(version.system, record),
    record,
    startedMs,
    inService: began.at(-1) !== null && began.at(-1) !== undefined,
    outMs: takenOutMs(record, Date.parse(version.at)),
  };
}

/** What stands approved, for a decision to keep; null where nothing does, or no search would put it together. */
export function standingAmong(versions: readonly DesignVersion[], facts: readonly Fact[]): StandingDesign | null {
  const built = asBuilt(versions, facts);
  return built && standingIn(built.system);
}

/**
 * What goes through a system in its house: as the last readings have it, those after the approval too; what is read of nothing
 * is as it was judged by.
 */
export function wearingIn(built: AsBuilt): Wearing | null {
  const { version, system, record } = built;
  const site = judgedSite(version.judged);
  if (!site) return null;
  const { wasteRatio, tankTdsMgL, tapFlowLMin } = version.judged.figures;
  const now = (key: 'litresADay' | 'ironMgL' | 'chlorineMgL'): number => numberOf(record.known, key) ?? site[key];
  const bed = partIn(system, 'mineral')?.bed;
  const after = bed && tankTdsMgL > 0 ? throughBed(bed, site, site.todayC, tankTdsMgL, tapFlowLMin).after : null;
  return {
    productLDay: now('litresADay'),
    said: numberOf(record.known, 'litresADay') !== undefined,
    wasteRatio,
    carries: { disinfectant: site.disinfectant, ironMgL: now('ironMgL'), chlorineMgL: now('chlorineMgL') },
    dissolvedMgL: after?.dissolvedMgL ?? null,
  };
}

/** What everything that wears in a system as built lives by, at its own house's use. */
export function spansAsBuilt(built: AsBuilt): LifeSpan[] {
  const wearing = built.outMs === null ? wearingIn(built) : null;
  return wearing ? lifeSpans(built.system, built.record, built.startedMs, wearing) : [];
}

/** Lives of everything that wears in a system as built, as they stand now. @param nowMs the caller's clock */
export const livesAsBuilt = (built: AsBuilt, nowMs: number): Life[] => spansAsBuilt(built).map((s) => lifeAt(s, nowMs));
