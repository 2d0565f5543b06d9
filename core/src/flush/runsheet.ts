import { formatNumber } from '../quantity/format.ts';
import { kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Operating } from '../run/operate.ts';
import { branchOf, jointsOf, ofKind, ofWork, partIn, tubesOf, type Component, type System } from '../system/system.ts';
import { directSteps, fillSteps, filterSteps } from './fill.ts';
import { tubeLitres } from './rinse.ts';
import type { Add, RunStep } from './step.ts';

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

/** Powers a lamp when the house rule says, and lets it warm up. */
function lampSteps(add: Add, lamp: Component, rules: HouseRules): void {
  const of = [lamp.id];
  add({
    key: 'lamp-on',
    of,
    phase: 'Leave it right',
    kind: 'wait',
    minutes: 5,
    title:
      rules.lampPowered === 'full'
        ? 'Lamp full of water: power it, let it warm up'
        : 'Lamp powered already: let it warm up',
    detail: `${lamp.part?.fitting ?? 'Mounted as its sheet says.'} Five minutes before water is drawn for drinking; its strainer looked at after the first flush. Write the date on it.`,
    caution:
      'Never look into the light, no bare fingers on the glass. Ballast off the path of drips, residual-current protection. Water is not drunk while the lamp is off.',
  });
  add({
    key: 'lamp-sample',
    of,
    phase: 'Leave it right',
    kind: 'do',
    minutes: 5,
    title: 'Take the product sample for the laboratory',
    detail: 'Tap flamed or wiped with alcohol, its bottle, cooled and on its way today.',
    caution: 'Until the laboratory has found it clean, they boil what they drink.',
  });
}

/** Bleach of 50 mg/L is rinsed to what no strip tells from the feed. */
const RINSE_FOLD = 1000;

/** What comes before any water: feed shut, air set, bleach where the rule says. */
function beforeWater(add: Add, system: System, rules: HouseRules, today: Operating): void {
  const n = formatNumber;
  const [stored] = ofWork(system, 'stores');
  const tank = partIn(system, 'tank');
  add({
    key: 'feed-off',
    phase: 'Before water',
    kind: 'do',
    minutes: 3,
    title: 'Shut the feed and see the pressure die',
    detail:
      'Stop valve shut, the hot one too where a mixer can pass water across. Open the tap: the flow stops and stays stopped. Towel and bucket in place.',
  });
  if (tank && stored)
    add({
      key: 'air-charge',
      of: [stored.id],
      phase: 'Before water',
      kind: 'do',
      minutes: 3,
      title: `Set the tank’s air to ${n(tank.airChargeBar, 2)} bar`,
      detail: 'Tank empty and off the line. Read with the tyre gauge, top up with a hand pump.',
      caution: 'Stored pressure: never undo the air valve’s core.',
    });
  if (!rules.sanitise) return;
  const litres = wettedLitres(system, today.fill.waterL);
  add({
    key: 'sanitise',
    phase: 'Before water',
    kind: 'wait',
    minutes: 30,
    title: `Sanitise with ${n(bleachMl(litres, rules.bleachDoseMgL, rules.bleachStrengthPercent), 2)} mL of bleach`,
    detail: `Unscented, ${n(rules.bleachStrengthPercent)} %, into the first housing for ${n(litres, 2)} L of wetted system at ${n(rules.bleachDoseMgL)} mg/L. Cartridges and membrane out. Hold 30 minutes.`,
    caution: 'Gloves, goggles, window open. Never with the membrane in, never mixed with acid.',
  });
  add({
    key: 'sanitise-rinse',
    phase: 'Before water',
    kind: 'do',
    minutes: 15,
    title: 'Rinse until the strip reads what the feed itself reads',
    detail: `Through to tank and tap: about ${n(litres * Math.log(RINSE_FOLD), 2)} L thin it ${n(RINSE_FOLD)}-fold. Disinfected mains never read none: dip a strip into the feed first, and write down what both read.`,
    caution: 'Bleach left behind ruins the membrane and is drunk.',
  });
}

/** Pre-filters into the bucket: a stage at a time, or all together, as the rule says. */
function preFilterSteps(add: Add, system: System, rules: HouseRules): Component[] {
  const feed = system.components.filter((c) => kindRow(c.kind).chain === 'feed');
  const pre = feed.filter((c) => kindRow(c.kind).flushed !== undefined);
  const wetUpTo = (c: Component): string[] => feed.slice(0, feed.indexOf(c) + 1).map((x) => x.id);
  const last = pre.at(-1);
  if (rules.flushPreFilters === 'stage')
    for (const c of pre)
      add({
        key: `flush-${c.id}`,
        of: [c.id],
        phase: 'Pre-filters',
        kind: 'wait',
        minutes: rules.flushStageMinutes,
        wets: wetUpTo(c),
        title: `Flush ${c.slot} into the bucket`,
        detail: kindRow(c.kind).flushed ?? '',
        meanwhile: 'Look at the housings’ O-rings while they fill.',
      });
  else if (last)
    add({
      key: 'flush-pre',
      of: pre.map((c) => c.id),
      phase: 'Pre-filters',
      kind: 'wait',
      minutes: rules.flushStageMinutes * 2,
      wets: wetUpTo(last),
      title: 'Flush the pre-filters together into the bucket',
      detail: 'Membrane still out. Until clear, no black fines.',
    });
  return last ? feed.slice(feed.indexOf(last) + 1) : feed;
}

/** Membrane in, pump powered, feed opened, every joint looked at twice. */
function openingSteps(add: Add, system: System, rules: HouseRules, left: readonly Component[], joints: string): void {
  const membranes = ofWork(system, 'separates');
  const [membrane] = membranes;
  const [pump] = ofWork(system, 'switches');
  const valved = partIn(system, 'tank') !== undefined;
  const vented = partIn(system, 'vented-tank') !== undefined;
  const branched = system.components.some((c) => kindRow(c.kind).chain === 'branch');
  if (membrane)
    add({
      key: 'membrane-in',
      of: membranes.map((c) => c.id),
      phase: 'Membrane',
      kind: 'do',
      minutes: 5,
      wets: left.map((c) => c.id),
      title: 'Membrane in, seals wetted',
      detail: membrane.part?.fitting ?? 'Seated home.',
      caution: 'Feed shut, pressure gone before the cap is opened. Clean hands on the membrane.',
    });
  if (pump)
    add({
      key: 'pump-on',
      of: [pump.id],
      phase: 'Membrane',
      kind: 'do',
      minutes: 3,
      title: 'Power the pump, water standing at its inlet',
      detail: 'Plug in last. Both switches tried: it stops with the feed shut, and with the product shut.',
      caution: 'Dry hands, socket off the floor, residual-current protection. Never a wet plug.',
    });
  add({
    key: 'open-part',
    phase: 'Membrane',
    kind: 'do',
    minutes: 4,
    wets: system.components
      .filter((c) => branchOf(c) === 'product' || branchOf(c) === 'concentrate' || (!membrane && branchOf(c) === 'feed'))
      .map((c) => c.id),
    title: valved ? `Open the feed part way, tank valve ${rules.tankValveAtStart}` : vented ? 'Open the feed part way, the tank’s lid off' : 'Open the feed part way, tap open',
    detail: `${vented ? 'Air spits out at the float valve; its arm swings free and water comes.' : 'Air spits out at the open tap.'} ${branched ? 'Branches shut. ' : ''}Then open the feed fully.`,
  });
  add({
    key: 'look-pressure',
    phase: 'Membrane',
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints}, under pressure`,
    detail: 'Paper towel round each. A leak: shut, release, re-cut or re-seat, again.',
  });
  if (!membrane) return;
  add({
    key: 'run-ten',
    of: membranes.map((c) => c.id),
    phase: 'Membrane',
    kind: 'wait',
    minutes: 10,
    title: vented ? 'Let it run into the tank for ten minutes' : 'Run ten minutes at the open tap',
    detail: `The preservative leaves${vented ? ': it is poured away with the first fill' : ''}. Drain runs all the while.`,
    meanwhile: 'Note which tube has which colour.',
  });
  add({
    key: 'look-ten',
    phase: 'Membrane',
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints} again`,
    detail: 'After ten minutes under pressure.',
  });
  for (const c of ofKind(system, 'tank-pump'))
    add({
      key: 'tank-pump-on',
      of: [c.id],
      phase: 'Membrane',
      kind: 'do',
      minutes: 3,
      title: 'Some litres in the tank: power its pump, tap open',
      detail: 'Plug in last. It draws, stops when the tap is shut, and stops itself when the tank is empty: each tried.',
      caution: 'Never dry. Dry hands, socket off the floor, residual-current protection. Never a wet plug.',
    });
} // prettier-ignore

/** Opens what hangs on branches, last of all. */
function branchSteps(add: Add, system: System): void {
  const branch = system.components.filter((c) => kindRow(c.kind).chain === 'branch');
  const dispensers = branch.filter((c) => c.kind === 'dispenser');
  const taps = branch.filter((c) => c.kind === 'second-tap');
  const fridge = branch.filter((c) => c.kind !== 'dispenser' && c.kind !== 'second-tap').map((c) => c.id);
  if (fridge.length > 0)
    add({
      key: 'fridge-open',
      of: fridge,
      phase: 'Leave it right',
      kind: 'do',
      minutes: 5,
      wets: fridge,
      title: 'Open the fridge branch, discard its first litres',
      detail: 'Only now. Throw the first ice away.',
    });
  for (const t of taps)
    add({
      key: 'second-tap-open',
      of: [t.id],
      phase: 'Leave it right',
      kind: 'do',
      minutes: 5,
      wets: [t.id],
      title: 'Open the second tap’s branch, run it until clear',
      detail: 'Look at its joints under pressure, down to the tap’s stem. Two litres away: the air and the tube’s first water.',
    });
  for (const d of dispensers)
    add({
      key: 'dispenser-open',
      of: [d.id],
      phase: 'Leave it right',
      kind: 'do',
      minutes: 15,
      wets: [d.id],
      title: 'Open the dispenser’s branch, fill it, pour its first fill away',
      detail: 'Run both spouts until water comes without air, and pour away what its tanks hold once. Then its plug, then its heater.',
      caution: 'A heater switched on dry burns out and can burn: water from the hot spout first. Hot water scalds; dry hands at the plug.',
    });
} // prettier-ignore

/**
 * The run sheet of one system: every step in order, made from what it is built of, the firm's rules and today's fill.
 * @param today the system operating at today's temperature and pressure
 */
export function runSheet(system: System, rules: HouseRules, today: Operating): RunStep[] {
  const steps: RunStep[] = [];
  const add: Add = (s) => {
    steps.push({ wets: [], of: [], ...s });
  };
  const joints = String(jointsOf(system).length);
  beforeWater(add, system, rules, today);
  const left = preFilterSteps(add, system, rules);
  openingSteps(add, system, rules, left, joints);
  if (ofWork(system, 'separates').length === 0 && today.direct) filterSteps(add, system, today.direct, rules, joints);
  else if (today.direct) directSteps(add, system, today.direct, joints);
  else fillSteps(add, system, rules, today, joints);
  for (const lamp of ofKind(system, 'lamp')) lampSteps(add, lamp, rules);
  branchSteps(add, system);
  for (const leak of ofKind(system, 'leak-valve'))
    add({
      key: 'leak-try',
      of: [leak.id],
      phase: 'Leave it right',
      kind: 'do',
      minutes: 4,
      title: 'Try the leak stop',
      detail:
        'A few drops on its pad, the tap open: the water stops and stays stopped. Then a new pad where it is for one use only, flat on the cupboard’s floor at its lowest point.',
    });
  add({
    key: 'leave',
    phase: 'Leave it right',
    kind: 'do',
    minutes: 10,
    title: 'Hand over',
    detail:
      'How to shut it, what to do on a leak, looks tomorrow and during the first week, a few seconds’ run after a long stand.',
  });
  return steps;
}
