import type { FeedWater, Supply } from '../hydraulics/train.ts';

/** The house as a system feels it at a moment. */
export interface HouseNow {
  readonly supply: Supply;
  readonly water: FeedWater;
  /** of the air round it, absolute bar */
  readonly airBar: number;
}

/** What can be wrong with a component, by kind of thing. */
export type FaultCode =
  /** membrane: an O-ring or the brine seal lets feed by; torn or eaten; scaled; product and concentrate tubes crossed */
  | 'bypassed'
  | 'torn'
  | 'scaled'
  | 'crossed'
  /** filter or polishing carbon */
  | 'clogged'
  /** restrictor or drain */
  | 'blocked'
  | 'open'
  /** stop valve */
  | 'half-shut'
  /** feed connection */
  | 'hot'
  /** pump */
  | 'weak'
  /** non-return valve */
  | 'leaks'
  /** shut-off valve or switch */
  | 'stays-open'
  /** tank */
  | 'airless'
  | 'overcharged'
  /** carbon */
  | 'spent';

/** A fault of a component: it changes what the component does, never a figure that follows from it. */
export interface Fault {
  readonly code: FaultCode;
  /** 0 nothing, 1 all the way */
  readonly severity: number;
}

/** What stands in a tank. */
export interface TankState {
  readonly litres: number;
  readonly tdsMgL: number;
}

/** How a system stands at a moment, by component. What is not named is as it should be. */
export interface SystemState {
  /** valves 0 shut to 1 open, open where not named; taps and other outlets 0 to 1, shut where not named */
  readonly opening?: Readonly<Record<string, number>>;
  readonly pumps?: Readonly<Record<string, 'on' | 'off' | 'tripped'>>;
  readonly tanks?: Readonly<Record<string, TankState>>;
  /** the shut-off, or the pump's switch, has closed */
  readonly shut?: boolean;
  /** litres seen over litres of life; half way where not named */
  readonly loads?: Readonly<Record<string, number>>;
  /** the pressure before the membrane as a gauge holds it to be, bar; left out, it follows from the supply */
  readonly inletBar?: number;
  readonly faults?: Readonly<Record<string, Fault>>;
}

/** The severity of a fault a component has; 0 where it has none of that kind. */
export function severityOf(state: SystemState, id: string | undefined, code: FaultCode): number {
  const fault = id === undefined ? undefined : state.faults?.[id];
  return fault?.code === code ? fault.severity : 0;
}
