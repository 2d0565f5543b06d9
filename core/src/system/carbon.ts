import type { Site } from '../gauge/site.ts';
import { partOf, type Catalogue, type PartOf } from '../parts/catalogue.ts';
import type { CarbonBed, Disinfectant } from '../treatment/carbon.ts';
import type { Design } from './design.ts';

/** What the carbon has to hold at a house. Mains whose disinfectant nobody knows is taken as chlorine. */
export function agentOf(site: Pick<Site, 'disinfectant' | 'chlorineMgL'>): Disinfectant {
  if (site.disinfectant === 'chloramine') return 'chloramine';
  return site.disinfectant === 'none' || site.chlorineMgL <= 0 ? 'none' : 'chlorine';
}

/** A carbon part's bed; one whose sheet says nothing holds what a 10 inch cartridge does. */
export function bedOf(part: PartOf<'carbon'>): CarbonBed {
  return part.bed
    ? { bedVolumeL: part.bed.litres, kind: part.bed.form }
    : { bedVolumeL: 0.7, kind: part.holds === 'chloramine' ? 'catalytic' : 'block' };
}

/** All carbon stages of a design as one bed of the first one's kind. */
export function carbonOf(design: Pick<Design, 'carbonIds'>, catalogue: Catalogue): CarbonBed {
  const beds = design.carbonIds.map((id) => bedOf(partOf(catalogue, 'carbon', id)));
  return { kind: beds[0]?.kind ?? 'block', bedVolumeL: beds.reduce((s, b) => s + b.bedVolumeL, 0) };
}
