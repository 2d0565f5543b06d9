import type { Restrictor } from '../hydraulics/restrictor.ts';
import type { AirTank } from '../hydraulics/tank.ts';
import type { FeedWater, Supply } from '../hydraulics/train.ts';
import type { Permeability } from '../membrane/permeability.ts';
import type { LossFactor } from './compile.ts';
import { HALF_WAY, loadedLoss } from './load.ts';
import { severityOf, type SystemState } from './state.ts';

const { max } = Math;

/** What a fault makes of a component. Each is a change of what the solver is given. */

/** Resistance of a fully open stop valve, bar per (L/min)^2: a half inch valve of about 25 L/min at 1 bar. */
const VALVE_RESISTANCE = 0.0016;

/** The house's supply behind a stop valve that is open so far. @param open 0 to 1 */
export function supplyBehind(supply: Supply, open: number): Supply {
  if (open >= 1) return supply;
  const gap = max(1e-3, open);
  return { ...supply, resistance: supply.resistance + VALVE_RESISTANCE * (1 / (gap * gap) - 1) };
}

/** Loss of filters as they are loaded and clogged, and what a pump still gives. */
export const factorIn =
  (state: SystemState): LossFactor =>
  (c, effect) => {
    if (effect.does === 'boosts') {
      const power = state.pumps?.[c.id] ?? 'on';
      return power === 'on' ? 1 - severityOf(state, c.id, 'weak') : 0;
    }
    if (effect.does === 'lifts') return (state.pumps?.[c.id] ?? 'on') === 'on' ? 1 : 0;
    if (effect.does !== 'loses') return 1;
    const clogged = 1 - 0.99 * severityOf(state, c.id, 'clogged');
    const loaded = effect.clogs ? loadedLoss(state.loads?.[c.id] ?? HALF_WAY) : 1;
    return loaded / (clogged * clogged);
  };

/** A membrane torn or eaten lets more water and far more salt by; a scaled one less water and more salt. */
export function membraneIn(p: Permeability, state: SystemState, id: string): Permeability {
  const torn = severityOf(state, id, 'torn');
  const scaled = severityOf(state, id, 'scaled');
  if (torn === 0 && scaled === 0) return p;
  return {
    ...p,
    waterLDayBar: p.waterLDayBar * (1 + 0.8 * torn) * max(0.05, 1 - 0.9 * scaled),
    saltLDay: p.saltLDay * (1 + 12 * torn) * (1 + 1.5 * scaled),
  };
}

/** Feed that finds its way past a membrane, L/day: through a gap, with the root of the pressure between its sides. */
export function bypassLDay(p: Permeability, betweenBar: number, severity: number): number {
  return severity * severity * p.waterLDayBar * Math.sqrt(max(0, betweenBar));
}

/** A restrictor blocked, or open, bypassed or the wrong one; a drain tube that is kinked holds back as one that is blocked. */
export function restrictorIn(r: Restrictor, blocked: number, open: number): Restrictor {
  return { ...r, flowLDay: r.flowLDay * max(0.02, 1 - blocked) * (1 + 4 * open) };
}

/** A tank that has lost its air, or was given too much. */
export function tankIn(t: AirTank, state: SystemState, id: string): AirTank {
  const airless = severityOf(state, id, 'airless');
  return { ...t, airChargeBar: t.airChargeBar * (1 - airless) * (1 + severityOf(state, id, 'overcharged')) };
}

/** Water from the hot line, or that crosses a mixer: from a little to all of it, at 60 C. */
export function waterIn(w: FeedWater, state: SystemState, feed: string | undefined): FeedWater {
  const hot = severityOf(state, feed, 'hot');
  return hot === 0 ? w : { ...w, temperatureC: max(w.temperatureC, 35 + 25 * hot) };
}

/** Flow back through a non-return valve that leaks, L/min, from what stands behind it. */
export const leakBackLMin = (severity: number, behindBar: number): number =>
  0.035 * severity * Math.sqrt(max(0, behindBar));
