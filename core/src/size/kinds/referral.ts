import { isPrivate } from '../../gauge/doubts.ts';
import { choiceWords, GAUGE_FIELDS, type Known } from '../../gauge/fields.ts';
import type { Site } from '../../gauge/site.ts';
import { formatNumber } from '../../quantity/format.ts';
import { partsOf, type Catalogue } from '../../parts/catalogue.ts';
import { IRON_BORNE_MGL, wantsLamp } from './candidates.ts';

/** Beyond these the water is treated before anything here is of use; common limits of feed water for thin-film elements. */
const LIMITS = { manganeseMgL: 0.05, turbidityNTU: 5 } as const;

/** Sources, waters and readings that are referred or put right first, never sized. */
export function referralReasons(site: Site, catalogue: Catalogue): string[] {
  const out: string[] = [];
  if (isPrivate(site.source) && site.laboratory === 'none')
    out.push('Private water with no laboratory report: nobody knows what is in it.');
  if (wantsLamp(site) && partsOf(catalogue, 'lamp').length === 0)
    out.push(
      'The laboratory report found microbes in this water, and the shelf has no lamp. Disinfection comes first.',
    );

  if (site.todayC > 38)
    out.push(
      `Feed at ${formatNumber(site.todayC)} °C: above the 38 °C a membrane and its housings bear. Find the cold line.`,
    );
  const iron = Math.max(IRON_BORNE_MGL, ...partsOf(catalogue, 'iron').map((p) => p.maxIronMgL));
  if (site.ironMgL > iron)
    out.push(
      `Iron ${formatNumber(site.ironMgL, 2)} mg/L: above ${formatNumber(IRON_BORNE_MGL, 2)} it fouls the membrane, and above ${formatNumber(iron, 2)} no cartridge on the shelf holds it. Treat the iron for the whole house first.`,
    );
  if (site.manganeseMgL > LIMITS.manganeseMgL)
    out.push(
      `Manganese ${formatNumber(site.manganeseMgL, 2)} mg/L: above ${String(LIMITS.manganeseMgL)} it fouls the membrane and stains. It is oxidised and filtered out for the whole house first.`,
    );
  if (site.smell === 'yes')
    out.push(
      'Hydrogen sulphide in the cold water: it passes the membrane and turns to sulphur on it. It is taken out (air, oxidising filter) first.',
    );
  if (site.turbidityNTU > LIMITS.turbidityNTU)
    out.push(
      `Turbidity ${formatNumber(site.turbidityNTU, 2)} NTU: above ${String(LIMITS.turbidityNTU)} a sediment cartridge is full within weeks and silt reaches the membrane. Settle or filter it first (a silt index tells how well).`,
    );
  const most = Math.max(0, ...partsOf(catalogue, 'element').map((e) => e.maxTdsMgL));
  if (site.tdsMgL > most)
    out.push(
      `TDS ${formatNumber(site.tdsMgL, 4)} mg/L: beyond the ${formatNumber(most, 4)} mg/L of any domestic element on the shelf.`,
    );
  return out;
}

/** Figures a laboratory is asked for before a water is sized, by where it comes from and what the household fears. */
export function wantedFigures(site: Pick<Site, 'source' | 'worries'>): string[] {
  const always = [
    'hardness, alkalinity (acid capacity to pH 4.3), pH, conductivity or TDS, silica',
    'iron, manganese, turbidity',
  ];
  const ofPrivate = [
    'E. coli, enterococci, coliforms and the colony counts at 22 and 36 °C, from a bottle the laboratory gives',
    'nitrate, nitrite, ammonium',
    'arsenic, lead, fluoride, uranium; pesticides and solvents as the district’s office names them',
  ];
  const feared = site.worries
    .filter((w) => w !== 'microbes')
    .map((w) => `${choiceWords(GAUGE_FIELDS.worry, w)}, which they fear`);
  return [...(isPrivate(site.source) ? ofPrivate : []), ...always, ...feared];
}

/** A referred house as it would be once its report is clean or what refers it was put right; with what is taken for granted. */
export function asCleared(
  site: Site,
  known: Known,
  catalogue: Catalogue,
): { readonly known: Known; readonly if: readonly string[] } {
  const granted: [boolean, Known, string][] = [
    [isPrivate(site.source) && site.laboratory === 'none', { laboratory: 'clean' }, 'the report finds no microbes and nothing above its limit'],
    [wantsLamp(site) && partsOf(catalogue, 'lamp').length === 0, { laboratory: 'clean' }, 'it is disinfected for the whole house'],
    [site.ironMgL > IRON_BORNE_MGL, { ironMgL: 0.1 }, 'the iron is taken out for the whole house'],
    [site.manganeseMgL > LIMITS.manganeseMgL, { manganeseMgL: 0.02 }, 'so is the manganese'],
    [site.smell === 'yes', { smell: 'no' }, 'the hydrogen sulphide is taken out'],
    [site.turbidityNTU > LIMITS.turbidityNTU, { turbidityNTU: 0.5 }, 'it is settled or filtered clear'],
  ]; // oxfmt-ignore
  const put = granted.filter(([when]) => when);
  return {
    known: put.reduce<Known>((k, [, change]) => ({ ...k, ...change }), known),
    if: put.map(([, , words]) => words),
  };
}
