import { seeded, type FieldKey, type Random } from '@katharos/core';
import type { DemoHouse } from '../house.ts';

/** What becomes of a house beside its changes; most have none of it. */
export type Fate = 'sold' | 'taken-out' | 'adopted' | 'away' | 'froze' | 'called' | 'new' | 'sampled' | 'unanswered';

/** A house of the town that the firm looks after: like one of those drawn by hand, with its own water and people. */
export interface TownHouse {
  readonly key: string;
  readonly like: DemoHouse;
  readonly name: string;
  readonly place: string;
  readonly contact: string;
  readonly phone: string;
  readonly keyHolder?: string;
  readonly readings: DemoHouse['readings'];
  /** it was put in so many days before the moment the firm is made for */
  readonly daysAgo: number;
  readonly fate?: Fate;
}

/** Where houses like each of those drawn by hand stand, and what their streets are called. */
const DISTRICTS: readonly { readonly like: string; readonly place: string; readonly streets: readonly string[] }[] = [
  { like: 'chalkpit', place: 'Under the ridge, Corvane', streets: ['Flint Row', 'Larkspur Lane', 'Limeburner Street'] },
  { like: 'moor', place: 'Above the reservoir, Corvane', streets: ['Sluicekeeper Way', 'Peat Lane'] },
  { like: 'heron', place: 'The quay, Corvane', streets: ['Oarsmen Stairs', 'Netmender Row', 'Tar Lane'] },
  { like: 'tollgate', place: 'New town, Corvane', streets: ['Surveyor Street', 'Plumbline Crescent', 'Arcade Walk'] },
  { like: 'sluice', place: 'By the weir, Corvane', streets: ['Fuller Court', 'Millrace Lane', 'Dyer Row'] },
  { like: 'gable', place: 'Old town, Corvane', streets: ['Bellfounder Street', 'Quern Court', 'Candle Alley'] },
  { like: 'saltern', place: 'The quay, Corvane', streets: ['Saltpan Row', 'Ropemaker Stairs'] },
  { like: 'cooper', place: 'Old town, Corvane', streets: ['Stave Yard', 'Hoop Lane'] },
];
const FIRST = [
  'Ansa',
  'Berin',
  'Cato',
  'Doreth',
  'Emmo',
  'Fenna',
  'Garet',
  'Hale',
  'Iska',
  'Jorun',
  'Kester',
  'Lune',
  'Maro',
  'Nessa',
  'Oda',
  'Perin',
];
const LAST = ['Ambry', 'Brack', 'Corrow', 'Dunmere', 'Eldick', 'Farrow', 'Garn', 'Hessel', 'Inchley', 'Jessop', 'Karrow', 'Lindle', 'Marrick']; // oxfmt-ignore

/** How many there are beside those drawn by hand. */
export const TOWN_HOUSES = 46;
/** The firm began so long ago, days. */
const BEGAN_DAYS = 1460;

/** What becomes of some of them, by their number. */
const FATES: Readonly<Record<number, Fate>> = {
  5: 'sold',
  11: 'taken-out',
  17: 'adopted',
  23: 'away',
  25: 'froze',
  3: 'called',
  8: 'sampled',
  14: 'unanswered',
  45: 'new',
};

/** Fields that differ from house to house of one water, with by how much, a share; those of one word move together. */
const VARIES: Partial<Record<FieldKey, readonly [with_: 'salt' | 'pressure', share: number, digits: number]>> = {
  feedTdsMgL: ['salt', 0.06, 0],
  hardnessMgL: ['salt', 0.06, 0],
  staticPressureBar: ['pressure', 0.05, 1],
  runningPressureBar: ['pressure', 0.05, 1],
  highestPressureBar: ['pressure', 0.05, 1],
};

/** A reading's figure moved by a share, and told as it stands; in the unit it was typed in where that is its own. */
function varied(house: DemoHouse, random: Random): DemoHouse['readings'] {
  const moved = { salt: 2 * random() - 1, pressure: 2 * random() - 1 };
  return Object.fromEntries(
    Object.entries(house.readings).map(([field, r]) => {
      const how = VARIES[field as FieldKey];
      if (!how || typeof r.value !== 'number') return [field, r];
      const value = Number((r.value * (1 + moved[how[0]] * how[1])).toFixed(how[2]));
      return [field, { ...r, value, typed: `${String(value)} ${how[0] === 'salt' ? 'mg/L' : 'bar'}` }];
    }),
  );
}

/** The town's houses: the same whenever they are made. @param drawn houses drawn by hand, which these are like */
export function townHouses(drawn: readonly DemoHouse[]): TownHouse[] {
  const random = seeded(20261201);
  return Array.from({ length: TOWN_HOUSES }, (_, i): TownHouse => {
    const d = DISTRICTS[i % DISTRICTS.length];
    const like = drawn.find((h) => h.key === d?.like);
    if (!d || !like) throw new Error(`no house ${d?.like ?? ''}`);
    const nth = Math.floor(i / DISTRICTS.length);
    const last = LAST[(5 * i) % LAST.length] ?? '';
    const fate = FATES[i];
    // more each year: half of them came within the last year and a half
    const daysAgo = fate === 'new' ? 9 : Math.round(30 + BEGAN_DAYS * (1 - (i + 0.5) / TOWN_HOUSES) ** 1.3);
    return {
      key: `town-${String(i)}`,
      like,
      name: `${d.streets[nth % d.streets.length] ?? ''} ${String(2 + 3 * nth + (i % 5))}`,
      place: d.place,
      contact: `${FIRST[(7 * i) % FIRST.length] ?? ''} ${last}`,
      phone: `000 4${String(10 + i)} ${String(100 + ((37 * i) % 900))}`,
      ...(i % 6 === 2 ? { keyHolder: 'Under nobody’s mat: ring the shop below' } : {}),
      readings: varied(like, random),
      daysAgo,
      ...(fate ? { fate } : {}),
    };
  });
}
