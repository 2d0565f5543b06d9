import type { Site } from '../../gauge/site.ts';
import type { Design } from '../../system/design.ts';
import { partOf, type Catalogue, type PartOf } from '../../parts/catalogue.ts';
import { metalAfter, remineralise, type MetalAfter, type Remineralised } from '../../treatment/minerals.ts';
import { productCarbonate } from '../../water/analysis.ts';
import { CACO3_PER_MEQ, SPECIES } from '../../water/species.ts';

/** The product's own chemistry, before and after a mineral bed at the tap's flow. */
export interface ProductWater {
  readonly pH: number;
  /** mg/L as CaCO3 */
  readonly alkalinityMgL: number;
  readonly after: (Remineralised & { readonly contactSeconds: number }) | null;
  /** whether metal may follow, by what comes last */
  readonly metal: MetalAfter;
}

/** Bicarbonate passes a little less than the salt as a whole, calcium a fifth of it (see membrane/passage.ts). */
const BICARBONATE = 0.9;
const CALCIUM = 0.2;

/** Water drawn at a time in the mean, L: glasses, jugs and pots. */
const MEAN_DRAW_L = 0.4;

/**
 * pH and alkalinity of the stored water, and what a mineral cartridge makes of it in the mean of what is
 * drawn: what stood in the bed comes first and near equilibrium, the rest has the time the tap's flow leaves it.
 * @param tankTdsMgL in the tank; its share of the feed stands for the salt's passage
 * @param tapFlowLMin through the bed, above 0
 */
export function productWater(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  temperatureC: number,
  tankTdsMgL: number,
  tapFlowLMin: number,
): ProductWater {
  const bed = design.mineralId === null ? undefined : partOf(catalogue, 'mineral', design.mineralId).bed;
  return throughBed(bed, site, temperatureC, tankTdsMgL, tapFlowLMin);
}

/** The same through a bed that is at hand; without one, the product as it leaves the tank. */
export function throughBed(
  bed: PartOf<'mineral'>['bed'],
  site: Site,
  temperatureC: number,
  tankTdsMgL: number,
  tapFlowLMin: number,
): ProductWater {
  const passage = Math.min(1, tankTdsMgL / site.tdsMgL);
  const system = productCarbonate(
    site.water.carbonate,
    BICARBONATE * passage,
    temperatureC,
    site.water.composition.ionicStrengthMolL * passage,
  );
  const alkalinityMgL = system.alkalinity * 1000 * CACO3_PER_MEQ;
  const plain = { pH: system.pH, alkalinityMgL, calciteSaturationIndex: null };
  if (!bed) return { ...plain, after: null, metal: metalAfter(plain) };
  const minutes = (bed.litres * bed.voidage) / Math.max(0.01, tapFlowLMin);
  const soft = {
    temperatureC,
    pH: system.pH,
    alkalinityMgL,
    calciumMgL: (site.water.composition.molL.Ca ?? 0) * SPECIES.Ca.molarMass * 1000 * CALCIUM * passage,
    tdsMgL: tankTdsMgL,
  };
  const running = remineralise(soft, { contact: { minutes, grainMm: bed.grainMm, voidage: bed.voidage } });
  const stood = Math.min(1, (bed.litres * bed.voidage) / MEAN_DRAW_L);
  const fresh = running.equilibriumMgL > 0 ? running.dissolvedMgL / running.equilibriumMgL : 0;
  const after = remineralise(soft, { approach: stood + (1 - stood) * fresh });
  return { pH: system.pH, alkalinityMgL, after: { ...after, contactSeconds: 60 * minutes }, metal: metalAfter(after) };
}
