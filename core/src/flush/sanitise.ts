import { formatNumber, formatReading } from '../quantity/format.ts';
import { kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Operating } from '../run/operate.ts';
import { ofKind, ofWork, partIn, tubesOf, type System } from '../system/system.ts';
import type { Add } from '../facts/step.ts';
import { fillsFor, rinseOf, tubeLitres } from './rinse.ts';

/** Whether bleach goes through new work: by the house rule, and always where a lamp stands because microbes were found. */
export const sanitisesFirst = (system: System, rules: Pick<HouseRules, 'sanitise'>): boolean =>
  rules.sanitise || ofKind(system, 'lamp').length > 0;

/** Bleach for a volume: mL = litres x mg/L wanted / (10 x % strength). Worked value 10 mL for 10 L, 50 mg/L, 5 %. */
export function bleachMl(litres: number, doseMgL: number, strengthPercent: number): number {
  return (litres * doseMgL) / (10 * strengthPercent);
}

/** Water a system holds, L: every housing, the membranes' and the lamp's, the tubes, and what stands in the tank. */
export function wettedLitres(system: System, tankL: number): number {
  const held = system.components.reduce((s, c) => s + (kindRow(c.kind).waterL ?? 0), 0);
  const tubes = tubesOf(system).reduce((s, t) => s + tubeLitres(t.boreMm, t.lengthM), 0);
  return held + tubes + tankL;
}

/** Bleach of 50 mg/L is rinsed to what no strip tells from the feed. */
const RINSE_FOLD = 1000;

/** Total chlorine a strip tells from none, mg/L. */
const STRIP_NONE_MG_L = 0.1;

/** What is kept away from bleach, as people call it. */
function outOfBleach(system: System): string {
  const has = (...kinds: string[]): boolean => system.components.some((c) => kinds.includes(c.kind));
  const out = [
    'every cartridge',
    ...(ofWork(system, 'separates').length > 0 ? ['the membrane'] : []),
    ...(has('polish') ? ['the polishing carbon'] : []),
    ...(has('mineral') ? ['the minerals'] : []),
  ];
  return `${out.slice(0, -1).join(', ')}${out.length > 1 ? ' and ' : ''}${out.at(-1) ?? ''}`;
}

/** Rinsing one volume of the tank: filled from the feed, and emptied at the tap, min. */
const TANK_RINSE_MIN = 10;

/** Bleach held and rinsed out again, by the strip: what it reads of the feed comes first. A tank is emptied of its rinse water. */
export function sanitiseSteps(add: Add, system: System, rules: HouseRules, today: Operating): void {
  const n = formatNumber;
  const litres = wettedLitres(system, today.fill.waterL);
  const membranes = ofWork(system, 'separates').length > 0;
  const stored = ofWork(system, 'stores').length > 0 && !today.direct;
  const valved = partIn(system, 'tank') !== undefined;
  const rinse = rinseOf(system, today);
  const fills = stored ? fillsFor(RINSE_FOLD, rinse.remainderL, rinse.fillL) : 0;
  add({
    key: 'strip-feed',
    phase: 'Before water',
    kind: 'do',
    minutes: 3,
    title: 'Dip a strip into the feed itself',
    detail:
      'From the kitchen tap, cold, after a minute’s run. Disinfected mains never read none: this is what rinsing is measured by.',
    reads: { label: 'Total chlorine of the feed', unit: 'mg/L' },
  });
  add({
    key: 'sanitise',
    phase: 'Before water',
    kind: 'wait',
    minutes: 30,
    title: `Sanitise with ${n(bleachMl(litres, rules.bleachDoseMgL, rules.bleachStrengthPercent), 2)} mL of bleach`,
    detail: `Unscented, ${formatReading(rules.bleachStrengthPercent)} %, into the first housing for ${n(litres, 2)} L of wetted system at ${formatReading(rules.bleachDoseMgL)} mg/L. Out are ${outOfBleach(system)}; housings shut empty${membranes ? ', the membrane’s with its cap on' : ''}. ${valved ? 'Tank valve open. ' : ''}Feed open a little until the tap smells of it, then shut: it stands in every housing, tube${stored ? ', the tank' : ''} and the tap. Hold 30 minutes.`,
    caution: 'Gloves, goggles, window open. Never with the membrane in, never mixed with acid or another cleaner.',
    meanwhile: 'Take the wrappers off the cartridges, wet the O-rings, label the tubes.',
  });
  const carbon = system.components.some((c) => c.kind === 'carbon');
  add({
    key: 'sanitise-rinse',
    phase: 'Before water',
    kind: 'do',
    minutes: 15 + TANK_RINSE_MIN * fills,
    title: 'Rinse until the strip reads what the feed itself reads',
    detail: stored
      ? `Fill the tank from the feed and empty it at the tap ${fills === 1 ? 'once' : `${String(fills)} times`}: that thins it ${n(RINSE_FOLD)}-fold. Then a strip at the tap, in water from the tank.`
      : `Through to the tap: about ${n(litres * Math.log(RINSE_FOLD), 2)} L thin it ${n(RINSE_FOLD)}-fold. Then a strip at the tap.`,
    caution: 'Bleach left behind ruins the membrane and is drunk.',
    reads: { label: 'Total chlorine at the tap', unit: 'mg/L', mostOf: 'strip-feed' },
    ...(carbon || !membranes ? {} : { bars: ['membrane-in'] }),
  });
  if (stored)
    add({
      key: 'rinse-emptied',
      phase: 'Before water',
      kind: 'do',
      minutes: 5,
      title: 'Empty the tank of its rinse water',
      detail: `Feed shut, tap open until it dribbles${valved ? ', then the tank’s valve shut' : ''}. What rinsed it never passed a filter.`,
    });
}

/** After bleach a strip behind the carbon reads none before a membrane goes in, or the first glass is drunk. */
export function stripAfterCarbon(add: Add, system: System): void {
  if (!system.components.some((c) => c.kind === 'carbon')) return;
  const membranes = ofWork(system, 'separates').length > 0;
  add({
    key: 'strip-carbon',
    phase: 'Pre-filters',
    kind: 'do',
    minutes: 3,
    title: 'Dip a strip behind the carbon: it reads none',
    detail: 'From the tube after the last carbon, while it runs. If it reads any, flush on: bleach is still coming.',
    caution: membranes ? 'A membrane that meets chlorine is eaten by it, for good.' : 'Bleach left behind is drunk.',
    reads: { label: 'Total chlorine after the carbon', unit: 'mg/L', most: STRIP_NONE_MG_L },
    bars: [membranes ? 'membrane-in' : 'open-part'],
  });
}

/** What bleach keeps out of the first flush and stands behind the membrane goes in once nothing of it is left. */
export function backIn(add: Add, system: System): void {
  const kept = system.components.filter((c) => c.kind === 'polish' || c.kind === 'mineral').map((c) => c.slot);
  if (kept.length === 0) return;
  add({
    key: 'back-in',
    phase: 'Pre-filters',
    kind: 'do',
    minutes: 4,
    title: `Put in what was kept out of the bleach: ${kept.join(', ')}`,
    detail: 'Flow arrow with the water, caps off, joints pushed home.',
  });
}
