import * as z from 'zod';
import { waterState } from '../water/analysis.ts';
import { assumedFigureWords, waterDoubtWords } from '../words/water.ts';
import { calculator } from './calculator.ts';
import { alkalinityMgLAsCaCO3, amountsOf, ionsMgL, pH, tdsMgL, temperatureC } from './schemas.ts';

/** An analysis worked out: balance, carbonate system, saturation, conductivity, osmotic pressure. */
export const water = calculator(
  'water',
  'an analysis worked out: balance, hardness, osmotic pressure, conductivity, CO2, saturation',
  z.strictObject({ temperatureC, pH, alkalinityMgLAsCaCO3, ionsMgL, tdsMgL: tdsMgL.optional() }),
  (i) => {
    const s = waterState({
      temperatureC: i.temperatureC,
      pH: i.pH,
      alkalinityMgL: i.alkalinityMgLAsCaCO3,
      ionsMgL: amountsOf(i.ionsMgL),
      tdsMgL: i.tdsMgL,
    });
    return {
      tdsMgL: s.tdsMgL,
      hardnessMgLAsCaCO3: s.hardnessMgL,
      osmoticPressureBar: s.osmoticPressureBar,
      ionicStrengthMolL: s.composition.ionicStrengthMolL,
      conductivityUSCm: s.conductivityUSCm,
      co2MgL: s.co2MgL,
      langelierIndex: s.langelierIndex,
      calciteSaturationIndex: s.calciteSaturationIndex,
      imbalancePercent: s.imbalancePercent,
      assumed: s.assumed.map((a) => ({ ...a, why: assumedFigureWords(a) })),
      doubts: s.doubts.map((d) => ({ code: d.code, text: waterDoubtWords(d) })),
    };
  },
);
