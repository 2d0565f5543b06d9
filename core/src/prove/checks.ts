import { partIn, type System } from '../system/system.ts';
import type { OtherSign } from './grade.ts';

/** What is tried rather than read, each seen to do what it should or not. */
export const PROOF_CHECKS = {
  lamp: {
    label: 'Lamp burns',
    how: 'By its window or its control, never by looking into the tube: the light blinds.',
    there: (s: System) => partIn(s, 'lamp') !== undefined,
    fails: {
      grade: 'act',
      reason: 'The lamp does not burn: what it is there for passes.',
      next: 'Nobody drinks of it until it does: plug and fuse, then the lamp, then its ballast. Unplug before the tube is touched.',
    },
  },
  'leak-stop': {
    label: 'Leak stop shuts',
    how: 'A wet finger on its pad, or its test; a pad that swells is for once only and is not tried.',
    there: (s: System) => partIn(s, 'leak-valve') !== undefined,
    fails: {
      grade: 'act',
      reason: 'The leak stop does not shut: a leak would run until somebody comes home.',
      next: 'Battery or pad first, its arrow, then another. Until then the feed is shut when nobody is in.',
    },
  },
  'pump-stops': {
    label: 'Pump stops by itself',
    how: 'Tap shut, and wait: it stops within a minute of the drain, and does not start by itself.',
    there: (s: System) => partIn(s, 'pump') !== undefined,
    fails: {
      grade: 'act',
      reason: 'The pump does not stop once nothing is drawn: it wears out, and works against what is shut.',
      next: 'The pressure switch and its setting, then the tank’s air where there is a tank; unplug it until it is found.',
    },
  },
  'pump-dry': {
    label: 'Pump stops without feed',
    how: 'Feed shut while it runs: it stops within seconds.',
    there: (s: System) => partIn(s, 'pump') !== undefined,
    fails: {
      grade: 'watch',
      reason: 'The pump goes on without feed: it runs dry the first time the mains are off.',
      next: 'A switch before it that stops it at low pressure; until then it is unplugged when the water is announced off.',
    },
  },
  limiter: {
    label: 'Limiter holds',
    how: 'Tap shut, at the gauge: at the hour of the highest pressure it does not pass its setting.',
    there: (s: System) => partIn(s, 'limiter') !== undefined,
    fails: {
      grade: 'act',
      reason: 'The limiting valve lets the pressure past its setting: housings are made for less than a night’s mains.',
      next: 'Change it; until then the stop valve is shut at night.',
    },
  },
} as const satisfies Record<string, Check>;

interface Check {
  readonly label: string;
  readonly how: string;
  readonly there: (system: System) => boolean;
  readonly fails: OtherSign;
}

export type CheckKey = keyof typeof PROOF_CHECKS;
export const CHECK_KEYS = Object.keys(PROOF_CHECKS) as CheckKey[];

/** What was tried, and how it went. */
export type Checks = Partial<Record<CheckKey, 'works' | 'fails'>>;

/** What is tried of a system. */
export const checksFor = (system: System): CheckKey[] => CHECK_KEYS.filter((k) => PROOF_CHECKS[k].there(system));

/** What of what was tried does not do what it should. */
export const failedChecks = (checks: Checks): OtherSign[] =>
  CHECK_KEYS.flatMap((k) => (checks[k] === 'fails' ? [PROOF_CHECKS[k].fails] : []));
