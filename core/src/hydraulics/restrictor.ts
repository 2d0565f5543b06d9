import { densityKgM3, viscosityPaS } from '../water/properties.ts';
import { rootOfFalling } from '../quantity/root.ts';
import { frictionFactor } from './tube.ts';

const { exp, floor, log, max, PI, sqrt } = Math;

/** What fixes the concentrate flow. */
export interface Restrictor {
  readonly kind: 'orifice' | 'capillary';
  /** stated flow, L/day, at the stated pressure difference and temperature */
  readonly flowLDay: number;
  readonly atBar: number;
  readonly atC: number;
  /** a capillary's bore, mm, where its sheet says it; else a usual one is taken */
  readonly boreMm?: number | undefined;
}

/** A capillary as it must be to let its stated flow through. */
export interface Capillary {
  readonly boreMm: number;
  /** inferred from the stated flow; 0 where entrance and exit alone hold it back */
  readonly lengthMm: number;
  /** heads lost at entrance and exit */
  readonly endLoss: number;
}

/** Heads lost at a sharp entrance (0.5) and in the jet that leaves (1), dimensionless; e.g. Idelchik, Handbook of Hydraulic Resistance. */
export const END_LOSS = 1.5;
/** Share of the stated pressure that entrance and exit of a usual capillary take: bores of 0.6 to 1 mm at 200 to 700 mL/min. */
const USUAL_END_SHARE = 1 / 3;
const M3S_PER_LDAY = 1e-3 / 86400;
const PA_PER_BAR = 1e5;
/** Churchill's factor is never more than this above 64/Re. */
const MOST_TURBULENT = 0.06;

const known = new WeakMap<Restrictor, Capillary>();

/**
 * Bore and length of a capillary: the bore its sheet states or a usual one, the length that lets the stated flow through at
 * the stated pressure and temperature, by Darcy-Weisbach with Churchill's friction factor and the losses at its ends.
 * @param r of the kind 'capillary', its figures above 0
 */
export function capillaryOf(r: Restrictor): Capillary {
  const there = known.get(r);
  if (there) return there;
  const flow = r.flowLDay * M3S_PER_LDAY;
  const density = densityKgM3(r.atC);
  const pressure = r.atBar * PA_PER_BAR;
  const usualSpeed = sqrt((2 * USUAL_END_SHARE * pressure) / (END_LOSS * density));
  const bore = r.boreMm === undefined ? sqrt((4 * flow) / (PI * usualSpeed)) : r.boreMm / 1000;
  const speed = flow / ((PI * bore * bore) / 4);
  const heads = pressure / (0.5 * density * speed * speed);
  const along = max(0, heads - END_LOSS);
  const length = (along / frictionFactor((density * speed * bore) / viscosityPaS(r.atC))) * bore;
  const made = { boreMm: bore * 1000, lengthMm: length * 1000, endLoss: along > 0 ? END_LOSS : heads };
  known.set(r, made);
  return made;
}

/** Logarithm of the Reynolds number, and how fast it rises, at a logarithm of the drive. */
interface Node {
  readonly at: number;
  readonly slope: number;
}
/** Nodes lie this far apart: a cubic between them is within 1e-6 of the root. */
const STEP = 0.02;
const nodes = new WeakMap<Capillary, Map<number, Node>>();

/**
 * A node: (f L/d + K) Re^2 = 2 dp d^2 rho / mu^2 has one root, as the left side rises with Re, from laminar flow through
 * the transition to turbulent flow in one.
 */
function nodeAt(c: Capillary, logDrive: number): Node {
  const slender = c.lengthMm / c.boreMm;
  const drive = exp(logDrive);
  const resistance = (x: number): number => frictionFactor(exp(x)) * slender + c.endLoss;
  // where friction is f = 64/Re + c, the root of a square: c is nothing at the least, and MOST_TURBULENT at the most
  const laminar = 64 * slender;
  const withMore = (more: number): number =>
    log((2 * drive) / (laminar + sqrt(laminar * laminar + 4 * (c.endLoss + more * slender) * drive)));
  const lack = (x: number): number => logDrive - log(resistance(x)) - 2 * x;
  const at = rootOfFalling(lack, withMore(MOST_TURBULENT), withMore(0), 1e-12);
  const near = 1e-4;
  return { at, slope: 1 / (2 + log(resistance(at + near) / resistance(at - near)) / (2 * near)) };
}

/** Reynolds number in a capillary by a cubic between its nodes, each worked out once. @param pressureBar across it, above 0 */
function capillaryReynolds(c: Capillary, pressureBar: number, temperatureC: number): number {
  const viscosity = viscosityPaS(temperatureC);
  const bore = c.boreMm / 1000;
  const logDrive = log(
    (2 * pressureBar * PA_PER_BAR * bore * bore * densityKgM3(temperatureC)) / (viscosity * viscosity),
  );
  const of = nodes.get(c) ?? new Map<number, Node>();
  nodes.set(c, of);
  const node = (i: number): Node => {
    const there = of.get(i);
    if (there) return there;
    const made = nodeAt(c, i * STEP);
    of.set(i, made);
    return made;
  };
  const i = floor(logDrive / STEP);
  const from = node(i);
  const to = node(i + 1);
  const t = logDrive / STEP - i;
  const s = 1 - t;
  return exp(
    s * s * ((1 + 2 * t) * from.at + t * STEP * from.slope) + t * t * ((1 + 2 * s) * to.at - s * STEP * to.slope),
  );
}

/** Reynolds number in a restrictor's bore; null for an orifice, whose bore nobody states. @param pressureBar above 0 */
export function restrictorReynolds(r: Restrictor, pressureBar: number, temperatureC: number): number | null {
  return r.kind === 'orifice' ? null : capillaryReynolds(capillaryOf(r), pressureBar, temperatureC);
}

/**
 * Flow through a restrictor to an open drain. An orifice goes by the square root of the pressure and hardly feels
 * temperature. A capillary of domestic size is mostly turbulent: at half the pressure about two thirds of the flow, at 5 C
 * 0.91 to 0.97 of that at 25 C; a small one in cold water comes near the transition and feels the cold more.
 * @param pressureBar gauge before it, 0 to 20 bar; @param temperatureC 0 to 60 C
 * @returns L/day; 0 at or below no pressure
 */
export function restrictorFlowLDay(r: Restrictor, pressureBar: number, temperatureC: number): number {
  if (pressureBar <= 0) return 0;
  if (r.kind === 'orifice') return r.flowLDay * sqrt(pressureBar / r.atBar);
  const c = capillaryOf(r);
  const bore = c.boreMm / 1000;
  const speed =
    (capillaryReynolds(c, pressureBar, temperatureC) * viscosityPaS(temperatureC)) / (densityKgM3(temperatureC) * bore);
  return (speed * ((PI * bore * bore) / 4)) / M3S_PER_LDAY;
}
