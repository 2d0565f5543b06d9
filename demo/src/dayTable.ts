import { betweenKey, type DayTable } from '@katharos/core';

/** The districts of the made-up town, by how far they lie from the quay along the one road: minutes of driving. */
const ALONG: Readonly<Record<string, number>> = {
  'The quay': 0,
  'Old town': 6,
  'New town': 11,
  'By the weir': 14,
  'Under the ridge': 18,
  'Above the reservoir': 26,
  'The fen': 31,
  'Under the moor': 38,
};

/** What the made-up firm plans its days by: two of its people drive out, one from each end of the town. */
export function demoDayTable(people: readonly { readonly id: string }[]): DayTable {
  const districts = Object.keys(ALONG);
  const minutes = Object.fromEntries(
    districts.flatMap((a, i) =>
      districts.slice(i + 1).map((b) => [betweenKey(a, b), 5 + Math.abs((ALONG[a] ?? 0) - (ALONG[b] ?? 0))] as const),
    ),
  );
  const [imra, bast] = people;
  return {
    districts,
    minutes,
    withinMin: 6,
    elseMin: 25,
    fitters: [
      ...(imra ? [{ person: imra.id, district: 'Old town', fromMin: 480, untilMin: 1020 }] : []),
      ...(bast ? [{ person: bast.id, district: 'Under the ridge', fromMin: 510, untilMin: 1020 }] : []),
    ],
  };
}
