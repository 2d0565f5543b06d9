import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type { Db } from '../db/models.ts';
import { ApiProblem } from '../http/problem.ts';

const MINUTES = 60;
/**
 * How many tries there are, s between them counted together: for a name from one address, from an address at all, and for a
 * name on a device it was signed in on before. A device that is known does not wait for what others try elsewhere, so nobody
 * locks the firm out.
 */
const LIMITS = {
  name: { points: 5, duration: 15 * MINUTES },
  address: { points: 40, duration: 15 * MINUTES },
  device: { points: 10, duration: 15 * MINUTES },
} as const;

/** Where a try comes from. */
export interface Trier {
  readonly name: string;
  readonly address: string;
  /** a device on which the name was signed in before */
  readonly known: string | null;
}

/** Counts tries at passwords and links, for every server of the firm together. */
export function openLimits(db: Db) {
  const limiter = (kind: keyof typeof LIMITS): RateLimiterPostgres =>
    new RateLimiterPostgres({
      storeClient: db.sequelize,
      storeType: 'sequelize',
      tableName: 'tries',
      tableCreated: true,
      keyPrefix: kind,
      ...LIMITS[kind],
    });
  const limiters = { name: limiter('name'), address: limiter('address'), device: limiter('device') };
  const keysOf = ({ name, address, known }: Trier): readonly (readonly [keyof typeof LIMITS, string])[] =>
    known === null
      ? [
          ['address', address],
          ['name', `${name.toLowerCase()} ${address}`],
        ]
      : [['device', `${known} ${name.toLowerCase()}`]];
  return {
    /** Counts a try before it is looked at. @throws ApiProblem 'too-often' with how long to wait */
    count: async (trier: Trier): Promise<void> => {
      try {
        for (const [kind, key] of keysOf(trier)) await limiters[kind].consume(key);
      } catch (e) {
        if (!(e instanceof RateLimiterRes)) throw e;
        const minutes = Math.max(1, Math.ceil(e.msBeforeNext / 60_000));
        throw new ApiProblem('too-often', {
          detail: `Try again in ${String(minutes)} min, or from a device you have been signed in on.`,
        });
      }
    },
    /** A try that was right counts for nothing. */
    forget: async (trier: Trier): Promise<void> => {
      for (const [kind, key] of keysOf(trier))
        if (kind === 'address') await limiters.address.reward(key);
        else await limiters[kind].delete(key);
    },
  };
}
export type Limits = ReturnType<typeof openLimits>;
