import { isPrivate } from '../../gauge/doubts.ts';
import type { Assumed, Site } from '../../gauge/site.ts';
import { agentOf, bedOf } from '../../system/carbon.ts';
import { formatNumber } from '../../quantity/format.ts';
import { partsOf, type PartOf } from '../../parts/catalogue.ts';
import { carbonWork } from '../../treatment/carbon.ts';
import type { SizeInput } from './candidates.ts';

/** What they want is answered without reverse osmosis, or needs nothing at all. */
export interface OtherWay {
  readonly kind: 'other-way';
  readonly sentence: string;
  readonly reasons: readonly string[];
  /** what to do instead, and what it does not do */
  readonly instead: readonly string[];
  readonly assumed: readonly Assumed[];
}

/** Nitrate above which it is itself a reason, mg/L as NO3 (WHO guideline value). */
export const NITRATE_GUIDELINE_MGL = 50;
/** Dissolved salt that most people taste, mg/L (WHO: palatable below about 600, not above 1000). */
const TASTED_TDS_MGL = 1000;
/** Flow of an ordinary filter tap, L/min. */
const FILTER_TAP_LMIN = 2;

/** Reasons for reverse osmosis that stand whatever they asked for. */
function reasonsForIt(site: Site): string[] {
  return [
    ...(site.nitrateMgL > NITRATE_GUIDELINE_MGL
      ? [`nitrate at ${formatNumber(site.nitrateMgL, 2)} mg/L is above the guideline of 50`]
      : []),
    ...(site.tdsMgL > TASTED_TDS_MGL ? [`at ${formatNumber(site.tdsMgL, 3)} mg/L most people taste the salt`] : []),
    ...(['lead', 'arsenic', 'nitrate', 'fluoride'].includes(site.worry)
      ? [`they worry about ${site.worry}, which carbon does not surely hold`]
      : []),
  ];
}

/**
 * Whether what they want is answered better by something else: taste and chlorine by carbon, microbes by disinfection.
 * @returns null where reverse osmosis is what they want, or where a reading speaks for it whatever they asked
 */
export function otherWay(site: Site, input: SizeInput): OtherWay | null {
  if (site.aim === 'dissolved' || reasonsForIt(site).length > 0) return null;
  return site.aim === 'taste' ? carbonAlone(site, input) : disinfectionAlone(site);
}

/** The carbon that holds longest at an ordinary tap, of those with time enough. */
function carbonAlone(site: Site, { catalogue, rules }: SizeInput): OtherWay {
  const n = formatNumber;
  const agent = agentOf(site);
  const work = (p: PartOf<'carbon'>) => carbonWork(bedOf(p), FILTER_TAP_LMIN, agent, site.chlorineMgL, site.litresADay);
  const beds = partsOf(catalogue, 'carbon')
    .map((part) => ({ part, work: work(part) }))
    .sort(
      (a, b) =>
        Number(b.work.enough) - Number(a.work.enough) ||
        b.work.contactSeconds / Math.max(1, b.work.wantedSeconds) -
          a.work.contactSeconds / Math.max(1, a.work.wantedSeconds) ||
        a.part.id.localeCompare(b.part.id),
    );
  const best = beds[0];
  const months = Math.min(best?.part.life?.months ?? 12, best?.work.monthsLife ?? Infinity);
  const slower = best && !best.work.enough ? (60 * bedOf(best.part).bedVolumeL) / best.work.wantedSeconds : null;
  return {
    kind: 'other-way',
    sentence: 'No reverse osmosis needed: carbon alone answers the taste and smell of chlorine.',
    reasons: [
      `They want only the taste or smell gone, and nothing read speaks for more: ${n(site.tdsMgL, 3)} mg/L dissolved, hardness ${n(site.hardnessMgL, 3)} mg/L.`,
      'Carbon needs no drain, no tank and no electricity, wastes nothing, and leaves the minerals in.',
    ],
    instead: [
      ...(best
        ? [
            `${best.part.name} in one housing at its own tap: at ${n(FILTER_TAP_LMIN, 2)} L/min the water has ${n(best.work.contactSeconds, 2)} s in it, and ${agent === 'none' ? 'there is no disinfectant to hold' : `${agent} wants ${n(best.work.wantedSeconds, 2)}`}.${slower === null ? '' : ` Too brief: throttle the tap to ${n(slower, 2)} L/min, or two in a row.`}`,
            `Changed every ${n(months, 2)} months${best.part.price === undefined ? '' : `, ${n((best.part.price * 12) / months, 2)} ${rules.currency} a year`}.`,
          ]
        : ['The shelf has no carbon.']),
      'It does not take out salt, hardness, nitrate or fluoride, and it is no protection from microbes.',
      'If they want these too, set "What they want of it" in Gauge, and a system is sized.',
    ],
    assumed: [],
  };
}

function disinfectionAlone(site: Site): OtherWay {
  const own = isPrivate(site.source);
  return {
    kind: 'other-way',
    sentence: own
      ? 'No reverse osmosis needed: against microbes alone it is disinfection that is wanted.'
      : 'None needed: mains water is disinfected by the waterworks.',
    reasons: own
      ? [
          'A membrane is no sure barrier: a seal, a tank or the tap behind it lets microbes by. A lamp or chlorination for the whole house is made for it.',
        ]
      : [
          'The waterworks disinfects and watches it. A notice to boil is followed as it says; a worry is answered by a laboratory sample at this tap.',
        ],
    instead: own
      ? [
          'Have the raw water sampled (microbiology, iron, manganese, hardness, turbidity, transmittance): a lamp wants it clear, soft and free of iron.',
          'Then disinfection for the whole house by whoever is licensed for it, and a sample after it before anybody drinks.',
        ]
      : ['Let the tap run before drinking, clean its strainer, and ask the waterworks for its last report.'],
    assumed: [],
  };
}
