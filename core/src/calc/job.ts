import { siteFrom, type Site } from '../gauge/site.ts';
import { waterAtPressureL } from '../hydraulics/tank.ts';
import { partOf, type Catalogue } from '../parts/catalogue.ts';
import { branchService } from '../size/explain/reasons.ts';
import type { Assembly } from '../size/kinds/candidates.ts';
import { AnyJobFileSchema, openJob, type OpenedJob } from '../record/jobfile.ts';
import { buildSystem } from '../system/build.ts';
import { ofWork, systemInWords, type System } from '../system/system.ts';
import { choiceOf, designInWords, missingParts, type Design } from '../system/design.ts';
import { rankFaults } from '../prove/faults.ts';
import { prove as proveReadings } from '../prove/verdict.ts';
import { tellBeside } from '../size/beside.ts';
import { decide } from '../size/decide.ts';
import type { Evaluation } from '../size/judge/evaluate.ts';
import { ageing, simulateYear } from '../size/judge/operating.ts';
import { calculator, InputError } from './calculator.ts';

/** An evaluation's figures without the curves that only a drawing wants. */
function figures(e: Evaluation, words: (d: Design) => string): Record<string, unknown> {
  const { worst } = e;
  return {
    design: e.design,
    inWords: words(e.design),
    score: e.score,
    temperatureC: worst.temperatureC,
    inletBar: worst.middle.inletBar,
    litresADay: worst.litresADay,
    fillMinutes: worst.fill.minutes,
    closeBar: worst.fill.closeBar,
    usableL: worst.usableL,
    tankTdsMgL: worst.fill.tankTdsMgL,
    wasteRatio: Number.isFinite(worst.wasteRatio) ? worst.wasteRatio : null,
    tapFlowLMin: worst.tapFlowLMin,
    /** at the open tap without a tank; null where there is one */
    direct:
      worst.direct && worst.tapFlowLMin > 0
        ? {
            glassSeconds: worst.direct.glassSeconds,
            productBar: worst.direct.productBar,
            firstGlassTdsMgL: worst.direct.firstGlassTdsMgL,
            afterNightTdsMgL: worst.direct.afterNightTdsMgL,
          }
        : null,
    year: e.year,
    failures: e.failures,
  };
}

/** Litres a fridge gets from a full tank before its valve starves, and whether it starves before the refill begins; null without one. */
function fridgeServed(e: Evaluation, site: Site, catalogue: Catalogue): { servedL: number; deadlock: boolean } | null {
  const fridge = branchService(e, site, catalogue).find((s) => s.outlet === 'fridge');
  if (!fridge) return null;
  const fullL = waterAtPressureL(partOf(catalogue, 'tank', e.design.tankId ?? ''), e.worst.fill.closeBar, site.airBar);
  return { servedL: Math.max(0, fullL - fridge.servedToL), deadlock: fridge.deadlock };
}

/** What is said of a job for which nothing is put in. */
const UNSIZED = { storage: null, pumped: false, fridge: null, remedies: [], provisional: null } as const;

/** What a system of its own kind keeps water in: nothing behind filters alone. */
const storedIn = (system: Assembly | null): 'vented' | null =>
  system?.choice.picks.some((p) => p.kind === 'vented-tank') === true ? 'vented' : null;

/** The decision for a job. */
export const size = calculator(
  'size',
  'a job file decided: recommendation, reasons, alternatives, flip points, bands, the operating point by month',
  AnyJobFileSchema,
  (file, shelf) => {
    const job = openJob(file, shelf);
    const d = decide(job);
    const beside = tellBeside(job, d);
    const site = siteFrom(job.known, job.rules, job.placed);
    const words = (design: Design): string => designInWords(design, job.catalogue);
    if (d.kind === 'nothing-fits') {
      const { nearest, ...rest } = d;
      return {
        ...rest,
        nearest: nearest && figures(nearest, words),
        turns: beside.turns?.turns ?? [],
        ...UNSIZED,
        remedies: beside.remedies ?? [],
      };
    }
    if (d.kind === 'referral') return { ...d, ...UNSIZED, provisional: beside.provisional ?? null };
    if (d.kind === 'other-way') return { ...d, ...UNSIZED, storage: storedIn(d.system) };
    if (d.kind !== 'recommendation' || !site.ok) return { ...d, ...UNSIZED };
    const design = d.chosen.design;
    const { study } = beside;
    const lived = simulateYear(design, job.catalogue, site.site);
    return {
      kind: d.kind,
      sentence: d.sentence,
      reasons: d.reasons,
      storage: design.tankId === null ? 'direct' : 'tank',
      pumped: design.pumpId !== null,
      fridge: fridgeServed(d.chosen, site.site, job.catalogue),
      remedies: [],
      provisional: null,
      chosen: figures(d.chosen, words),
      alternatives: d.alternatives.map((a) => ({
        title: a.title,
        winsOn: a.winsOn,
        ...figures(a.evaluation, words),
      })),
      besides: [beside.vented].flatMap((v) => {
        if (!v) return [];
        const { choice, ...told } = v;
        return [{ ...told, parts: choice.picks.map((p) => p.part?.id ?? p.kind) }];
      }),
      surety: d.surety,
      rejected: d.rejected,
      notJudged: d.notJudged,
      assumed: d.assumed,
      safety: d.safety,
      flips: study?.flips ?? [],
      readAgain: study?.flips.filter((f) => f.near).map((f) => f.label) ?? [],
      turns: beside.turns?.turns ?? [],
      softening: beside.softening ?? null,
      noPumpFromBar: study?.noPumpFromBar ?? null,
      byTemperature: study?.byTemperature ?? [],
      bands: beside.bands ?? null,
      months: lived.months,
      year: lived.year,
      worstMonth: lived.worstMonth,
      preFilterL: lived.preFilterL,
      productSideL: lived.productSideL,
      energyKWh: lived.energyKWh,
      ageing: ageing(design, job.catalogue, site.site, job.rules),
    };
  },
);

/** The verdict on a job's readings. */
export const prove = calculator(
  'prove',
  'a job file with readings judged: expected bands, rejection, recovery, normalised flow and passage, verdict, faults',
  AnyJobFileSchema,
  (file, shelf) => {
    const job = openJob(file, shelf);
    if (!job.proof)
      throw new InputError('proof', 'the job has no readings to judge: give proof, or a proof among the facts');
    const site = siteFrom(job.known, job.rules, job.placed);
    if (!site.ok) throw new InputError('known', `not known yet: ${site.missing.join(', ')}`);
    const { system, of } = systemToJudge(job, site.site);
    if (ofWork(system, 'separates').length === 0)
      throw new InputError('design', 'a system without a membrane is proved at its tap, not by salt held back');
    const r = proveReadings(job.proof, system, site.site, job.rules.meterError);
    if (!r.ok) throw new InputError(`proof.${r.missing[0] ?? ''}`, `not read: ${r.missing.join(', ')}`);
    return {
      ...of,
      ...r.verdict,
      faults: rankFaults(job.proof, system, site.site, job.rules.meterError),
    };
  },
);

/** The system a job's readings are judged by: named by hand, the approved one as it was built, or what is recommended. */
function systemToJudge(
  job: OpenedJob,
  site: Site,
): { readonly system: System; readonly of: Readonly<Record<string, unknown>> } {
  if (!job.design && job.approved)
    return {
      system: job.approved.system,
      of: { version: job.approved.number, inWords: systemInWords(job.approved.system) },
    };
  let { design } = job;
  if (!design) {
    const d = decide(job);
    if (d.kind !== 'recommendation') throw new InputError('design', d.sentence);
    design = d.chosen.design;
  }
  const missing = missingParts(design, job.catalogue);
  if (missing.length > 0) throw new InputError('design', `the shelf has no ${missing.join(', ')}`);
  const system = buildSystem(choiceOf(design, job.catalogue), job.catalogue, site);
  return { system, of: { design, inWords: designInWords(design, job.catalogue) } };
}
