import { analysisFrom, waterState } from '../water/analysis.ts';
import { tdsFromConductivity } from '../water/conductivity.ts';
import { hardnessFor } from './site.ts';
import { choiceOf, numberOf, type Known } from './fields.ts';

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
