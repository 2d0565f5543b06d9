/** Starts the server. */
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { bundled, root } from '../scripts/bundle.mjs';

process.env.SHELF ??= join(root, 'shelf');
process.env.FIRM ??= join(root, 'demo');
process.env.PAGE ??= join(root, 'web/dist');
// a bundle's address as a file: threads begin from files
process.env.CALC_WORKER ??= fileURLToPath(
  await bundled('calc-worker', 'server/src/calc/worker.ts', ['core/src', 'server/src/calc'], true),
);
await import(
  await bundled('server', 'server/src/main.ts', ['core/src', 'contract/src', 'demo/src', 'server/src', 'shelf'])
);
