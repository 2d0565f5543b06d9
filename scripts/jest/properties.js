/**
 * Properties are tried with the same examples each time, so that a change alone decides whether its tests pass. PROPERTY_SEED
 * takes others: any whole number, or "any" for a new one each time.
 */
import fc from 'fast-check';

const seed = process.env.PROPERTY_SEED ?? '20261126';
if (seed !== 'any') fc.configureGlobal({ seed: Number(seed) });
