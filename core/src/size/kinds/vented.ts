import type { Site } from '../../gauge/site.ts';
import { changesCostYear, usedUpIn } from '../../system/wear.ts';
import { partsOf } from '../../parts/catalogue.ts';
import { formatMinutes, formatNumber } from '../../quantity/format.ts';
import { buildSystem, type Choice } from '../../system/build.ts';
import { choiceOf, type Design } from '../../system/design.ts';
import { systemInHouse } from '../../system/inHouse.ts';
import { operate } from '../../run/operate.ts';
import { highestRecovery } from '../judge/failures.ts';
import type { Assembly, SizeInput } from './candidates.ts';

/** Kinds that a vented tank takes the place of, or that have nothing left to do beside one. */
const IN_ITS_PLACE: ReadonlySet<string> = new Set(['tank', 'permeate-pump', 'delivery-pump']);

/**
 * A design with a vented tank and its pump in the place of its store, sized simply: what it fills with, how fast, what its
 * tap gives in the worst season. Room, year and flips are not judged.
 * @returns null where it would not do, or the shelf or the house lacks what it takes
 */
export function ventedInstead(design: Design, site: Site, input: SizeInput): Assembly | null {
  const { catalogue, rules } = input;
  const [pump] = partsOf(catalogue, 'delivery-pump');
  if (!pump || site.socket === 'no' || site.storeWish === 'none') return null;
  const base = choiceOf(design, catalogue);
  const needL = site.litresADay * rules.spareCapacity;
  const tried = partsOf(catalogue, 'vented-tank').flatMap((tank) => {
    const picks = base.picks.filter((p) => !IN_ITS_PLACE.has(p.kind));
    const choice: Choice = { ...base, picks: [...picks, { kind: 'vented-tank', part: tank }, { kind: 'tank-pump', part: pump }] };
    const system = buildSystem(choice, catalogue, site);
    const plant = systemInHouse(system, site, 'worst');
    if (!plant) return [];
    const worst = operate(plant, site, 'worst', site.wantedTapFlowLMin);
    const element = system.components.find((c) => c.part?.kind === 'element')?.part;
    const does =
      worst.fill.shuts &&
      worst.litresADay >= needL &&
      worst.usableL >= site.largestDrawL &&
      worst.tapFlowLMin >= site.wantedTapFlowLMin &&
      worst.fill.tankTdsMgL <= rules.productTdsMaxMgL &&
      element?.kind === 'element' &&
      worst.middle.out.recovery <= highestRecovery(site, element);
    return does ? [{ tank, choice, system, worst }] : [];
  });
  const [best] = tried.sort((a, b) => a.tank.volumeL - b.tank.volumeL || a.tank.id.localeCompare(b.tank.id));
  if (!best) return null;
  const n = formatNumber;
  const { worst, tank, system } = best;
  const parts = changesCostYear(usedUpIn(system, site, site.litresADay, worst.wasteRatio));
  const water = (365 * site.litresADay * (1 + worst.wasteRatio) * rules.waterPerM3) / 1000;
  return {
    choice: best.choice,
    sentence: `With a vented tank of ${n(tank.volumeL, 2)} L and a pump of its own: ${n(worst.litresADay, 2)} L a day, full in ${formatMinutes(worst.fill.minutes)}, ${n(worst.tapFlowLMin, 2)} L/min at the tap to the last litre.`,
    reasons: [
      `Nothing pushes back on the membrane: ${n(worst.wasteRatio, 2)} L go to the drain for each litre in the coldest water, and the tank holds ${n(worst.usableL, 2)} L for a draw.`,
      `Its pump wants a socket (${n(pump.powerW, 2)} W while the tap runs), and without power nothing comes from the tap.`,
      'Open to the air, it is wiped out and its vent filter changed every year; its overflow is led to the drain, and a leak sensor stands under it.',
      'Sized simply: room, the year and what it hangs on are not judged for it.',
    ],
    costYear: parts + water,
  };
} // prettier-ignore
