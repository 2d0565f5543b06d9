import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import type { Working } from '../hydraulics/train.ts';
import type { ElementOutput } from '../membrane/element.ts';
import { seasonTemperatureC, type Season } from '../system/inHouse.ts';
import { type Operating } from './operate.ts';
import { solve, type Solved } from '../system/solve.ts';
import type { HouseNow, SystemState } from '../system/state.ts';
import type { System } from '../system/system.ts';
import { GLASS_L } from './openTap.ts';

/** A system with its tap fully open and all else as a state has it. */
export function atOpenTap(system: System, house: HouseNow, state: SystemState = {}): Solved {
  const tap = system.components.find((c) => c.kind === 'tap');
  return solve(system, house, { ...state, opening: { ...state.opening, ...(tap ? { [tap.id]: 1 } : {}) } });
}

/**
 * A system without a membrane at its open tap: carbon alone, or a lamp with its filters. It is told as one that makes its
 * water as it is drawn and lets all of it pass: nothing goes to the drain, nothing is held back.
 */
export function operateWithout(system: System, site: Site, season: Season): Operating {
  const temperatureC = seasonTemperatureC(site, season);
  const water = feedWaterAt(site, temperatureC);
  const supply = supplyOf(site, season);
  const solved = atOpenTap(system, { supply, water, airBar: site.airBar });
  const flow = solved.productLMin;
  const out: ElementOutput = {
    permeateLDay: 1440 * flow,
    concentrateLDay: 0,
    feedLDay: 1440 * flow,
    recovery: 1,
    permeateTdsMgL: water.tdsMgL,
    concentrateTdsMgL: water.tdsMgL,
    rejection: 0,
    netDrivingPressureBar: 0,
  };
  const working: Working = { supplyBar: supply.staticBar, filteredBar: solved.inletBar, inletBar: solved.inletBar, out, starved: false };
  const closeBar = supply.staticBar;
  return {
    temperatureC,
    map: { closeBar, pressuresBar: [solved.teeBar], points: [working] },
    fill: {
      shuts: true,

      reason: null,
      closeBar,
      minutes: 0,
      waterL: 0,
      madeL: 0,
      wasteL: 0,
      fillRecovery: 1,
      tankTdsMgL: water.tdsMgL,
      lastDropTdsMgL: water.tdsMgL,
      curve: [],
    },
    direct: {
      tapFlowLMin: flow,
      glassSeconds: flow > 0 ? (60 * GLASS_L) / flow : Infinity,
      productBar: solved.teeBar,
      closeBar,
      shuts: true,
      working,
      rinses: false,
      standing: { productL: 1, feedL: 1, productTdsMgL: water.tdsMgL, feedTdsMgL: water.tdsMgL, saltLDay: 0 },
      firstGlassTdsMgL: water.tdsMgL,
      afterNightTdsMgL: water.tdsMgL,
    },
    litresADay: 1440 * flow,
    wasteRatio: 0,
    usableL: 0,
    middle: working,
    middleBar: solved.teeBar,
    middleL: 0,
    tapFlowLMin: flow,
  };
} // oxfmt-ignore
