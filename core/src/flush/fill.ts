import { formatMinutes, formatNumber } from '../quantity/format.ts';
import { kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { DirectRun } from '../run/openTap.ts';
import type { Operating } from '../run/operate.ts';
import { ofKind, ofWork, partIn, type System } from '../system/system.ts';
import { fillsFor, leftAfterFills, rinseOf } from './rinse.ts';
import { DRINK_STEP } from './schedule.ts';
import type { Add, NewStep } from '../facts/step.ts';

/** Minutes until the tank holds a content, from a fill's curve. */
export function minutesToContent(o: Operating, litres: number): number {
  const c = o.fill.curve;
  const i = c.findIndex((p) => p.waterL >= litres);
  const b = c[i];
  const a = c[i - 1];
  if (!b) return o.fill.minutes;
  if (!a) return b.minutes;
  return a.minutes + ((b.minutes - a.minutes) * (litres - a.waterL)) / (b.waterL - a.waterL);
}

/** What pouring tanks away does to what is dissolved here; what is shed and leached goes by litres and by eye. */
function thinnedWords(system: System, today: Operating, discards: number): string {
  const { remainderL, fillL } = rinseOf(system, today);
  if (fillL <= 0) return '';
  const fold = 1 / leftAfterFills(remainderL, fillL, discards);
  const [hundred, thousand] = [100, 1000].map((f) => String(fillsFor(f, remainderL, fillL)));
  const tanks = discards === 1 ? 'One tank' : `${String(discards)} tanks`;
  return `${tanks} poured away here thin what is dissolved ${formatNumber(fold, 2)}-fold; 100-fold takes ${hundred ?? ''}, 1000-fold ${thousand ?? ''}. Fines and preservative are shed for longer: by the part’s sheet, and by eye.`;
}

const WHILE_FILLING = [
  'Label the tubes and the cold valve, clear the cupboard, write the handover.',
  'Show the household how to shut it and what to do on a leak.',
  'Another visit fits in here: be back when the clock says.',
];

const INFANTS =
  'Infants, and diets a doctor set: very low mineral water, ask the doctor. Not for dialysis or other medical use.';

/** Fills and discards of a tank, with the looks between them. @returns the first litres to drink */
export function fillSteps(add: Add, system: System, rules: HouseRules, today: Operating, joints: string): NewStep {
  const n = formatNumber;
  const tank = ofWork(system, 'stores').map((c) => c.id);
  const of = [...tank, ...ofWork(system, 'separates').map((c) => c.id), ...ofKind(system, 'polish').map((c) => c.id)];
  const emptyMinutes = Math.max(2, Math.ceil(today.fill.waterL / Math.max(0.3, today.tapFlowLMin)));
  for (let i = 1; i <= rules.discards; i++) {
    const nth = ['First', 'Second', 'Third'][i - 1] ?? '';
    add({
      key: `fill-${String(i)}`,
      phase: 'Fill and discard',
      kind: 'wait',
      minutes: Math.ceil(today.fill.minutes),
      wets: i === 1 ? tank : [],
      of,
      fillsToL: today.fill.waterL,
      title: `${nth} fill, to be poured away`,
      detail:
        today.fill.reason === null
          ? `${n(today.fill.waterL, 2)} L at ${n(today.temperatureC, 2)} °C and ${n(today.middle.inletBar, 2)} bar: ${formatMinutes(today.fill.minutes)}. Tap shut${partIn(system, 'tank') ? ', tank open' : ', lid on'}.`
          : 'This does not shut at today’s pressure: be back within the day.',
      meanwhile: WHILE_FILLING[(i - 1) % WHILE_FILLING.length] ?? '',
    });
    if (i === 1) {
      add({
        key: 'drain-stops',
        phase: 'Fill and discard',
        kind: 'do',
        minutes: 5,
        title: 'Tank full: see the drain stop',
        detail: `Within some minutes the drain must be still. It runs on: ${partIn(system, 'vented-tank') ? 'float valve, shut-off or pressure; it must never reach the overflow' : 'shut-off, non-return valve or pressure'}.`,
      });
      add({
        key: 'look-full',
        needs: ['fill-1'],
        phase: 'Fill and discard',
        kind: 'look',
        minutes: 4,
        title: `Look at joints 1 to ${joints}, tank full`,
        detail: 'The product side now stands at its highest pressure.',
      });
    }
    const overnight = rules.overnightStand && i === rules.discards;
    const before = i === 1 ? ['drain-stops', 'look-full'] : [`fill-${String(i)}`];
    if (overnight)
      add({
        key: 'overnight',
        needs: before,
        phase: 'Fill and discard',
        kind: 'wait',
        minutes: 720,
        title: 'Stand overnight, full',
        detail: 'Feed shut at the stop valve. It is poured away in the morning.',
      });
    add({
      key: `drain-${String(i)}`,
      of,
      needs: overnight ? ['overnight'] : before,
      phase: 'Fill and discard',
      kind: 'do',
      minutes: emptyMinutes,
      title: `Pour the ${nth.toLowerCase()} tank away`,
      detail: `Tap open until it dribbles, about ${String(emptyMinutes)} min. Not for drinking, not for aquaria.${i === 1 ? ` ${thinnedWords(system, today, rules.discards)}` : ''}`,
    });
    if (i === 1)
      add({
        key: 'look-drained',
        phase: 'Fill and discard',
        kind: 'look',
        minutes: 4,
        title: `Look at joints 1 to ${joints}, tank drained`,
        detail: 'Then shut the tap and go on.',
      });
  }
  const firstL = Math.min(2, today.fill.waterL);
  return {
    key: DRINK_STEP,
    of,
    phase: 'Fill and discard',
    kind: 'wait',
    minutes: Math.ceil(minutesToContent(today, firstL)),
    fillsToL: firstL,
    title: `First ${n(firstL, 2)} L that are not poured away`,
    detail: 'Tap shut. Whether they may drink it is said below, under “Drinking”.',
    caution: INFANTS,
  };
}

/** The first glass of what is made, or let through, while it is drawn. @param stood what a stand does to it */
function firstGlass(run: DirectRun, of: readonly string[], stood: string): NewStep {
  const n = formatNumber;
  return {
    key: DRINK_STEP,
    of,
    phase: 'Fill and discard',
    kind: 'do',
    minutes: 2,
    title: 'First glass that is not poured away',
    detail: `Whether they may drink it is said below, under “Drinking”. ${n(run.tapFlowLMin, 2)} L/min: a glass in ${n(run.glassSeconds, 2)} seconds. ${stood}`,
  };
}

/** Minutes a membrane runs at the tap in a system without a tank, where its sheet says nothing. */
const FIRST_RUN_MIN = 30;

/** How long a new membrane runs at the tap where there is no tank to pour away, min: by its sheet. */
export const firstRunMinutes = (system: System): number => partIn(system, 'element')?.firstRunMinutes ?? FIRST_RUN_MIN;

/** A system without a tank: its own rinse, the long run its sheet asks, the stop. @returns the first glass */
export function directSteps(add: Add, system: System, run: DirectRun, joints: string): NewStep {
  const n = formatNumber;
  const minutes = firstRunMinutes(system);
  const of = [...ofWork(system, 'separates'), ...ofKind(system, 'polish')].map((c) => c.id);
  if (run.rinses)
    add({
      key: 'own-rinse',
      phase: 'Fill and discard',
      kind: 'wait',
      minutes: 3,
      title: 'Let it rinse itself',
      detail: 'Tap shut. Its own rinse runs to the drain and stops by itself.',
    });
  add({
    key: 'drain-stops',
    phase: 'Fill and discard',
    kind: 'do',
    minutes: 3,
    title: 'Tap shut: see pump and drain stop',
    detail: `It stops once its product stands at ${n(run.closeBar, 2)} bar. It runs on: pressure switch, electric valve or non-return valve.`,
  });
  add({
    key: 'look-shut',
    phase: 'Fill and discard',
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints}, tap shut`,
    detail: 'The product side now stands at its highest pressure.',
  });
  add({
    key: 'long-run',
    of,
    phase: 'Fill and discard',
    kind: 'wait',
    minutes,
    title: `Run it at the open tap for ${formatMinutes(minutes)}`,
    detail: `By the membrane’s sheet, about ${n(run.tapFlowLMin * minutes, 2)} L. Preservative and carbon fines leave. Not for drinking, not for aquaria.`,
    meanwhile: WHILE_FILLING[0] ?? '',
  });
  add({
    key: 'look-ran',
    phase: 'Fill and discard',
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints}, after the run`,
    detail: 'Then shut the tap and open it again: it starts and stops by itself.',
  });
  const stood = 'After a night the first glass is poured away: salt creeps through while it stands.';
  return { ...firstGlass(run, of, stood), caution: INFANTS };
}

/** A system without a membrane: a run at the open tap, the look. @returns the first glass */
export function filterSteps(add: Add, system: System, run: DirectRun, rules: HouseRules, joints: string): NewStep {
  const of = system.components.filter((c) => kindRow(c.kind).flushed !== undefined).map((c) => c.id);
  const n = formatNumber;
  add({
    key: 'run-open',
    of,
    phase: 'Fill and discard',
    kind: 'wait',
    minutes: rules.flushStageMinutes,
    title: `Run it at the open tap for ${formatMinutes(rules.flushStageMinutes)}`,
    detail: `Until no fines come and it runs clear, about ${n(run.tapFlowLMin * rules.flushStageMinutes, 2)} L. Not for drinking, not for aquaria.`,
  });
  add({
    key: 'look-shut',
    phase: 'Fill and discard',
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints}, tap shut`,
    detail: 'All of it now stands at the house’s own pressure, day and night.',
  });
  return firstGlass(run, of, 'After a long stand let it run for some seconds.');
}
