/** Starts the server. */
import { join } from 'node:path';
import { bundled, root } from '../scripts/bundle.mjs';

process.env.SHELF ??= join(root, 'shelf');
process.env.PAGE ??= join(root, 'web/dist');
await import(
  await bundled('server', 'server/src/main.ts', ['core/src', 'contract/src', 'demo/src', 'server/src', 'shelf'])
);
