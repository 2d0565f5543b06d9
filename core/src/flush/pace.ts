import { isDone, type JobRecord } from '../facts/record.ts';
import type { RunStep } from '../facts/step.ts';

/** A fill within these times what was planned is as good as planned: elements vary by a fifth, and gauges and pens err. */
export const FILL_BAND = { least: 0.7, most: 1.4 } as const;

/** How the last fill went against its plan. */
export interface FillPace {
  readonly step: RunStep;
  readonly tookMin: number;
  readonly plannedMin: number;
  /** what later fills take, times their plan */
  readonly factor: number;
  /** slow or fast beyond the band: a finding to be looked into, never a correction of what Prove judges by */
  readonly finding: 'slow' | 'fast' | null;
}

/**
 * How long the last fill that is done really took. Who comes back late ticks late: a fill ticked after its clock was over took
 * longer only where somebody had found it not full by then. Null where none says anything.
 */
export function fillPace(sheet: readonly RunStep[], record: Pick<JobRecord, 'clocks' | 'ticks'>): FillPace | null {
  const told = sheet.flatMap((step): FillPace[] => {
    const clock = record.clocks[step.key];
    if (step.fillsToL === undefined || typeof clock?.endedAt !== 'string' || !isDone(record, step.key)) return [];
    const tookMin = (Date.parse(clock.endedAt) - Date.parse(clock.startedAt)) / 60000;
    const plannedMin = step.minutes;
    if (!(tookMin > 0) || plannedMin <= 0 || (tookMin >= plannedMin && !clock.extended)) return [];
    const factor = tookMin / plannedMin;
    return [{ step, tookMin, plannedMin, factor, finding: factor > FILL_BAND.most ? 'slow' : factor < FILL_BAND.least ? 'fast' : null }];
  });
  return told.at(-1) ?? null;
} // oxfmt-ignore

/** Minutes a step takes, after what the last fill took. */
export const pacedMinutes = (step: RunStep, pace: FillPace | null): number =>
  step.fillsToL === undefined || !pace ? step.minutes : Math.ceil(step.minutes * pace.factor);

/** What a fill off its plan may come from, the likeliest in new work first. */
export const FILL_CAUSES: Readonly<Record<'slow' | 'fast', readonly string[]>> = {
  slow: [
    'The stop valve or the feed’s own valve is not fully open, or a tube is kinked.',
    'A wrapper was left on a cartridge, or a pre-filter is clogged already.',
    'The pump does not run, or stops: read the pressure before the membrane.',
    'The tank’s air stands above its charge: it pushes back sooner, and holds less.',
    'Somebody drew at the tap, or the drain’s flow is too much.',
    'Colder water or less pressure than was read: read both again.',
  ],
  fast: [
    'The tank was not empty, or its air stands above its charge: count the litres when it is poured away.',
    'More pressure or warmer water than was read: read both again.',
    'Water passes the membrane’s seal: the product’s TDS tells.',
  ],
};
