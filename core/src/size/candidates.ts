import type { Site } from '../gauge/site.ts';
import type { Design } from '../line/design.ts';
import { partsOf, type Catalogue, type PartKind } from '../shelf/parts.ts';
import type { HouseRules } from '../shelf/rules.ts';

/** A choice the house and the rules make, with its reason for the record. */
export interface Settled {
  readonly design: Omit<Design, 'elementId' | 'restrictorId' | 'tankId' | 'pumpId'>;
  readonly reasons: readonly string[];
}

/** The least of a kind by a figure, then by id, so that the catalogue's order does not matter. */
function least<T extends { id: string }>(parts: readonly T[], by: (p: T) => number): T | undefined {
  return [...parts].sort((a, b) => by(a) - by(b) || a.id.localeCompare(b.id))[0];
}

function needed<T>(part: T | undefined, kind: PartKind): T {
  if (part === undefined) throw new RangeError(`the catalogue has no ${kind}`);
  return part;
}

/** Pressure the weakest part of the feed side bears, bar. */
export function weakestPart(catalogue: Catalogue): { name: string; maxPressureBar: number } {
  const kinds = new Set<PartKind>(['housing', 'element', 'sediment', 'carbon', 'shut-off', 'gauge']);
  return needed(
    least(
      catalogue.filter((p) => kinds.has(p.kind)),
      (p) => p.maxPressureBar,
    ),
    'housing',
  );
}

/** What does not need a search: limiting valve, carbon, minerals, tap, feed, fridge. */
export function settle(catalogue: Catalogue, site: Site, rules: HouseRules): Settled {
  const reasons: string[] = [];
  const weakest = weakestPart(catalogue);
  const lineBar = Math.min(rules.limiterAboveBar, weakest.maxPressureBar);
  const limiters = partsOf(catalogue, 'limiter');
  const limiter =
    site.highestBar > lineBar
      ? needed(
          least(limiters, (p) => -p.setBar),
          'limiter',
        )
      : null;
  if (limiter)
    reasons.push(
      `A ${limiter.name.toLowerCase()}: pressure reaches ${site.highestBar.toFixed(1)} bar, above the ${lineBar.toFixed(1)} bar line (weakest part ${weakest.maxPressureBar.toFixed(1)} bar).`,
    );
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
  const carbons = partsOf(catalogue, 'carbon');
  const block = needed(
    least(
      carbons.filter((p) => p.holds === (chloramine ? 'chloramine' : 'chlorine')),
      (p) => -p.barPerLMin,
    ),
    'carbon',
  );
  if (chloramine) reasons.push('Catalytic carbon twice: ordinary carbon hardly holds chloramine.');
  const taps = partsOf(catalogue, 'tap').filter((p) => p.airGap === site.airGap);
  if (site.airGap) reasons.push('A tap with air gap, as the local code demands.');
  const shut = least(partsOf(catalogue, 'shut-off'), (p) => -p.closeRatio);
  return {
    reasons,
    design: {
      limiterId: limiter?.id ?? null,
      mineralId: mineral?.id ?? null,
      sedimentId: needed(
        least(partsOf(catalogue, 'sediment'), (p) => p.barPerLMin),
        'sediment',
      ).id,
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
      feedId: needed(
        least(
          partsOf(catalogue, 'feed').filter((p) => p.way === rules.feedConnection),
          () => 0,
        ),
        'feed',
      ).id,
      drainId: needed(
        least(partsOf(catalogue, 'drain'), () => 0),
        'drain',
      ).id,
      tapId: needed(
        least(taps, (p) => p.holeMm),
        'tap',
      ).id,
      tubeId: needed(
        least(partsOf(catalogue, 'tube'), (p) => (site.tapLengthM > 5 ? -p.boreMm : p.boreMm)),
        'tube',
      ).id,
      fridge: site.fridge,
      leakValve: false,
    },
  };
}
