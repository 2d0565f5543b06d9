import { formatReading } from '../quantity/format.ts';
import { choiceOf, numberOf, type FieldKey, type Known } from './fields.ts';

/** A reading that does not sit well, with its reason; never a refusal. */
export interface Doubt {
  readonly code: string;
  /** the field it stands beside, first, and those it was compared with */
  readonly fields: readonly FieldKey[];
  /** safety doubts say what must be settled before the work goes on */
  readonly weight: 'doubt' | 'safety';
  readonly text: string;
}

/** Doubts that no acknowledgement settles: the work stops until they are gone. */
const HOLDING = new Set(['private-without-laboratory', 'cold-not-told', 'warm-feed', 'pressure-beyond-pipework']);

/** What household pipework and its valves are commonly made for, bar. */
const PIPEWORK_BAR = 10;

/** Whether a doubt holds an approval back until the reading itself is put right. */
export function holdsApproval(d: Pick<Doubt, 'code' | 'weight'>): boolean {
  return d.weight === 'safety' && HOLDING.has(d.code);
}

const PRIVATE = new Set(['well', 'surface', 'rain']);

/** Whether the source has no disinfection of its own. */
export function isPrivate(source: string | undefined): boolean {
  return source !== undefined && PRIVATE.has(source);
}

/**
 * Compares what is known with itself and with what such waters and houses are like.
 * @param known readings in use
 * @returns doubts in field order; an empty list says nothing contradicts, not that all is right
 */
export function doubtsOf(known: Known): Doubt[] {
  const out: Doubt[] = [];
  const add = (code: string, fields: FieldKey[], text: string, weight: Doubt['weight'] = 'doubt'): void => {
    out.push({ code, fields, weight, text });
  };
  const n = (k: FieldKey): number | undefined => numberOf(known, k);
  const source = choiceOf(known, 'source');
  const tds = n('feedTdsMgL');
  const hardness = n('hardnessMgL');
  const today = n('temperatureC');
  const coldest = n('coldestC');
  const still = n('staticPressureBar');
  const running = n('runningPressureBar');
  const night = n('highestPressureBar');
  const low = n('switchLowBar');
  const high = n('switchHighBar');
  const people = n('people');
  const litres = n('litresADay');
  const chlorine = n('chlorineMgL');
  const agent = choiceOf(known, 'disinfectant');

  const laboratory = choiceOf(known, 'laboratory');
  if (isPrivate(source) && laboratory !== 'clean' && laboratory !== 'unsafe')
    add(
      'private-without-laboratory',
      ['source', 'laboratory'],
      'Private water without a laboratory report is referred, not sized: no meter here sees microbes.',
      'safety',
    );
  if (isPrivate(source) && laboratory === 'unsafe')
    add(
      'private-unsafe',
      ['laboratory', 'source'],
      'Microbes in the report: until the lamp burns and a laboratory has found the product clean, this water is boiled before anybody drinks it.',
      'safety',
    );
  if (tds !== undefined && tds < 20 && source !== 'rain')
    add('tds-very-low', ['feedTdsMgL'], 'Few supplies are this low. Was the pen rinsed, on, and in the feed water?');
  if (tds !== undefined && tds > 2000)
    add(
      'tds-brackish',
      ['feedTdsMgL'],
      'Brackish: near the end of what domestic elements are made for. Read it twice.',
    );
  if (tds !== undefined && hardness !== undefined && hardness > tds * 1.05)
    add(
      'hardness-above-tds',
      ['hardnessMgL', 'feedTdsMgL'],
      `Hardness ${formatReading(hardness)} mg/L cannot exceed a TDS of ${formatReading(tds)} mg/L. One of them is off, or in another unit.`,
    );
  if (
    tds !== undefined &&
    hardness !== undefined &&
    source !== 'softened-mains' &&
    source !== 'rain' &&
    tds > 250 &&
    hardness > 0 &&
    hardness <= 30
  )
    add(
      'hardness-units',
      ['hardnessMgL', 'feedTdsMgL'],
      `Only ${formatReading(hardness)} mg/L in a water of ${formatReading(tds)} mg/L TDS: was it read in degrees or grains? Type the unit, or say that the tap is softened.`,
    );
  if (source === 'softened-mains' && hardness !== undefined && hardness > 60)
    add(
      'softened-but-hard',
      ['hardnessMgL', 'source'],
      'A softened tap reads below about 20 mg/L. The kitchen’s cold line may be left unsoftened.',
    );
  if (agent === 'none' && chlorine !== undefined && chlorine > 0.05)
    add(
      'chlorine-without-agent',
      ['chlorineMgL', 'disinfectant'],
      'Chlorine was read, yet the disinfectant says none.',
    );
  if ((source === 'mains' || source === 'softened-mains') && chlorine === 0)
    add(
      'mains-without-chlorine',
      ['chlorineMgL', 'source'],
      'Mains water usually carries some. Read total chlorine, fresh from the tap.',
    );
  if (agent === 'chloramine')
    add(
      'chloramine',
      ['disinfectant'],
      'Ordinary carbon hardly holds chloramine: catalytic carbon is put on the list, and it wants a minute with the water.',
    );
  if (today !== undefined && coldest !== undefined && coldest > today + 0.5)
    add(
      'coldest-above-today',
      ['coldestC', 'temperatureC'],
      `The coldest of the year cannot be above today’s ${formatReading(today)} °C.`,
    );
  if (today !== undefined && today > 30)
    add(
      'warm-feed',
      ['temperatureC'],
      today > 38
        ? 'Too warm for a membrane and its housings (limit about 38 °C). Is this the hot line?'
        : 'Warm for a cold line. Run it longer, and make sure it is the cold one.',
      today > 38 ? 'safety' : 'doubt',
    );
  if (choiceOf(known, 'coldLine') === 'no')
    add(
      'cold-not-told',
      ['coldLine'],
      'Run both taps, feel, and label the cold line before any fitting is opened.',
      'safety',
    );
  if (still !== undefined && running !== undefined && running > still + 0.05)
    add(
      'running-above-static',
      ['runningPressureBar', 'staticPressureBar'],
      `Running pressure above the static ${formatReading(still)} bar: were the two swapped, or did the supply change?`,
    );
  if (running !== undefined && n('runningFlowLMin') === undefined)
    add(
      'flow-missing',
      ['runningPressureBar', 'runningFlowLMin'],
      'Without the flow at that reading the supply’s own resistance stays unknown; it is assumed.',
    );
  if (still !== undefined && still > 8)
    add(
      'static-high',
      ['staticPressureBar'],
      'Above what most housings and tubes bear (about 8 bar). A limiting valve comes first.',
      'safety',
    );
  const highest = Math.max(still ?? 0, night ?? 0, high ?? 0);
  if (highest > PIPEWORK_BAR)
    add(
      'pressure-beyond-pipework',
      [highest === night ? 'highestPressureBar' : highest === high ? 'switchHighBar' : 'staticPressureBar'],
      `${formatReading(highest)} bar is more than household pipes, stop valves and tubes are made for (${String(PIPEWORK_BAR)} bar), before any valve of this system. Have a plumber put a reducing valve at the entry of the house, then read again.`,
      'safety',
    );
  if (still !== undefined && still < 0.5)
    add('static-very-low', ['staticPressureBar'], 'Nearly no pressure: is the stop valve fully open?');
  if (night !== undefined && still !== undefined && night < still - 0.05)
    add(
      'night-below-static',
      ['highestPressureBar', 'staticPressureBar'],
      'The highest pressure is below the static one. Take the higher of the two readings.',
    );
  if (low !== undefined && high !== undefined && low >= high)
    add(
      'switch-order',
      ['switchLowBar', 'switchHighBar'],
      'The pump starts at the lower pressure and stops at the higher: these two are swapped.',
    );
  const warmest = n('warmestC');
  if (warmest !== undefined && today !== undefined && warmest < today)
    add(
      'warmest-below-today',
      ['warmestC', 'temperatureC'],
      `The warmest of the year is below what is read today, ${formatReading(today)} °C: one of the two is wrong.`,
    );
  if (warmest !== undefined && coldest !== undefined && warmest < coldest)
    add(
      'warmest-below-coldest',
      ['warmestC', 'coldestC'],
      'The warmest of the year is below the coldest: these two are swapped.',
    );
  if (people !== undefined && !Number.isInteger(people))
    add(
      'people-in-parts',
      ['people'],
      `${formatReading(people)} people: a whole number. Who is there now and then shows in the litres a day.`,
    );
  if (people !== undefined && litres !== undefined && (litres / people > 12 || litres / people < 0.7))
    add(
      'litres-per-person',
      ['litresADay', 'people'],
      `${formatReading(litres / people, 2)} L a day for each person is unusual: 2 to 5 for drinking and cooking.`,
    );
  const iron = n('ironMgL');
  if (iron !== undefined && iron > 0.3)
    add(
      'iron',
      ['ironMgL'],
      'Iron above 0.3 mg/L fouls a membrane within months: a cartridge takes out a little, more is treated for the whole house first.',
    );
  const manganese = n('manganeseMgL');
  if (manganese !== undefined && manganese > 0.05)
    add('manganese', ['manganeseMgL'], 'Manganese above 0.05 mg/L fouls a membrane: it is taken out first.');
  const turbidity = n('turbidityNTU');
  if (turbidity !== undefined && turbidity > 1)
    add(
      'turbidity',
      ['turbidityNTU'],
      turbidity > 5
        ? 'Too cloudy for a cartridge: it is settled or filtered first.'
        : 'Cloudy: the sediment cartridge will not last its time.',
    );
  if (choiceOf(known, 'smell') === 'hot-only')
    add(
      'smell-hot-only',
      ['smell'],
      'Only in hot water: the heater’s rod makes it, not the supply. The cold feed is not touched by it.',
    );
  const worry = choiceOf(known, 'worry');
  if (worry !== undefined && worry !== 'none')
    add(
      'worry',
      ['worry'],
      'No meter here sees that. Have raw water sampled now and product water after the first week: a membrane usually holds much of it back, and no figure here answers for it.',
    );
  const nitrate = n('nitrateMgL');
  if (nitrate !== undefined && nitrate > 50)
    add(
      'nitrate',
      ['nitrateMgL'],
      'Above the guideline of 50 mg/L: not for infants’ bottles. A membrane holds back less of it than of salt; sample the product.',
      'safety',
    );
  const fridge = n('fridgeMinBar');
  if (fridge !== undefined && fridge > 3)
    add('fridge-pressure', ['fridgeMinBar'], 'Most fridges ask 1.4 to 2.8 bar. Is this the most it bears?');
  if (choiceOf(known, 'stopValveHolds') === 'no')
    add(
      'stop-valve',
      ['stopValveHolds'],
      'Work from the house’s main valve, and have this valve replaced first.',
      'safety',
    );
  if (choiceOf(known, 'stopValveHolds') === 'seized')
    add(
      'stop-valve-seized',
      ['stopValveHolds'],
      'It is not forced: it breaks open. Find the main valve, try it, and have a plumber change this one first.',
      'safety',
    );
  if (choiceOf(known, 'pipeMaterial') === 'lead')
    add(
      'lead-pipe',
      ['pipeMaterial'],
      'Nothing is joined to lead: the waterworks or a plumber replaces it first. Infants and the pregnant drink from none of its taps.',
      'safety',
    );
  if (choiceOf(known, 'socket') === 'switched')
    add(
      'socket-switched',
      ['socket'],
      'A socket that a wall switch cuts stops a pump with it: have it changed, or label the switch.',
    );
  return out;
}
