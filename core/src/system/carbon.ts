import type { Site } from '../gauge/site.ts';
import { partOf, type Catalogue, type PartOf } from '../parts/catalogue.ts';
import { carbonWork, type CarbonBed, type Disinfectant } from '../treatment/carbon.ts';
import type { Design } from './design.ts';
import type { System } from './system.ts';

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

/** All carbon stages of a system as one bed of the first one's kind; of no volume where it has none. */
export function bedIn(system: System): CarbonBed {
  const beds = system.components.flatMap((c) => (c.part?.kind === 'carbon' ? [bedOf(c.part)] : []));
  return { kind: beds[0]?.kind ?? 'block', bedVolumeL: beds.reduce((s, b) => s + b.bedVolumeL, 0) };
}

/** Most the tap may give for the carbon to have its time, L/min; Infinity where nothing has to be held. */
export function throttleLMin(system: System, site: Site): number {
  const bed = bedIn(system);
  const { wantedSeconds } = carbonWork(bed, 1, agentOf(site), site.chlorineMgL, site.litresADay);
  return wantedSeconds > 0 && bed.bedVolumeL > 0 ? (60 * bed.bedVolumeL) / wantedSeconds : Infinity;
}

/** All carbon stages of a design as one bed of the first one's kind. */
export function carbonOf(design: Pick<Design, 'carbonIds'>, catalogue: Catalogue): CarbonBed {
  const beds = design.carbonIds.map((id) => bedOf(partOf(catalogue, 'carbon', id)));
  return { kind: beds[0]?.kind ?? 'block', bedVolumeL: beds.reduce((s, b) => s + b.bedVolumeL, 0) };
}
