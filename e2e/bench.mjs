/** Starts the bench as the product runs: bundled, not source by source. */
import { bundled } from '../scripts/bundle.mjs';

await import(await bundled('bench', 'e2e/bench.ts', ['e2e', 'core/src', 'contract/src']));
