import { HouseRulesSchema, type HouseRules } from './rules.ts';

/** How a house rule is shown: what it says, why the default, and what others do. */
export interface RuleText {
  readonly group: 'Need' | 'Pressure' | 'Fitting' | 'First water' | 'Money and meters' | 'Devices';
  readonly label: string;
  readonly unit: string;
  readonly why: string;
  readonly others: string;
  /** words of a choice; none for a figure or a yes */
  readonly options?: Readonly<Record<string, string>>;
}

/** Every house rule, in the order the sheet shows them. */
export const RULE_TEXTS: Readonly<Record<keyof HouseRules, RuleText>> = {
  litresPerPersonDay: { group: 'Need', label: 'Drinking and cooking, each person', unit: 'L/day', why: 'a grown person with some to spare', others: '2 to 5' },
  spareCapacity: { group: 'Need', label: 'Output wanted over the need, worst season', unit: 'times', why: 'elements vary by 15 %, age by 5 to 10 % a year, and guests come', others: '1.2 to 3' },
  wantedTapFlowLMin: { group: 'Need', label: 'Flow at the tap that counts as running', unit: 'L/min', why: 'a glass in about 20 seconds; below it people say the tank is empty', others: '0.5 to 1.5' },
  productTdsMaxMgL: { group: 'Need', label: 'Most dissolved in the product', unit: 'mg/L', why: 'above it most people taste salt and ask for their money', others: '50 to 200' },
  store: { group: 'Need', label: 'A tank, or made as it is drawn', unit: '', why: 'both schools are worked out on this house’s figures', others: 'always a tank; never one', options: { either: 'whichever does better', tank: 'always a tank', direct: 'never a tank' } },
  worth: { group: 'Need', label: 'Where several do, the firm leans to', unit: '', why: 'what each is worth a year is told under a sizing’s comparison', others: 'less to the drain; fewer devices', options: { even: 'none of it more than the rest', sparing: 'little to the drain', plain: 'as few devices as will do', quick: 'a quick refill and a brisk tap', small: 'little room taken' } },
  indifference: { group: 'Need', label: 'As good as another within', unit: 'points', why: 'what a litre of tank, or half a litre to the drain, comes to: readings and parts are not known closer', others: '0 to 5' },
  unpumpedMinBar: { group: 'Pressure', label: 'No system without a pump below', unit: 'bar', why: '0 leaves it to the computation: whether the need is met and the valve shuts says more than a line', others: '2.7 to 3.5' },
  limiterAboveBar: { group: 'Pressure', label: 'Limiting valve above', unit: 'bar', why: 'below what housings bear, with room for surges; a weaker part’s own limit still wins', others: '4 to 6' },
  calciteIndexMax: { group: 'Pressure', label: 'Calcite index borne at the wall', unit: '', why: 'an element at home works by the hour, is rinsed at each start and changed after years', others: '0 to 1.8' },
  feedConnection: { group: 'Fitting', label: 'Feed connection', unit: '', why: 'no hole, no seep, allowed everywhere', others: 'self-piercing clamp: many codes forbid it', options: { tee: 'tee at the stop valve', clamp: 'self-piercing clamp' } },
  drainRun: { group: 'Fitting', label: 'Drain on', unit: '', why: 'quieter low on a vertical run; the house’s own run wins', others: 'horizontal, inclined hole', options: { vertical: 'the vertical run', horizontal: 'the horizontal run' } },
  drainDrill: { group: 'Fitting', label: 'Hole in the waste pipe', unit: '', why: 'the hole is seen and deburred before the clamp hides it', others: 'drilled through the mounted clamp', options: { first: 'drilled first', 'through-clamp': 'through the mounted clamp' } },
  drainSpigot: { group: 'Fitting', label: 'Dishwasher’s spigot may take the drain', unit: '', why: 'it ends on the basin’s side of the trap’s water; many codes keep it for the machine alone', others: 'where the code allows it: no hole' },
  backflow: { group: 'Fitting', label: 'Valve against backflow on the feed', unit: '', why: 'the shut-off and the membrane hold back; some codes ask for a valve of its own', others: 'where the code asks for it, always' },
  tapeTurns: { group: 'Fitting', label: 'PTFE tape on tapered threads', unit: 'turns', why: 'on tapered threads only; gasket and O-ring joints take none', others: '3 to 12' },
  sanitise: { group: 'First water', label: 'Sanitise with bleach', unit: '', why: 'parts come clean and sealed, and bleach left behind ruins a membrane', others: 'always' },
  bleachDoseMgL: { group: 'First water', label: 'Bleach wanted in the water', unit: 'mg/L', why: 'half an hour at this dose', others: '50 to 200' },
  bleachStrengthPercent: { group: 'First water', label: 'Strength of the bleach', unit: '%', why: 'as it stands on the bottle', others: '3 to 6' },
  flushPreFilters: { group: 'First water', label: 'Flush the pre-filters', unit: '', why: 'dirt of one stage does not reach the next', others: 'all together until clear', options: { stage: 'a stage at a time', together: 'all together' } },
  flushStageMinutes: { group: 'First water', label: 'Flush of a stage', unit: 'min', why: 'until it runs clear, by the clock', others: '2 to 15' },
  tankValveAtStart: { group: 'First water', label: 'Tank valve while air leaves', unit: '', why: 'air leaves by the tap instead of into the tank', others: 'open', options: { shut: 'shut', open: 'open' } },
  discards: { group: 'First water', label: 'Tanks poured away', unit: 'tanks', why: 'preservative and carbon fines are nearly all in the first', others: '1 to 3' },
  overnightStand: { group: 'First water', label: 'A night’s stand, full', unit: '', why: 'a second visit for little more rinsing', others: 'yes' },
  lampPowered: { group: 'First water', label: 'Lamp powered', unit: '', why: 'without water it runs hot', others: 'before, by some sheets', options: { full: 'once it stands full of water', before: 'before the water' } },
  changeFlushMinutes: { group: 'First water', label: 'Carbon flushed after a change', unit: 'min', why: 'fines are out within minutes', others: 'two minutes to half an hour' },
  waterPerM3: { group: 'Money and meters', label: 'Water and waste water', unit: 'a m³', why: 'the waterworks’ bill', others: '' },
  powerPerKWh: { group: 'Money and meters', label: 'Electricity', unit: 'a kWh', why: 'the household’s bill', others: '' },
  currency: { group: 'Money and meters', label: 'Money', unit: '', why: 'as it stands on the firm’s bills', others: '' },
  meterError: { group: 'Money and meters', label: 'Meter error where none is stated', unit: 'share', why: 'a pocket pen in daily use', others: '0.01 to 0.1' },
  firm: { group: 'Money and meters', label: 'Firm', unit: '', why: 'as it stands on what is printed', others: '' },
  hourPrice: { group: 'Money and meters', label: 'An hour of work or driving', unit: 'money', why: 'what a visit’s bill reckons its minutes by; 0 leaves time off it', others: 'by the job, with the minutes only for the firm itself' },
  firmPhone: { group: 'Money and meters', label: 'Telephone of the firm', unit: '', why: 'whoever has water on the floor finds it on every sheet', others: '' },
  deviceDays: { group: 'Devices', label: 'A device forgets the firm after', unit: 'days without contact', why: 'a month without signal is rare; a phone lost for a month is lost', others: '7 to 90' },
}; // oxfmt-ignore

/** The least and most a figure may be; null for what is no figure. */
export function ruleRange(key: keyof HouseRules): { readonly min: number; readonly max: number } | null {
  const at = (v: unknown): boolean => HouseRulesSchema.shape[key].safeParse(v).success;
  if (!at(ruleProbe(key))) return null;
  return { min: edge(at, ruleProbe(key), -1), max: edge(at, ruleProbe(key), 1) };
}

const PROBES: Readonly<Partial<Record<keyof HouseRules, number>>> = {
  litresPerPersonDay: 3, spareCapacity: 2, limiterAboveBar: 5, wantedTapFlowLMin: 1, productTdsMaxMgL: 100, unpumpedMinBar: 1,
  calciteIndexMax: 1, tapeTurns: 5, bleachDoseMgL: 50, bleachStrengthPercent: 5, flushStageMinutes: 5, discards: 2,
  changeFlushMinutes: 5, hourPrice: 50, waterPerM3: 1, powerPerKWh: 1, meterError: 0.05, indifference: 2, deviceDays: 30,
}; // oxfmt-ignore
const ruleProbe = (key: keyof HouseRules): number => PROBES[key] ?? Number.NaN;

/** The last value the schema takes, from a good one outwards, to four figures. */
function edge(at: (v: number) => boolean, good: number, way: 1 | -1): number {
  let inside = good;
  let step = 1000;
  while (step > 0.0005) {
    const next = Number((inside + way * step).toFixed(4));
    if (at(next)) inside = next;
    else step /= 10;
  }
  return inside;
}
