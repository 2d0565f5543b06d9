import { isPrivate, type Doubt } from '../../gauge/doubts.ts';
import type { Assumed, Site } from '../../gauge/site.ts';
import { formatNumber } from '../../quantity/format.ts';
import { RAW_TRANSMITTANCE } from '../../treatment/lamp.ts';
import { wantsLamp, type Assembly, type SizeInput } from './candidates.ts';
import { againstLamp, carbonAtTap, lampAtTap } from './filters.ts';

/** What they want is answered without reverse osmosis, or needs nothing at all. */
export interface OtherWay {
  readonly kind: 'other-way';
  readonly sentence: string;
  readonly reasons: readonly string[];
  /** what to do instead, and what it does not do */
  readonly instead: readonly string[];
  readonly assumed: readonly Assumed[];
  /** what may be put in instead; null where nothing on the shelf does, or nothing is needed */
  readonly system: Assembly | null;
  readonly safety: readonly Doubt[];
}

/** Nitrate above which it is itself a reason, mg/L as NO3 (WHO guideline value). */
export const NITRATE_GUIDELINE_MGL = 50;
/** Dissolved salt that most people taste, mg/L (WHO: palatable below about 600, not above 1000). */
const TASTED_TDS_MGL = 1000;
/** Reasons for reverse osmosis that stand whatever they asked for. */
function reasonsForIt(site: Site): string[] {
  const notByCarbon = site.worries.filter((w) => ['lead', 'arsenic', 'nitrate', 'fluoride'].includes(w));
  return [
    ...(site.nitrateMgL > NITRATE_GUIDELINE_MGL
      ? [`nitrate at ${formatNumber(site.nitrateMgL, 2)} mg/L is above the guideline of 50`]
      : []),
    ...(site.tdsMgL > TASTED_TDS_MGL ? [`at ${formatNumber(site.tdsMgL, 3)} mg/L most people taste the salt`] : []),
    ...(notByCarbon.length > 0
      ? [`they worry about ${notByCarbon.join(' and ')}, which carbon does not surely hold`]
      : []),
  ];
}

/**
 * Whether what they want is answered better by something else: taste and chlorine by carbon, microbes by disinfection.
 * @param assumed what was taken where nobody read; @param safety cautions that stand before an approval
 * @returns null where reverse osmosis is what they want, or where a reading speaks for it whatever they asked
 */
export function otherWay(
  site: Site,
  input: SizeInput,
  assumed: readonly Assumed[] = [],
  safety: readonly Doubt[] = [],
): OtherWay | null {
  if (site.aim === 'dissolved' || reasonsForIt(site).length > 0) return null;
  // carbon holds no microbes back: where they were found it is not put in alone
  const told = site.aim === 'taste' && !wantsLamp(site) ? carbonAlone(site, input) : disinfectionAlone(site, input);
  return { kind: 'other-way', ...told, assumed, safety };
}

type Told = Omit<OtherWay, 'kind' | 'assumed' | 'safety'>;

function carbonAlone(site: Site, input: SizeInput): Told {
  const n = formatNumber;
  const system = carbonAtTap(site, input);
  return {
    sentence: 'No reverse osmosis needed: carbon alone answers the taste and smell of chlorine.',
    reasons: [
      `They want only the taste or smell gone, and nothing read speaks for more: ${n(site.tdsMgL, 3)} mg/L dissolved, hardness ${n(site.hardnessMgL, 3)} mg/L.`,
      'Carbon needs no drain, no tank and no electricity, wastes nothing, and leaves the minerals in.',
    ],
    instead: [
      ...(system ? [system.sentence, ...system.reasons] : ['The shelf has no carbon that does here.']),
      'It is no protection from microbes. If they want these, or what is dissolved, gone too, set "What they want of it" in Gauge, and a system is sized.',
    ],
    system,
  };
}

function disinfectionAlone(site: Site, input: SizeInput): Told {
  if (!isPrivate(site.source))
    return {
      sentence: 'None needed: mains water is disinfected by the waterworks.',
      reasons: [
        'The waterworks disinfects and watches it. A notice to boil is followed as it says; a worry is answered by a laboratory sample at this tap.',
      ],
      instead: ['Let the tap run before drinking, clean its strainer, and ask the waterworks for its last report.'],
      system: null,
    };
  const system = wantsLamp(site) ? lampAtTap(site, input) : null;
  return {
    sentence:
      site.aim === 'taste'
        ? 'Disinfection first: the report found microbes, and carbon alone holds none of them back.'
        : 'No reverse osmosis needed: against microbes alone it is disinfection that is wanted.',
    reasons: [
      'A membrane is no sure barrier: a seal, a tank or the tap behind it lets microbes by. A lamp or chlorination for the whole house is made for it.',
    ],
    instead: [
      `Have the raw water sampled (microbiology, iron, manganese, hardness, turbidity, transmittance): a lamp wants it clear, soft and free of iron, at least ${String(RAW_TRANSMITTANCE)} % of the light let through.`,
      'Disinfection for the whole house by whoever is licensed for it, and a sample after it before anybody drinks.',
      ...lampWords(site, system),
    ],
    system,
  };
}

/** What is said of a lamp at the drinking tap alone. */
function lampWords(site: Site, system: Assembly | null): string[] {
  if (system) return ['For this tap alone, meanwhile or instead:', system.sentence, ...system.reasons];
  if (!wantsLamp(site)) return ['The report found it clean: nothing is put in for it now.'];
  const against = againstLamp(site);
  return [
    against.length > 0
      ? `No lamp at this tap as the water is: ${against.join('; ')}. That is put right first.`
      : 'No lamp on the shelf is strong enough at this tap.',
  ];
}
