import { isPrivate } from '../../gauge/doubts.ts';
import type { FieldKey, Known } from '../../gauge/fields.ts';
import type { Placed } from '../../gauge/place.ts';
import type { Site } from '../../gauge/site.ts';
import { bedOf } from '../../system/carbon.ts';
import type { Choice } from '../../system/build.ts';
import type { Design } from '../../system/design.ts';
import { ofWork, partIn, type System } from '../../system/system.ts';
import { partsOf, type Catalogue, type Part, type PartKind, type PartOf } from '../../parts/catalogue.ts';
import { formatNumber } from '../../quantity/format.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { WANTED_CONTACT_S } from '../../treatment/carbon.ts';
import { lampWork, UV_DOSE } from '../../treatment/lamp.ts';

/** Everything a decision is made from. */
export interface SizeInput {
  readonly known: Known;
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
  /** what stands in the cupboard already, and where */
  readonly placed?: Placed | undefined;
  /** half-widths of readings whose instrument says how far it may be off, base units */
  readonly errors?: Partial<Record<FieldKey, number>> | undefined;
  /** what is approved already: it is kept unless another beats it by more than the band of indifference */
  readonly standing?: StandingDesign | null | undefined;
}

/** A system put together without a search: what goes in, what it is, and why. */
export interface Assembly {
  readonly choice: Choice;
  readonly sentence: string;
  readonly reasons: readonly string[];
  /** water, cartridges and lamp of a year, the firm's money */
  readonly costYear: number;
}

/** What the search chooses; all else the house and the rules settle. */
export type SearchedKey =
  | 'elementId'
  | 'elementCount'
  | 'restrictorId'
  | 'tankId'
  | 'pumpId'
  | 'permeatePumpId'
  | 'deliveryPumpId';

/** What a search would have chosen, as it stands in an approved system. */
export type StandingDesign = Pick<Design, SearchedKey>;

/** What of a system a search chooses; null where that is not what a search puts together. */
export function standingIn(system: System): StandingDesign | null {
  const element = partIn(system, 'element');
  const restrictor = partIn(system, 'restrictor');
  if (!element || !restrictor || partIn(system, 'vented-tank')) return null;
  return {
    elementId: element.id,
    elementCount: ofWork(system, 'separates').length,
    restrictorId: restrictor.id,
    tankId: partIn(system, 'tank')?.id ?? null,
    pumpId: partIn(system, 'pump')?.id ?? null,
    permeatePumpId: partIn(system, 'permeate-pump')?.id ?? null,
    deliveryPumpId: partIn(system, 'delivery-pump')?.id ?? null,
  };
}

/** Whether a design is what stands. */
export const isStanding = (d: Design, s: StandingDesign): boolean =>
  (Object.keys(s) as SearchedKey[]).every((k) => d[k] === s[k]);

/** Whether a house wants a lamp: private water whose report is not clean. Without any report it is referred. */
export function wantsLamp(site: Pick<Site, 'source' | 'laboratory'>): boolean {
  return isPrivate(site.source) && site.laboratory === 'unsafe';
}

/** Iron a membrane bears without treatment, mg/L. */
export const IRON_BORNE_MGL = 0.3;

/** A choice the house and the rules make, with its reason for the record. */
export interface Settled {
  readonly design: Omit<Design, SearchedKey>;
  readonly reasons: readonly string[];
}

/** The least of a kind by a figure, then by id, so that the catalogue's order does not matter. */
function least<T extends { id: string }>(parts: readonly T[], by: (p: T) => number): T | undefined {
  return [...parts].sort((a, b) => by(a) - by(b) || a.id.localeCompare(b.id))[0];
}

/** What a part may be made for alone: a tank's slow refill, or a tap that is fed as it is drawn. */
export type Use = 'tank' | 'open-tap';

/** Parts for a use: those made for it alone where there are any, else those made for neither. */
function madeFor<T extends { readonly madeFor?: Use | undefined }>(parts: readonly T[], use: Use): T[] {
  const own = parts.filter((p) => p.madeFor === use);
  return own.length > 0 ? own : parts.filter((p) => p.madeFor === undefined);
}

function needed<T>(part: T | undefined, kind: PartKind): T {
  if (part === undefined) throw new RangeError(`the catalogue has no ${kind}`);
  return part;
}

const weakest = new WeakMap<Catalogue, { name: string; maxPressureBar: number }>();

/** Pressure the weakest part of the feed side bears, bar. */
export function weakestPart(catalogue: Catalogue): { name: string; maxPressureBar: number } {
  const kinds = ['housing', 'element', 'sediment', 'iron', 'carbon', 'shut-off', 'gauge'] as const;
  const found =
    weakest.get(catalogue) ??
    needed(
      least<Part>(
        kinds.flatMap((k): readonly Part[] => partsOf(catalogue, k)),
        (p) => p.maxPressureBar,
      ),
      'housing',
    );
  weakest.set(catalogue, found);
  return found;
}

/** The smallest lamp that gives its dose at a tap's first rush from a full tank; where none does, the strongest. */
export function lampFor(catalogue: Catalogue): PartOf<'lamp'> | undefined {
  const rush = 4;
  const dose = (p: PartOf<'lamp'>): number => lampWork(p.lamp, rush, PRODUCT_TRANSMITTANCE, p.lamp.lifeHours).doseMJcm2;
  const lamps = partsOf(catalogue, 'lamp');
  return (
    least(
      lamps.filter((p) => dose(p) >= UV_DOSE.classA),
      dose,
    ) ?? least(lamps, (p) => -dose(p))
  );
}

/** Transmittance of 1 cm of a membrane's product at 254 nm, percent: clear water of hardly any colour. */
export const PRODUCT_TRANSMITTANCE = 95;

/** The least iron cartridge that holds what this water brings; undefined where it brings none to speak of, or none holds it. */
export function ironFor(catalogue: Catalogue, site: Pick<Site, 'ironMgL'>): PartOf<'iron'> | undefined {
  if (site.ironMgL <= IRON_BORNE_MGL) return undefined;
  return least(
    partsOf(catalogue, 'iron').filter((p) => p.maxIronMgL >= site.ironMgL),
    (p) => p.maxIronMgL,
  );
}

/** The dispenser that asks for the least pressure, where they want one. */
export function dispenserFor(catalogue: Catalogue, site: Pick<Site, 'dispenser'>): PartOf<'dispenser'> | undefined {
  return site.dispenser ? least(partsOf(catalogue, 'dispenser'), (p) => p.minInletBar) : undefined;
}

/** The tap with the smallest hole, with an air gap for the concentrate or without. @throws RangeError for none */
export function tapFor(catalogue: Catalogue, airGap: boolean): PartOf<'tap'> {
  const taps = partsOf(catalogue, 'tap').filter((p) => p.airGap === airGap);
  return needed(
    least(taps, (p) => p.holeMm),
    'tap',
  );
}

/**
 * What takes the concentrate the way the house has it, with a port for the tube that leads there: behind a tap with an air
 * gap that is the widest. A clamp where the shelf has nothing for that way. @throws RangeError for none
 */
export function drainFor(catalogue: Catalogue, site: Pick<Site, 'drainWay' | 'airGap'>): PartOf<'drain'> {
  const of = (way: string): PartOf<'drain'>[] => partsOf(catalogue, 'drain').filter((p) => (p.way ?? 'clamp') === way);
  const own = of(site.drainWay);
  const portMm = (p: PartOf<'drain'>): number => Number.parseFloat(p.ports[0]?.size ?? '0');
  return needed(
    least(own.length > 0 ? own : of('clamp'), (p) => (site.airGap ? -portMm(p) : portMm(p))),
    'drain',
  );
}

/** What every system of a house has, whatever it is for: how it is fed, kept from too much pressure, and drawn from. */
export interface EntryAndTap {
  readonly limiter: PartOf<'limiter'> | null;
  readonly sediment: PartOf<'sediment'>;
  readonly feed: PartOf<'feed'>;
  readonly backflow: PartOf<'backflow'> | null;
  readonly tap: PartOf<'tap'>;
  readonly tube: PartOf<'tube'>;
  readonly reasons: readonly string[];
}

/**
 * Feed, limiting valve, sediment cartridge, tap and tube as the house and the rules ask.
 * @param site highest pressure in bar, tap's tube in m; @param highestKnown false where that pressure is a guess
 * @throws RangeError where the catalogue lacks one of them
 */
export function entryAndTap(
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  highestKnown = true,
  use: Use = 'tank',
): EntryAndTap {
  const weak = weakestPart(catalogue);
  const lineBar = Math.min(rules.limiterAboveBar, weak.maxPressureBar);
  // a guess does not put a valve in: it asks for the reading
  const sureBar = highestKnown ? site.highestBar : site.staticBar;
  const limiter =
    sureBar > lineBar
      ? needed(
          least(partsOf(catalogue, 'limiter'), (p) => -p.setBar),
          'limiter',
        )
      : null;
  const pick = <T extends Part>(parts: readonly T[], by: (p: T) => number, kind: PartKind): T =>
    needed(least(parts, by), kind);
  return {
    limiter,
    sediment: pick(madeFor(partsOf(catalogue, 'sediment'), use), (p) => p.barPerLMin, 'sediment'),
    feed: pick(
      partsOf(catalogue, 'feed').filter((p) => p.way === rules.feedConnection),
      () => 0,
      'feed',
    ),
    backflow: (rules.backflow ? least(partsOf(catalogue, 'backflow'), (p) => p.barLoss) : undefined) ?? null,
    tap: tapFor(catalogue, site.airGap),
    tube: pick(partsOf(catalogue, 'tube'), (p) => (site.tapLengthM > 5 ? -p.boreMm : p.boreMm), 'tube'),
    reasons: [
      ...(rules.backflow && partsOf(catalogue, 'backflow').length === 0
        ? ['The house rule asks for a valve against backflow on the feed, and the shelf has none: put one on it.']
        : []),
      ...limiterReasons(limiter, site, sureBar, lineBar, weak.maxPressureBar),
    ],
  };
}

/** Why a limiting valve goes in, or would if the night’s pressure were known to be what it is taken for. */
function limiterReasons(
  limiter: PartOf<'limiter'> | null,
  site: Site,
  sureBar: number,
  lineBar: number,
  weakestBar: number,
): string[] {
  return limiter
    ? [
        `A ${limiter.name.toLowerCase()}: pressure reaches ${sureBar.toFixed(1)} bar, above the ${lineBar.toFixed(1)} bar line (weakest part ${weakestBar.toFixed(1)} bar).`,
      ]
    : site.highestBar > lineBar
      ? [
          `The night’s pressure was not read: taken as ${site.highestBar.toFixed(1)} bar it would be above the ${lineBar.toFixed(1)} bar line, and a limiting valve would go in. Leave a gauge with a drag hand on overnight before it is fitted.`,
        ]
      : [];
}

/** What does not need a search: limiting valve, iron cartridge, carbon, minerals, lamp, tap, feed, fridge. */
export function settle(
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  highestKnown = true,
  use: Use = 'tank',
): Settled {
  const {
    limiter,
    sediment,
    feed,
    backflow,
    tap,
    tube,
    reasons: entry,
  } = entryAndTap(catalogue, site, rules, highestKnown, use);
  const reasons: string[] = [...entry];
  const metal = site.metalAfter === 'copper' || site.metalAfter === 'brass' || site.metalAfter === 'unknown';
  const minerals = partsOf(catalogue, 'mineral');
  const mineral =
    metal || site.mineralsWanted
      ? needed(
          least(minerals, (p) => (metal ? -(p.life?.litres ?? 0) : (p.life?.litres ?? 0))),
          'mineral',
        )
      : null;
  if (metal)
    reasons.push(
      `Remineralisation: ${site.metalAfter === 'unknown' ? 'metal after the system is not ruled out' : `${site.metalAfter} follows`}, and water without buffer attacks it. A cartridge eases the attack, it does not end it: plastic tube is the sure way, and lead or brass taps are replaced.`,
    );
  else if (mineral) reasons.push('Remineralisation for the taste, as the household asked.');
  const chloramine = site.disinfectant === 'chloramine';
  const agent = chloramine ? 'chloramine' : 'chlorine';
  // the carbon that needs the least contact for what it must hold, and of those the larger bed
  const block = needed(
    least(
      madeFor(
        partsOf(catalogue, 'carbon').filter((p) => p.holds === agent),
        use,
      ),
      (p) => WANTED_CONTACT_S[agent][bedOf(p).kind] - bedOf(p).bedVolumeL,
    ),
    'carbon',
  );
  if (chloramine) reasons.push('Catalytic carbon twice: ordinary carbon hardly holds chloramine.');
  const iron = ironFor(catalogue, site);
  if (iron)
    reasons.push(
      `${iron.name} before the carbon: ${formatNumber(site.ironMgL, 2)} mg/L of iron would foul the membrane. It holds about ${formatNumber(iron.holdsIronMg / site.ironMgL, 2)} L of this water.`,
    );
  const lamp = wantsLamp(site) ? lampFor(catalogue) : undefined;
  if (lamp)
    reasons.push(
      'An ultraviolet lamp last before the tap: the report found microbes. It wants power and clear, soft water, so it comes after the membrane. Nobody drinks while it is off, and product water goes to a laboratory before anybody drinks at all.',
    );
  if (site.airGap) reasons.push('A tap with air gap, as the local code demands.');
  const dispenser = dispenserFor(catalogue, site);
  if (site.dispenser && !dispenser) reasons.push('They want a dispenser that heats or cools, and the shelf has none.');
  const shut = least(partsOf(catalogue, 'shut-off'), (p) => -p.closeRatio);
  return {
    reasons,
    design: {
      limiterId: limiter?.id ?? null,
      mineralId: mineral?.id ?? null,
      lampId: lamp?.id ?? null,
      ironId: iron?.id ?? null,
      dispenserId: dispenser?.id ?? null,
      sedimentId: sediment.id,
      carbonIds: [block.id, block.id],
      polishId: needed(
        least(partsOf(catalogue, 'polish'), (p) => p.barPerLMin),
        'polish',
      ).id,
      shutOffId: needed(shut, 'shut-off').id,
      nonReturnId: needed(
        least(partsOf(catalogue, 'non-return'), (p) => p.barLoss),
        'non-return',
      ).id,
      feedId: feed.id,
      drainId: drainFor(catalogue, site).id,
      backflowId: backflow?.id ?? null,
      tapId: tap.id,
      tubeId: tube.id,
      fridge: site.fridge,
      leakValve: false,
    },
  };
}
