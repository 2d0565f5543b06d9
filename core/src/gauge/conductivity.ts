import { analysisFrom, waterState } from '../water/analysis.ts';
import { tdsFromConductivity } from '../water/conductivity.ts';
import { hardnessFor } from './site.ts';
import { inSentence } from '../quantity/format.ts';
import { choiceOf, GAUGE_FIELDS, numberOf, type Known } from './fields.ts';

/**
 * Dissolved solids for each µS/cm (25 °C) of a house's feed, from the make-up of its water as far as it is known and as
 * it is usual for the source else: about 0.5 for salt, 0.55 for soft mains, 0.7 for hard ones, 0.8 for wells full of
 * bicarbonate. It moves by a few percent with the strength; meters keep one factor.
 * @param known source, hardness and the rest where read
 * @param atUSCm where it is wanted, 1 to 60 000
 * @returns mg/L for each µS/cm
 */
export function tdsPerUSCm(known: Known, atUSCm = 500): number {
  const source = choiceOf(known, 'source') ?? 'mains';
  const tdsMgL = 0.65 * atUSCm;
  const { analysis } = analysisFrom({
    source,
    tdsMgL,
    hardnessMgL: Math.min(tdsMgL, numberOf(known, 'hardnessMgL') ?? hardnessFor(source, tdsMgL)),
    temperatureC: 25,
    pH: numberOf(known, 'pH'),
    alkalinityMgL: numberOf(known, 'alkalinityMgL'),
    silicaMgL: numberOf(known, 'silicaMgL'),
    nitrateMgL: numberOf(known, 'nitrateMgL'),
  });
  const factor = tdsFromConductivity(waterState(analysis).composition, atUSCm) / atUSCm;
  // three figures: what is written down beside the reading is what it was turned by
  return Number(factor.toPrecision(3));
}

/** What of a water's make-up the factor is worked out from, beside its source. */
const MAKE_UP = ['hardnessMgL', 'alkalinityMgL', 'pH', 'silicaMgL', 'nitrateMgL'] as const;

/** Where a house's factor comes from, in words: it moves as its readings come in, and says by which. */
export function tdsFactorFrom(known: Known): string {
  const read = MAKE_UP.filter((k) => numberOf(known, k) !== undefined).map((k) => inSentence(GAUGE_FIELDS[k].label));
  return read.length > 0
    ? `by this water’s make-up (${read.join(', ')} as read)`
    : 'as usual for such a source: it moves once hardness and the rest are read';
}
