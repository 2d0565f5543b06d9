import type { Site } from '../gauge/site.ts';
import { tubeDropBar } from '../hydraulics/tube.ts';
import { findPart, partOf, type Catalogue } from '../parts/catalogue.ts';
import type { Line } from './line.ts';
import { HALF_WAY, loadedLoss, type Operating, type Plant } from './plant.ts';

/** What passes one element while the tank is half full and the tap is open. */
export interface ProfilePoint {
  readonly id: string;
  /** gauge after the element, bar */
  readonly pressureBar: number;
  /** leaving it along its branch, L/min */
  readonly flowLMin: number;
  readonly tdsMgL: number;
}

/** The computed Line: figures for the drawing, one state, one season. */
export interface Profile {
  readonly points: readonly ProfilePoint[];
  readonly closeBar: number;
  readonly osmoticBar: number;
  readonly tankL: number;
  readonly tankFullL: number;
  /** the weakest part's limit on the feed side, bar */
  readonly limitBar: number;
}

/** Figures along the Line from one operating state: tank half full, tap open, the element filling. */
export function profileLine(line: Line, catalogue: Catalogue, site: Site, plant: Plant, state: Operating): Profile {
  const { middle, middleBar, tapFlowLMin: tap } = state;
  const feed = middle.out.feedLDay / 1440;
  const product = middle.out.permeateLDay / 1440;
  const waste = middle.out.concentrateLDay / 1440;
  const tankTds = state.fill.tankTdsMgL;
  const points: ProfilePoint[] = [];
  let bar = plant.train.supply.staticBar - plant.train.supply.resistance * feed ** 2;
  let out = middleBar;
  const loss = (perLMin: number): number => loadedLoss(HALF_WAY) * perLMin * feed;
  for (const e of line.elements) {
    const id = e.id;
    const part = e.partId;
    switch (e.role) {
      case 'limiter':
        bar = middle.supplyBar;
        break;
      case 'sediment':
        bar -= loss(partOf(catalogue, 'sediment', part ?? '').barPerLMin);
        break;
      case 'carbon':
        bar -= loss(partOf(catalogue, 'carbon', part ?? '').barPerLMin);
        break;
      case 'pump':
      case 'gauge':
        // what the tubes and fittings lost on the way is told here
        bar = middle.inletBar;
        break;
      case 'polish':
        out -= partOf(catalogue, 'polish', part ?? '').barPerLMin * tap;
        break;
      case 'mineral':
        out -= partOf(catalogue, 'mineral', part ?? '').barPerLMin * tap;
        break;
      case 'tap':
        out = Math.max(0, out - tubeDropBar(plant.outlet.tube, tap, state.temperatureC));
        break;
      default:
    }
    if (e.branch === 'feed') {
      const leaving = e.role === 'membrane' ? middle.inletBar : Math.max(0, bar);
      points.push({ id, pressureBar: leaving, flowLMin: feed, tdsMgL: site.tdsMgL });
    } else if (e.branch === 'concentrate') {
      points.push({ id, pressureBar: 0, flowLMin: waste, tdsMgL: middle.out.concentrateTdsMgL });
    } else if (e.branch === 'tank') {
      points.push({ id, pressureBar: middleBar, flowLMin: Math.max(0, tap - product), tdsMgL: tankTds });
    } else if (e.branch === 'fridge') {
      points.push({ id, pressureBar: out, flowLMin: 0, tdsMgL: tankTds });
    } else {
      const early = e.role === 'non-return' || e.role === 'sample';
      points.push({
        id,
        pressureBar: early ? middleBar : Math.max(0, out),
        flowLMin: early ? product : tap,
        tdsMgL: early ? middle.out.permeateTdsMgL : tankTds,
      });
    }
  }
  const limits = line.elements
    .filter((e) => e.branch === 'feed' && e.partId !== null && e.role !== 'feed')
    .map((e) => findPart(catalogue, e.partId)?.maxPressureBar ?? Infinity);
  return {
    points,
    closeBar: state.fill.closeBar,
    osmoticBar: osmotic(state, site, plant),
    tankL: state.middleL,
    tankFullL: state.fill.waterL,
    limitBar: Math.min(...limits),
  };
}

/** What the membrane must overcome before a drop passes, bar: inlet less what the product pushes back less the driving mean. */
function osmotic(state: Operating, site: Site, plant: Plant): number {
  const back = state.middleBar * (plant.train.permeatePump?.backShare ?? 1) + plant.train.nonReturnBar;
  const gap = state.middle.inletBar - back - state.middle.out.netDrivingPressureBar;
  return site.tdsMgL > 0 ? Math.max(0, gap) : 0;
}
