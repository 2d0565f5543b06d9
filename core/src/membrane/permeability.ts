import { temperatureFactor } from './temperature.ts';

const { exp } = Math;

/** What a maker may state beyond the rating; it stays with the fitted element. */
export interface ElementTraits {
  /** activation temperature of the salt permeability, K; left out, salt follows water's factor */
  readonly saltActivationK?: number | undefined;
  readonly massTransfer?: MassTransfer | undefined;
  readonly channelDrop?: ChannelDrop | undefined;
}

/**
 * A stated mass transfer relation of the feed channel: k A = coefficientLDay (Q / atFlowLDay)^exponent, and the
 * polarisation is exp(J A / k A). Left out, it is exp(0.7 J A / Q).
 */
export interface MassTransfer {
  /** mass transfer coefficient x membrane area, L/day */
  readonly coefficientLDay: number;
  readonly atFlowLDay: number;
  /** 0.3 to 0.9; spacers give about 0.5 */
  readonly exponent: number;
}

/** Pressure lost along one element's feed channel: bar (Q / atFlowLDay)^1.5. */
export interface ChannelDrop {
  readonly bar: number;
  readonly atFlowLDay: number;
}

/** The two constants fitted to a rating, both at 25 C and for the whole element. */
export interface Permeability extends ElementTraits {
  /** water, L/day per bar of net driving pressure */
  readonly waterLDayBar: number;
  /** salt, L/day: salt flow = saltLDay x (c_wall - c_permeate) */
  readonly saltLDay: number;
  /** elements one after the other on the concentrate, 1 to 3; 1 if left out */
  readonly inSeries?: number | undefined;
  /** elements (or strings of them) side by side, 1 to 3; 1 if left out */
  readonly inParallel?: number | undefined;
}

/** Salt permeability of all elements together at a temperature, L/day. @param temperatureC 0 to 45 C */
export function saltLDayAt(p: Permeability, temperatureC: number): number {
  return activated(p, temperatureC).b * (p.inSeries ?? 1) * (p.inParallel ?? 1);
}

/** Activation of both permeabilities at a temperature: water x a, salt x b. */
export function activated(p: Permeability, temperatureC: number): { a: number; b: number } {
  const f = temperatureFactor(temperatureC);
  const salt = p.saltActivationK;
  return {
    a: p.waterLDayBar * f,
    b: p.saltLDay * (salt === undefined ? f : exp(salt * (1 / 298.15 - 1 / (temperatureC + 273.15)))),
  };
}
