import { formatNumber } from '../quantity/format.ts';
import { kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Operating } from '../run/operate.ts';
import { branchOf, jointsOf, ofKind, ofWork, partIn, tubesOf, type Component, type System } from '../system/system.ts';
import { directSteps, fillSteps, filterSteps } from './fill.ts';
import { tubeLitres } from './rinse.ts';
import { backIn, sanitisesFirst, sanitiseSteps, stripAfterCarbon } from './sanitise.ts';
import { DRINK_STEP } from './schedule.ts';
import type { Add, RunStep } from '../facts/step.ts';

/** Powers a lamp when the house rule says, and lets it warm up: before anything is drawn to drink. */
function lampOn(add: Add, lamp: Component, rules: HouseRules): void {
  add({
    key: 'lamp-on',
    of: [lamp.id],
    phase: 'Fill and discard',
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
}

/** The sample that says whether the water is clean. */
function lampSample(add: Add, lamp: Component): void {
  add({
    key: 'lamp-sample',
    of: [lamp.id],
    needs: ['lamp-on'],
    phase: 'Leave it right',
    kind: 'do',
    minutes: 5,
    title: 'Take the product sample for the laboratory',
    detail: 'Tap flamed or wiped with alcohol, its bottle, cooled and on its way today.',
    caution: 'Nobody drinks from this tap until the laboratory has found it clean.',
  });
}

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
  if (sanitisesFirst(system, rules)) sanitiseSteps(add, system, rules, today);
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
  const phase = membrane ? 'Membrane' : 'Open it';
  if (membrane)
    add({
      key: 'membrane-in',
      of: membranes.map((c) => c.id),
      phase,
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
      phase,
      kind: 'do',
      minutes: 3,
      title: 'Power the pump, water standing at its inlet',
      detail: 'Plug in last. Both switches tried: it stops with the feed shut, and with the product shut.',
      caution: 'Dry hands, socket off the floor, residual-current protection. Never a wet plug.',
    });
  add({
    key: 'open-part',
    phase,
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
    phase,
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints}, under pressure`,
    detail: 'Paper towel round each. A leak: shut, release, re-cut or re-seat, again.',
  });
  if (!membrane) return;
  add({
    key: 'run-ten',
    of: membranes.map((c) => c.id),
    phase,
    kind: 'wait',
    minutes: 10,
    title: vented ? 'Let it run into the tank for ten minutes' : 'Run ten minutes at the open tap',
    detail: `The preservative leaves${vented ? ': it is poured away with the first fill' : ''}. Drain runs all the while.`,
    meanwhile: 'Note which tube has which colour.',
  });
  add({
    key: 'look-ten',
    phase,
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints} again`,
    detail: 'After ten minutes under pressure.',
  });
  for (const c of ofKind(system, 'tank-pump'))
    add({
      key: 'tank-pump-on',
      of: [c.id],
      phase,
      kind: 'do',
      minutes: 3,
      title: 'Some litres in the tank: power its pump, tap open',
      detail: 'Plug in last. It draws, stops when the tap is shut, and stops itself when the tank is empty: each tried.',
      caution: 'Never dry. Dry hands, socket off the floor, residual-current protection. Never a wet plug.',
    });
} // oxfmt-ignore

/** A branch is run through so many times over: fines and air from its tube. */
const BRANCH_VOLUMES = 10;
const branchLitres = (system: System): number =>
  tubesOf(system).filter((t) => t.branch === 'fridge').reduce((sum, t) => sum + tubeLitres(t.boreMm, t.lengthM), 0); // oxfmt-ignore

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
      needs: [DRINK_STEP],
      phase: 'Leave it right',
      kind: 'do',
      minutes: 5,
      wets: fridge,
      title: 'Open the fridge branch, discard its first litres',
      detail: `Only now. The fridge’s own filter taken out or bypassed as its book says: two filters starve its valve. ${formatNumber(Math.max(2, BRANCH_VOLUMES * branchLitres(system)), 2)} L out of its spout poured away, and the first three fillings of ice.`,
    });
  if (fridge.length > 0)
    add({
      key: 'look-fridge',
      of: fridge,
      needs: ['fridge-open'],
      phase: 'Leave it right',
      kind: 'look',
      minutes: 3,
      title: 'Look at the fridge branch under pressure',
      detail: 'Its tee and valve, the tube along its way, the joint behind the fridge; again after it was pushed back.',
    });
  for (const t of taps)
    add({
      key: 'second-tap-open',
      of: [t.id],
      needs: [DRINK_STEP],
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
      needs: [DRINK_STEP],
      phase: 'Leave it right',
      kind: 'do',
      minutes: 15,
      wets: [d.id],
      title: 'Open the dispenser’s branch, fill it, pour its first fill away',
      detail: 'Run both spouts until water comes without air, and pour away what its tanks hold once. Then its plug, then its heater.',
      caution: 'A heater switched on dry burns out and can burn: water from the hot spout first. Hot water scalds; dry hands at the plug.',
    });
} // oxfmt-ignore

/**
 * The run sheet of one system: every step in order, made from what it is built of, the firm's rules and today's fill.
 * @param today the system operating at today's temperature and pressure
 */
export function runSheet(system: System, rules: HouseRules, today: Operating): RunStep[] {
  const steps: RunStep[] = [];
  // what names nothing it needs needs the step before it
  const add: Add = (s) => {
    const last = steps.at(-1);
    steps.push({ wets: [], of: [], needs: last ? [last.key] : [], ...s });
  };
  const joints = String(jointsOf(system).length);
  const lamps = ofKind(system, 'lamp');
  beforeWater(add, system, rules, today);
  const left = preFilterSteps(add, system, rules);
  if (sanitisesFirst(system, rules)) {
    stripAfterCarbon(add, system);
    backIn(add, system);
  }
  openingSteps(add, system, rules, left, joints);
  const drink =
    ofWork(system, 'separates').length === 0 && today.direct
      ? filterSteps(add, system, today.direct, rules, joints)
      : today.direct
        ? directSteps(add, system, today.direct, joints)
        : fillSteps(add, system, rules, today, joints);
  for (const lamp of lamps) lampOn(add, lamp, rules);
  add(drink);
  for (const lamp of lamps) lampSample(add, lamp);
  branchSteps(add, system);
  for (const leak of ofKind(system, 'leak-valve'))
    add({
      key: 'leak-try',
      of: [leak.id],
      needs: ['look-pressure'],
      phase: 'Leave it right',
      kind: 'do',
      minutes: 4,
      title: 'Try the leak stop',
      detail:
        'A few drops on its pad, the tap open: the water stops and stays stopped. Then a new pad where it is for one use only, flat on the cupboard’s floor at its lowest point.',
    });
  const needed = new Set(steps.flatMap((s) => s.needs ?? []));
  add({
    key: 'leave',
    phase: 'Leave it right',
    kind: 'do',
    minutes: 10,
    needs: steps.map((s) => s.key).filter((k) => !needed.has(k)),
    title: 'Hand over',
    detail:
      'How to shut it, what to do on a leak, looks tomorrow and during the first week, a few seconds’ run after a long stand.',
  });
  return steps;
}
