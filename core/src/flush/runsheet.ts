import type { Site } from '../gauge/site.ts';
import type { Design } from '../system/design.ts';
import type { Line } from '../system/line.ts';
import type { Operating } from '../system/plant.ts';
import type { DirectRun } from '../run/openTap.ts';
import { formatMinutes, formatNumber } from '../quantity/format.ts';
import { partOf, type Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';

/** One thing to do, look at or wait for. */
export interface RunStep {
  readonly key: string;
  readonly phase: 'Before water' | 'Pre-filters' | 'Membrane' | 'Fill and discard' | 'Leave it right';
  readonly kind: 'do' | 'look' | 'wait';
  readonly title: string;
  readonly detail: string;
  readonly caution?: string;
  /** how long it takes; a wait gets a clock */
  readonly minutes: number;
  /** elements that are wet once it is done */
  readonly wets: readonly string[];
  /** a wait's content at its end, L, for the drawing */
  readonly fillsToL?: number;
  readonly meanwhile?: string;
}

/** Bleach for a volume: mL = litres x mg/L wanted / (10 x % strength). Worked value 10 mL for 10 L, 50 mg/L, 5 %. */
export function bleachMl(litres: number, doseMgL: number, strengthPercent: number): number {
  return (litres * doseMgL) / (10 * strengthPercent);
}

/** Water the system holds before the tank, L: about 0.9 L a housing and the tubes. */
export function wettedLitres(line: Line, tankL: number): number {
  const housings = line.elements.filter((e) => e.role === 'sediment' || e.role === 'carbon').length;
  const tubes = line.tubes.reduce((s, t) => s + (Math.PI / 4) * (t.boreMm / 1000) ** 2 * t.lengthM * 1000, 0);
  return 0.9 * housings + 0.5 + tubes + tankL;
}

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

const WHILE_FILLING = [
  'Label the tubes and the cold valve, clear the cupboard, write the handover.',
  'Show the household how to shut it and what to do on a leak.',
  'Another visit fits in here: be back when the clock says.',
];

/** Takes a step onto the sheet. */
type Add = (step: Omit<RunStep, 'wets'> & { wets?: readonly string[] }) => void;

const INFANTS =
  'Infants, and diets a doctor set: very low mineral water, ask the doctor. Not for dialysis or other medical use.';

/** Fills and discards of a tank, with the looks between them, and the first litres to drink. */
function fillSteps(add: Add, rules: HouseRules, today: Operating, joints: string): void {
  const n = formatNumber;
  const emptyMinutes = Math.max(2, Math.ceil(today.fill.waterL / Math.max(0.3, today.tapFlowLMin)));
  for (let i = 1; i <= rules.discards; i++) {
    const nth = ['First', 'Second', 'Third'][i - 1] ?? '';
    add({
      key: `fill-${String(i)}`,
      phase: 'Fill and discard',
      kind: 'wait',
      minutes: Math.ceil(today.fill.minutes),
      wets: i === 1 ? ['tank'] : [],
      fillsToL: today.fill.waterL,
      title: `${nth} fill, to be poured away`,
      detail:
        today.fill.reason === null
          ? `${n(today.fill.waterL, 2)} L at ${n(today.temperatureC, 2)} °C and ${n(today.middle.inletBar, 2)} bar: ${formatMinutes(today.fill.minutes)}. Tap shut, tank open.`
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
        detail: 'Within some minutes the drain must be still. It runs on: shut-off, non-return valve or pressure.',
      });
      add({
        key: 'look-full',
        phase: 'Fill and discard',
        kind: 'look',
        minutes: 4,
        title: `Look at joints 1 to ${joints}, tank full`,
        detail: 'The product side now stands at its highest pressure.',
      });
    }
    add({
      key: `drain-${String(i)}`,
      phase: 'Fill and discard',
      kind: 'do',
      minutes: emptyMinutes,
      title: `Pour the ${nth.toLowerCase()} tank away`,
      detail: `Tap open until it dribbles, about ${String(emptyMinutes)} min. Not for drinking, not for aquaria.`,
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
  if (rules.overnightStand)
    add({
      key: 'overnight',
      phase: 'Fill and discard',
      kind: 'wait',
      minutes: 720,
      title: 'Stand overnight, full',
      detail: 'Pour it away in the morning.',
    });
  const firstL = Math.min(2, today.fill.waterL);
  add({
    key: 'first-drink',
    phase: 'Fill and discard',
    kind: 'wait',
    minutes: Math.ceil(minutesToContent(today, firstL)),
    fillsToL: firstL,
    title: `First ${n(firstL, 2)} L to drink`,
    detail: 'Tap shut. From now on it is theirs.',
    caution: INFANTS,
  });
}

/** Minutes a membrane runs at the tap in a system without a tank, where its sheet says nothing. */
const FIRST_RUN_MIN = 30;

/** A system without a tank: its own rinse, the long run its sheet asks, the stop, and the first glass. */
function directSteps(add: Add, design: Design, catalogue: Catalogue, run: DirectRun, joints: string): void {
  const n = formatNumber;
  const minutes = partOf(catalogue, 'element', design.elementId).firstRunMinutes ?? FIRST_RUN_MIN;
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
  add({
    key: 'first-drink',
    phase: 'Fill and discard',
    kind: 'do',
    minutes: 2,
    title: 'First glass to drink',
    detail: `${n(run.tapFlowLMin, 2)} L/min: a glass in ${n(run.glassSeconds, 2)} seconds. After a night the first glass is poured away: salt creeps through while it stands.`,
    caution: INFANTS,
  });
}

/** Powers a lamp when the house rule says, and lets it warm up. */
function lampSteps(add: Add, catalogue: Catalogue, lampId: string, rules: HouseRules): void {
  const lamp = partOf(catalogue, 'lamp', lampId);
  add({
    key: 'lamp-on',
    phase: 'Leave it right',
    kind: 'wait',
    minutes: 5,
    title:
      rules.lampPowered === 'full'
        ? 'Lamp full of water: power it, let it warm up'
        : 'Lamp powered already: let it warm up',
    detail: `${lamp.fitting ?? 'Mounted as its sheet says.'} Five minutes before water is drawn for drinking; its strainer looked at after the first flush. Write the date on it.`,
    caution:
      'Never look into the light, no bare fingers on the glass. Ballast off the path of drips, residual-current protection. Water is not drunk while the lamp is off.',
  });
  add({
    key: 'lamp-sample',
    phase: 'Leave it right',
    kind: 'do',
    minutes: 5,
    title: 'Take the product sample for the laboratory',
    detail: 'Tap flamed or wiped with alcohol, its bottle, cooled and on its way today.',
    caution: 'Until the laboratory has found it clean, they boil what they drink.',
  });
}

/**
 * The run sheet of one system: every step in order, made from its Line, the firm's rules and today's fill.
 * @param today the plant operating at today's temperature and pressure
 */
export function runSheet(
  line: Line,
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  today: Operating,
): RunStep[] {
  const steps: RunStep[] = [];
  const add: Add = (s) => {
    steps.push({ wets: [], ...s });
  };
  const joints = String(line.joints.length);
  const n = formatNumber;
  const tank = design.tankId === null ? null : partOf(catalogue, 'tank', design.tankId);
  add({
    key: 'feed-off',
    phase: 'Before water',
    kind: 'do',
    minutes: 3,
    title: 'Shut the feed and see the pressure die',
    detail:
      'Stop valve shut, the hot one too where a mixer can pass water across. Open the tap: the flow stops and stays stopped. Towel and bucket in place.',
  });
  if (tank)
    add({
      key: 'air-charge',
      phase: 'Before water',
      kind: 'do',
      minutes: 3,
      title: `Set the tank’s air to ${n(tank.airChargeBar, 2)} bar`,
      detail: 'Tank empty and off the line. Read with the tyre gauge, top up with a hand pump.',
      caution: 'Stored pressure: never undo the air valve’s core.',
    });
  if (rules.sanitise) {
    const litres = wettedLitres(line, today.fill.waterL);
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
      title: 'Rinse until the strip reads none',
      detail: 'Through to tank and tap. Prove it with a test strip, and write down that it read none.',
      caution: 'Bleach left behind ruins the membrane and is drunk.',
    });
  }
  const pre = line.elements.filter((e) => e.role === 'sediment' || e.role === 'iron' || e.role === 'carbon');
  if (rules.flushPreFilters === 'stage') {
    let wet: string[] = ['stop-valve', 'feed', 'leak-valve', 'limiter'];
    pre.forEach((e, i) => {
      wet = [...wet, e.id];
      const nth =
        e.role === 'carbon' ? ` ${String(pre.slice(0, i + 1).filter((x) => x.role === 'carbon').length)}` : '';
      add({
        key: `flush-${e.id}`,
        phase: 'Pre-filters',
        kind: 'wait',
        minutes: rules.flushStageMinutes,
        wets: wet,
        title: `Flush ${e.label}${nth} into the bucket`,
        detail:
          e.role === 'carbon'
            ? 'Membrane still out. Until no black fines come.'
            : 'Membrane still out, what follows not yet in. Until it runs clear.',
        meanwhile: 'Look at the housings’ O-rings while they fill.',
      });
    });
  } else
    add({
      key: 'flush-pre',
      phase: 'Pre-filters',
      kind: 'wait',
      minutes: rules.flushStageMinutes * 2,
      wets: ['stop-valve', 'feed', 'leak-valve', 'limiter', ...pre.map((e) => e.id)],
      title: 'Flush the pre-filters together into the bucket',
      detail: 'Membrane still out. Until clear, no black fines.',
    });
  add({
    key: 'membrane-in',
    phase: 'Membrane',
    kind: 'do',
    minutes: 5,
    wets: line.elements
      .filter((e) => ['feed-valve', 'pump', 'shut-off', 'gauge', 'membrane'].includes(e.role))
      .map((e) => e.id),
    title: 'Membrane in, seals wetted',
    detail: partOf(catalogue, 'element', design.elementId).fitting ?? 'Seated home.',
    caution: 'Feed shut, pressure gone before the cap is opened. Clean hands on the membrane.',
  });
  if (design.pumpId !== null)
    add({
      key: 'pump-on',
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
    wets: line.elements.filter((e) => e.branch === 'product' || e.branch === 'concentrate').map((e) => e.id),
    title: tank ? `Open the feed part way, tank valve ${rules.tankValveAtStart}` : 'Open the feed part way, tap open',
    detail: `Air spits out at the open tap. ${site.fridge ? 'Fridge branch shut. ' : ''}Then open the feed fully.`,
  });
  add({
    key: 'look-pressure',
    phase: 'Membrane',
    kind: 'look',
    minutes: 4,
    title: `Look at joints 1 to ${joints}, under pressure`,
    detail: 'Paper towel round each. A leak: shut, release, re-cut or re-seat, again.',
  });
  add({
    key: 'run-ten',
    phase: 'Membrane',
    kind: 'wait',
    minutes: 10,
    title: 'Run ten minutes at the open tap',
    detail: 'The preservative leaves. Drain runs all the while.',
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
  if (today.direct) directSteps(add, design, catalogue, today.direct, joints);
  else fillSteps(add, rules, today, joints);
  if (design.lampId !== null) lampSteps(add, catalogue, design.lampId, rules);
  if (site.fridge)
    add({
      key: 'fridge-open',
      phase: 'Leave it right',
      kind: 'do',
      minutes: 5,
      wets: ['delivery-pump', 'fridge'],
      title: 'Open the fridge branch, discard its first litres',
      detail: 'Only now. Throw the first ice away.',
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
