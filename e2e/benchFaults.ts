import { siteFrom, type Known, type HouseRules, type System } from '@katharos/core';
import { basicOf, confusionsOf, type Confusions } from '@katharos/core/testing/proofs';
import { put } from './benchTable.ts';

/** Trials of each fault. */
const EACH = 8;

/** Which fault was named first for which, those that were mistaken. */
const mistaken = (c: Confusions): string[] =>
  c.codes.flatMap((code) => {
    const others = Object.entries(c.first[code] ?? {}).filter(([named]) => named !== code);
    return others.length === 0 ? [] : [`    ${code}: ${others.map(([n, times]) => `${n} ${String(times)}`).join(', ')} of ${String(EACH)}`];
  }); // oxfmt-ignore

/** The diagnosis' rows of the bench: faults over simulated truths, with all readings and with the six basics. */
export function faultRows(system: System, known: Known, rules: HouseRules): void {
  const r = siteFrom(known, rules);
  if (!r.ok) return;
  const began = performance.now();
  const all = confusionsOf(system, r.site, EACH, 7);
  put('a diagnosis over simulated truths, each', (performance.now() - began) / all.trials, 'ms');
  put(`faults not named first, ${String(all.codes.length)} of them, all readings`, 100 * (1 - all.firstRight), '%', { most: 10 }); // oxfmt-ignore
  put('faults not among three', 100 * (1 - all.amongThree), '%', { most: 2 });
  const sound = all.first.none?.none ?? 0;
  put('a sound system not called sound', 100 * (1 - sound / EACH), '%', { most: 5 });
  // a fault the six basics do not show is told as not looked at
  const shown = all.codes.filter(
    (c) => !['non-return', 'shut-off', 'air-charge', 'overcharged', 'carbon-spent'].includes(c),
  );
  const basic = confusionsOf(system, r.site, EACH, 7, basicOf, shown);
  put('not named first by the six basics, of those they show', 100 * (1 - basic.firstRight), '%', { most: 20 });
  for (const line of mistaken(all)) console.log(line);
}
