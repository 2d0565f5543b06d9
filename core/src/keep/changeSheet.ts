import type { Add, RunStep } from '../facts/step.ts';
import { firstRunMinutes } from '../flush/fill.ts';
import { sanitiseSteps, stripAfterCarbon } from '../flush/sanitise.ts';
import { DRINK_STEP } from '../flush/schedule.ts';
import { kindRow, type ChangeWords } from '../parts/kinds.ts';
import { formatMinutes, formatNumber } from '../quantity/format.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Operating } from '../run/operate.ts';
import { ofKind, ofWork, partIn, type Component, type System } from '../system/system.ts';
import { CHANGE_STEP } from '../words/stored.ts';

/** What a visit changes. */
export interface ToChange {
  /** ids of components */
  readonly components: readonly string[];
  /** bleach through all that is wetted, in the same visit */
  readonly sanitise: boolean;
}

/** Chlorine the membrane bears, mg/L; what lets more by is changed. */
const CHLORINE_LEFT_MG_L = 0.1;
/** Washed through what stands behind the membrane before it is drunk, L. */
const BEHIND_L = 2;

/** What has no words of its own is changed by its book. */
const BY_ITS_BOOK: ChangeWords = {
  out: 'By its own book. What comes out is looked at, and photographed where it tells something.',
  in: 'By its own book. Name and batch read off it first.',
  mistakes: 'A joint not pushed home, a cap left on.',
};

/** The parts of a system a change tells of. */
export interface Changing {
  readonly system: System;
  readonly rules: HouseRules;
  readonly today: Operating;
  /** in the water's order */
  readonly changed: readonly Component[];
  readonly membranes: readonly Component[];
  readonly feedSide: readonly Component[];
  readonly sanitise: boolean;
}

/** Components as people say them in a row. */
export const named = (all: readonly Component[]): string => {
  const names = all.map((c) => c.slot);
  return names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}`;
};

/** Before anything is shut: how it does, for what is read afterwards to be held against. */
function readFirst(add: Add, { system, membranes }: Changing): void {
  if (membranes.length > 0)
    add({
      key: 'read-before',
      needs: [],
      phase: 'Read it first',
      kind: 'do',
      minutes: 3,
      title: 'Read the product before anything is touched',
      detail: 'After two minutes’ run, before any minerals, the pen rinsed in it. It is held against what is read at the end.',
      reads: { label: 'Product TDS', unit: 'mg/L' },
    });
  if (ofKind(system, 'carbon').length > 0)
    add({
      key: 'chlorine-before',
      needs: [],
      phase: 'Read it first',
      kind: 'do',
      minutes: 3,
      title: 'Dip a strip behind the carbon as it was',
      detail: `While it runs. ${membranes.length > 0 ? 'What it reads is what the membrane has met: it' : 'It'} decides how often this carbon is changed.`,
      reads: { label: 'Total chlorine behind the old carbon', unit: 'mg/L' },
    });
} // oxfmt-ignore

/** Feed, tank and plugs, and the pressure seen to die. */
export function shutIt(add: Add, { system }: Changing, before: readonly string[]): void {
  const tank = partIn(system, 'tank') !== undefined;
  const powered = poweredIn(system);
  add({
    key: 'feed-off',
    needs: before,
    phase: 'Shut it',
    kind: 'do',
    minutes: 2,
    title: tank ? 'Shut the feed, then the tank’s valve' : 'Shut the feed',
    detail: `${tank ? 'In this order: else the tank pushes back while you work. ' : ''}Towel and bucket in place.`,
  });
  if (powered.length > 0)
    add({
      key: 'unplug',
      phase: 'Shut it',
      kind: 'do',
      minutes: 1,
      title: `Unplug what is powered: ${named(powered)}`,
      detail: 'Before a drop falls. The plugs laid up high.',
      caution: 'Dry hands, socket off the floor. Never a wet plug.',
    });
  add({
    key: 'die',
    phase: 'Shut it',
    kind: 'do',
    minutes: 2,
    title: 'Open the tap and see the pressure die',
    detail: 'It stops within a minute and stays stopped for another.',
    caution:
      'It runs on: the stop valve does not hold. Nothing is opened: the house’s own valve is shut first, or another day is made.',
  });
}

/** One thing out. */
function takeOut(add: Add, c: Component): void {
  const words = kindRow(c.kind).change ?? BY_ITS_BOOK;
  add({
    key: `out-${c.id}`,
    of: [c.id],
    phase: 'Change',
    kind: 'do',
    minutes: 4,
    title: `${c.slot.charAt(0).toUpperCase()}${c.slot.slice(1)} out`,
    detail: words.out,
    ...(words.caution === undefined ? {} : { caution: words.caution }),
  });
}

/** How tight a bowl goes: its own sheet says it, the same on every list. */
const tightened = (c: Component): string =>
  kindRow(c.kind).inHousing !== true
    ? ''
    : ` ${c.housing?.fitting ?? 'Bowl by hand until it meets, then the little more that its sheet allows.'}`;

/** One thing in: which one it really is, is written down with it. */
function putIn(add: Add, c: Component): void {
  const words = kindRow(c.kind).change ?? BY_ITS_BOOK;
  const serviced = kindRow(c.kind).serviced === true;
  add({
    key: `in-${c.id}`,
    of: [c.id],
    phase: 'Change',
    kind: 'do',
    minutes: 4,
    title: serviced ? `${c.slot} cleaned and back` : `New ${c.slot} in${c.part ? `: ${c.part.name}` : ''}`,
    detail: `${words.in}${tightened(c)} What goes wrong: ${words.mistakes.charAt(0).toLowerCase()}${words.mistakes.slice(1)}`,
    ...(serviced ? {} : { puts: c.id }),
  });
}

/** Pre-filters flushed past the membrane into the bucket, until they run clear. */
function flushPast(add: Add, { rules, feedSide, membranes, sanitise }: Changing): void {
  if (feedSide.length === 0 && !sanitise) return;
  const carbon = feedSide.some((c) => c.kind === 'carbon') || sanitise;
  const minutes = carbon ? rules.changeFlushMinutes : 2;
  add({
    key: 'flush',
    of: feedSide.map((c) => c.id),
    phase: 'Flush it through',
    kind: 'wait',
    minutes,
    title: `Flush ${feedSide.length > 0 ? named(feedSide) : 'the pre-filters'} ${membranes.length > 0 ? 'past the membrane into the bucket' : 'into the bucket'}`,
    detail: `${membranes.length > 0 ? 'The tube behind the last of them off and into the bucket: before pump and electric valve. ' : ''}Feed opened a little, then more: ${formatMinutes(minutes)} at the least, and until ${carbon ? 'no black fines come' : 'it runs clear'}. Then the feed shut again${membranes.length > 0 ? ' and the tube back' : ''}.`,
    meanwhile: 'Look at the bowls you opened; write the date on what went in.',
  });
}

/** What is taken out before bleach: every cartridge, the membranes, and what holds carbon or minerals behind them. */
const outOfBleach = (system: System): Component[] =>
  system.components.filter(
    (c) =>
      kindRow(c.kind).inHousing === true ||
      kindRow(c.kind).work === 'separates' ||
      c.kind === 'polish' ||
      c.kind === 'mineral',
  );

/** What the tube behind a component leads to. */
const behindOf = (system: System, of: readonly Component[]): Component[] => {
  const next = new Set(
    system.links.filter((l) => of.some((c) => c.id === l.from.component)).map((l) => l.to.component),
  );
  return system.components.filter((c) => next.has(c.id));
};

/** Feed open, the joints that were touched looked at, and what stands behind the membrane washed. */
function openIt(add: Add, x: Changing): void {
  const { system, today, changed, membranes, feedSide, sanitise } = x;
  const membrane = changed.filter((c) => membranes.includes(c));
  add({
    key: 'open',
    phase: 'Flush it through',
    kind: 'do',
    minutes: 3,
    title: 'Feed open part way, tap open',
    detail: `Air spits out at the tap. Then fully.${partIn(system, 'tank') ? ' The tank still shut.' : ''}`,
  });
  // where the tube behind the last pre-filter was off it is looked at too, and where it led
  const last = system.components.filter((c) => kindRow(c.kind).flushed !== undefined).slice(-1);
  const flushed = feedSide.length > 0 || sanitise;
  const opened = [
    ...changed,
    ...(sanitise ? outOfBleach(system) : []),
    ...(flushed ? [...last, ...(membranes.length > 0 ? behindOf(system, last) : [])] : []),
  ];
  const touched = system.components.filter((c) => opened.includes(c)).map((c) => c.id);
  add({
    key: 'look',
    of: touched,
    phase: 'Flush it through',
    kind: 'look',
    minutes: 3,
    title: 'Look at every joint that was touched',
    detail: 'A dry paper towel round each bowl and joint. A leak: shut, release, O-ring out and looked at, again.',
  });
  // what has no tank to be poured away runs as long as its sheet asks
  const minutes = today.direct ? firstRunMinutes(system) : 10;
  if (membrane.length > 0)
    add({
      key: 'run-ten',
      of: membrane.map((c) => c.id),
      phase: 'Flush it through',
      kind: 'wait',
      minutes,
      title: `Run it at the open tap for ${formatMinutes(minutes)}`,
      detail: 'The new membrane’s preservative leaves. Not for drinking, not for aquaria.',
    });
  const behind = changed.filter((c) => !feedSide.includes(c) && !membranes.includes(c));
  if (behind.length > 0)
    add({
      key: 'wash',
      of: behind.map((c) => c.id),
      phase: 'Flush it through',
      kind: 'do',
      minutes: 5,
      title: `Run ${formatNumber(BEHIND_L, 1)} L away at the tap`,
      detail: `Fines and air out of ${named(behind)}. Cloudy water that clears from below is air.`,
    });
}

/** What draws power, but for what only feeds it. */
export const poweredIn = (system: System): Component[] =>
  system.components.filter((c) => kindRow(c.kind).powered === true && c.part?.kind !== 'transformer');

/** Pumps and electric valves powered again: without them no water passes. */
function powerOn(add: Add, { system }: Changing): void {
  const powered = poweredIn(system).filter((c) => c.kind !== 'lamp');
  if (powered.length === 0) return;
  add({
    key: 'plug',
    phase: 'Flush it through',
    kind: 'do',
    minutes: 1,
    title: `Feed open, then plug in again: ${named(powered)}`,
    detail: 'Water stands at the pump’s inlet first. Plug in last.',
    caution: 'Dry hands, socket off the floor. Never a wet plug.',
  });
}

/** A lamp lit once it is full of water, the tank open, what comes first after bleach or of a new membrane poured away. */
function backToWork(add: Add, { system, rules, today, changed, membranes, sanitise }: Changing): void {
  const lamps = ofKind(system, 'lamp');
  if (lamps.length > 0)
    add({
      key: 'lamp-on',
      phase: 'Flush it through',
      kind: 'wait',
      minutes: 5,
      title: 'Lamp full of water: power it, let it warm up',
      detail: 'Five minutes before anything is drawn to drink.',
      caution: 'Never look into the light. Water is not drunk while it is off.',
    });
  const stored = ofWork(system, 'stores').length > 0 && !today.direct;
  if (partIn(system, 'tank'))
    add({ key: 'tank-open', phase: 'Fill and discard', kind: 'do', minutes: 1, title: 'Tank’s valve open', detail: 'Fully: half open it throttles the tap.' });
  const renewed = changed.some((c) => membranes.includes(c));
  if (!stored || !(renewed || sanitise)) return;
  for (let i = 1; i <= rules.discards; i++) {
    const nth = ['First', 'Second', 'Third'][i - 1] ?? '';
    add({
      key: `fill-${String(i)}`,
      phase: 'Fill and discard',
      kind: 'wait',
      minutes: Math.ceil(today.fill.minutes),
      fillsToL: today.fill.waterL,
      title: `${nth} fill ${renewed ? 'of the new membrane' : 'after the bleach'}, to be poured away`,
      detail: `${formatNumber(today.fill.waterL, 2)} L at today’s pressure: ${formatMinutes(today.fill.minutes)}. Tap shut.`,
    });
    add({ key: `drain-${String(i)}`, phase: 'Fill and discard', kind: 'do', minutes: 5, title: `Pour the ${nth.toLowerCase()} tank away`, detail: 'Tap open until it dribbles. Not for drinking, not for aquaria.' });
  }
} // oxfmt-ignore

/** It is read again, they are told whether they may drink, and the cupboard is left dry. */
function leaveIt(add: Add, { system, changed, membranes }: Changing): void {
  const bears = membranes.length > 0 ? 'below what the membrane bears' : 'nothing passes it';
  if (membranes.length > 0)
    add({
      key: 'read-after',
      phase: 'Leave it right',
      kind: 'do',
      minutes: 5,
      title: 'Read the product again',
      detail: 'After two minutes’ run, the same pen, before any minerals. Higher than before: a seal that was touched, or water that stood; run on and read once more.',
      reads: { label: 'Product TDS', unit: 'mg/L' },
    });
  if (ofKind(system, 'carbon').length > 0)
    add({
      key: 'chlorine-after',
      phase: 'Leave it right',
      kind: 'do',
      minutes: 3,
      title: `Dip a strip behind the carbon: ${bears}`,
      detail: 'While it runs. It reads more: the cartridge beside its ring, or in the wrong bowl.',
      reads: { label: 'Total chlorine behind the carbon', unit: 'mg/L', most: CHLORINE_LEFT_MG_L },
    });
  add({
    key: DRINK_STEP,
    phase: 'Leave it right',
    kind: 'do',
    minutes: 1,
    title: 'Tell them whether they may drink',
    detail: 'It is said below, under “Drinking”. A glass run away first.',
  });
  if (changed.some((c) => c.kind === 'lamp'))
    add({
      key: 'lamp-sample',
      phase: 'Leave it right',
      kind: 'do',
      minutes: 5,
      title: 'Take the product sample for the laboratory',
      detail: 'Tap flamed or wiped with alcohol, its bottle, cooled and on its way today: it says whether lamp and sleeve do their work.',
    });
  add({
    key: 'leave',
    phase: 'Leave it right',
    kind: 'do',
    minutes: 5,
    title: 'Leave the cupboard dry',
    detail: `Floor and bowls wiped, dates written on what went in, ${ofKind(system, 'leak-valve').length > 0 ? 'the leak stop’s pad dry and armed, ' : ''}what came out taken along, said when the next visit is due.`,
  });
} // oxfmt-ignore

/** One bowl open at a time, so that no two are mixed up; the membrane once the pre-filters are flushed. */
function changeOneByOne(add: Add, x: Changing): void {
  const { changed, membranes } = x;
  for (const c of changed.filter((o) => !membranes.includes(o))) {
    takeOut(add, c);
    putIn(add, c);
  }
  flushPast(add, x);
  for (const c of changed.filter((o) => membranes.includes(o))) {
    takeOut(add, c);
    putIn(add, c);
  }
}

/**
 * All that bleach would harm out first, in one go; bleach, rinse and strip through empty housings; then each thing in once, along
 * the water: pre-filters, their flush and strip, the membrane, what stands behind it.
 */
function sanitiseAndChange(add: Add, x: Changing): void {
  const { system, rules, today, changed, membranes, feedSide } = x;
  const kept = outOfBleach(system).filter((c) => !changed.includes(c));
  const behind = (c: Component): boolean => kindRow(c.kind).chain !== 'feed';
  for (const c of changed) takeOut(add, c);
  if (kept.length > 0)
    add({ key: 'out-kept', of: kept.map((c) => c.id), phase: 'Change', kind: 'do', minutes: 3 * kept.length, title: `Out, to go back later: ${named(kept)}`, detail: `Each wet in a clean bag of its own, marked.${kept.some(behind) ? ' The tube led past what stands in line.' : ''} Bowls and caps shut empty.` });
  sanitiseSteps(add, system, rules, today);
  for (const c of feedSide) putIn(add, c);
  const bowls = kept.filter((c) => kindRow(c.kind).inHousing === true);
  if (bowls.length > 0)
    add({ key: 'bowls-back', of: bowls.map((c) => c.id), phase: 'Change', kind: 'do', minutes: 4, title: `Back in their bowls: ${named(bowls)}`, detail: 'Each in its own, seated over its ring, the O-ring wiped and greased.' });
  flushPast(add, x);
  stripAfterCarbon(add, system);
  const back = kept.filter((c) => membranes.includes(c));
  if (back.length > 0)
    add({ key: 'membrane-in', of: back.map((c) => c.id), phase: 'Change', kind: 'do', minutes: 5, title: 'Membrane back in, seals wetted', detail: 'Brine seal towards the feed end, both O-rings wetted, pushed home until it seats.', caution: 'Clean hands on the membrane.' });
  for (const c of changed.filter((o) => membranes.includes(o))) putIn(add, c);
  for (const c of changed.filter((o) => !membranes.includes(o) && !feedSide.includes(o))) putIn(add, c);
  const inLine = kept.filter(behind);
  if (inLine.length > 0)
    add({ key: 'back-in', of: inLine.map((c) => c.id), phase: 'Change', kind: 'do', minutes: 4, title: `Back in line: ${named(inLine)}`, detail: 'Flow arrow with the water, caps off, joints pushed home.' });
} // oxfmt-ignore

/**
 * The run sheet of a visit that changes what is worn: read, shut, changed one by one in the water's order, flushed past the
 * membrane by the firm's rule, looked at, back to work, read again. Its steps are called by the change, so that several
 * changes of one system never share a tick.
 * @param id of the change it belongs to
 * @param today the system operating at today's temperature and pressure
 * @throws RangeError for a component the system has not, or where nothing is to be done
 */
export function changeSheet(
  id: string,
  { components, sanitise }: ToChange,
  system: System,
  rules: HouseRules,
  today: Operating,
): RunStep[] {
  const unknown = components.find((c) => !system.components.some((x) => x.id === c));
  if (unknown !== undefined) throw new RangeError(`the system has no component "${unknown}"`);
  if (components.length === 0 && !sanitise) throw new RangeError('nothing is to be changed');
  const changed = system.components.filter((c) => components.includes(c.id));
  const membranes = ofWork(system, 'separates');
  const isMembrane = (c: Component): boolean => membranes.includes(c);
  const feedSide = changed.filter((c) => kindRow(c.kind).chain === 'feed' && !isMembrane(c));
  const x: Changing = { system, rules, today, changed, membranes, feedSide, sanitise };
  const steps: RunStep[] = [];
  const add: Add = (s) => {
    const last = steps.at(-1);
    steps.push({ wets: [], of: [], needs: last ? [last.key] : [], ...s });
  };
  readFirst(add, x);
  shutIt(add, x, steps.map((s) => s.key));
  if (sanitise) sanitiseAndChange(add, x);
  else changeOneByOne(add, x);
  powerOn(add, x);
  openIt(add, x);
  backToWork(add, x);
  leaveIt(add, x);
  return ofChange(id, steps, changed.filter(isMembrane).map((c) => `in-${c.id}`));
} // oxfmt-ignore

/** Names every step after its change. @param membranesIn steps that put a new membrane in: what bars a membrane bars them */
export function ofChange(id: string, steps: readonly RunStep[], membranesIn: readonly string[]): RunStep[] {
  const of = (key: string): string => `${CHANGE_STEP}${id}:${key}`;
  // a system without a membrane has its first glass barred: by what opens it
  const barred = (key: string): string[] =>
    key === 'open-part' ? ['open'] : key === 'membrane-in' && membranesIn.length > 0 ? [...membranesIn] : [key];
  return steps.map((s) => ({
    ...s,
    key: of(s.key),
    ...(s.needs ? { needs: s.needs.map(of) } : {}),
    ...(s.bars ? { bars: s.bars.flatMap(barred).map(of) } : {}),
    ...(s.reads ? { reads: s.reads.mostOf === undefined ? s.reads : { ...s.reads, mostOf: of(s.reads.mostOf) } } : {}),
  }));
}

/** What of a change is in by now: components whose step is ticked. @param done whether a step stands ticked */
export function putInSoFar(
  change: { readonly id: string; readonly components: readonly string[]; readonly sheet: readonly RunStep[] },
  done: (step: string) => boolean,
): string[] {
  return change.components.filter((c) => change.sheet.some((s) => s.key.endsWith(`:in-${c}`) && done(s.key)));
}
