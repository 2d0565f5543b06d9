import { formatNumber, isDone, jointStep, livesAsBuilt, wetElements, type Lens, type Life } from '@katharos/core';
import type { JobContext } from './useJob.ts';
import { nowMs } from '../ui/clock.ts';

/** Lives of the job's cartridges now; none before it works. */
export function livesNow(job: JobContext, nowMs: number): Life[] {
  return job.built ? livesAsBuilt(job.built, nowMs) : [];
}

/** A few words beside each lens: where that part of the job stands. */
export function lensStates(job: JobContext): Readonly<Record<Lens, string>> {
  const { record, view, decision, approved } = job;
  const read = Object.keys(record.readings).length;
  const done = view ? view.sheet.filter((s) => isDone(record, s.key)).length : 0;
  const made = view ? view.joints.filter((j) => isDone(record, jointStep(j.joint.id))).length : 0;
  const lives = livesNow(job, nowMs());
  const overdue = lives.filter((l) => l.state === 'overdue').length;
  const d = decision.value?.kind;
  return {
    gauge: ['nothing read', '1 reading'][read] ?? `${String(read)} readings`,
    size: approved
      ? `approved, version ${String(approved.number)}`
      : d === 'recommendation'
        ? 'decide'
        : d === 'referral'
          ? 'referred'
          : d === 'other-way'
            ? 'something else'
            : d === 'nothing-fits'
              ? 'nothing fits'
              : 'needs readings',
    plumb: view && approved ? jointsInWords(made, view.joints.length) : '',
    flush:
      view && approved
        ? job.built?.inService === true
          ? 'done'
          : done === 0
            ? 'not begun'
            : `${String(done)} of ${String(view.sheet.length)}`
        : '',
    prove: record.proofs.length === 0 ? '' : `${String(record.proofs.length)} proofs`,
    keep: lives.length === 0 ? '' : overdue > 0 ? `${String(overdue)} overdue` : 'nothing overdue',
  };
}

/** "40 joints", "40 joints, 9 made", "40 joints made". */
const jointsInWords = (made: number, all: number): string =>
  made === 0
    ? `${String(all)} joints`
    : made === all
      ? `${String(all)} joints made`
      : `${String(all)} joints, ${String(made)} made`;

/** What the current lens says about each element of the Line. */
export function lensMarks(lens: Lens, job: JobContext): { marks: Record<string, string>; wet: ReadonlySet<string> } {
  const { view, record } = job;
  const marks: Record<string, string> = {};
  if (!view) return { marks, wet: new Set() };
  const wet = wetElements(view.sheet, record);
  for (const e of view.system.components) {
    if (lens === 'plumb') {
      const joints = view.joints.filter((j) => j.joint.component.id === e.id).map((j) => j.joint.number);
      if (joints.length > 0) marks[e.id] = numbersInWords(joints);
    }
    if (lens === 'flush') marks[e.id] = wet.has(e.id) ? 'wet' : 'dry';
  }
  if (lens === 'prove') Object.assign(marks, readMarks(job));
  if (lens === 'keep')
    for (const l of livesNow(job, nowMs()))
      marks[l.componentId] =
        l.state === 'overdue' ? 'overdue' : `${String(Math.max(0, Math.round(100 * (1 - l.used))))} % left`;
  return { marks, wet };
}

/** Where on the Line each figure of a proof is read, by the kind of component there. */
const READ_AT: Readonly<Record<string, readonly string[]>> = {
  productTds: ['sample'],
  productFlow: ['membrane'],
  concentrateFlow: ['restrictor'],
};

/** What was read last beside what was expected, where on the Line it was read: "24/21 mg/L". */
function readMarks({ view, record }: JobContext): Record<string, string> {
  const judged = record.proofs.at(-1)?.judged;
  const marks: Record<string, string> = {};
  for (const c of judged?.compared ?? []) {
    const at = view?.system.components.find((x) => READ_AT[c.key]?.includes(x.kind));
    const small = c.unit === 'L/min' && Math.max(c.expected, c.measured) < 1;
    const [unit, times] = small ? ['mL/min', 1000] : [c.unit, 1];
    if (at) marks[at.id] = `${formatNumber(times * c.measured, 2)}/${formatNumber(times * c.expected, 2)} ${unit}`;
  }
  return marks;
}

/** Numbers as a sheet writes them: 3–4, or 13, 25 where they do not follow each other. */
export function numbersInWords(numbers: readonly number[]): string {
  const runs: number[][] = [];
  for (const n of numbers) {
    const last = runs.at(-1);
    if (last?.at(-1) === n - 1) last.push(n);
    else runs.push([n]);
  }
  return runs.map((r) => (r.length > 1 ? `${String(r[0])}–${String(r.at(-1))}` : String(r[0]))).join(', ');
}
