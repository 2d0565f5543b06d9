/** Starts the server. */
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setFlagsFromString } from 'node:v8';
import { bundled, cache, root } from '../scripts/bundle.mjs';

// What is kept may take 2.2 times as much before it is cleared up. Left to itself the engine takes 1.3 or 4 times, as its start
// happened to go: with 200 people it then clears up each second, or grows to 400 MB.
setFlagsFromString('--heap-growing-percent=120');

process.env.SHELF ??= join(root, 'shelf');
process.env.SHELF_FOUND ??= join(cache, 'shelf-server.json');
process.env.FIRM ??= join(root, 'demo');
process.env.PAGE ??= join(root, 'web/dist');
// a bundle's address as a file: threads begin from files
process.env.CALC_WORKER ??= fileURLToPath(
  await bundled('calc-worker', 'server/src/calc/worker.ts', ['core/src', 'server/src/calc'], []),
);
/** Begin threads, read files of their own or are made for the machine. */
const OUTSIDE = ['pino', 'pino-http', 'piscina', '@node-rs/argon2', 'selfsigned', 'umzug'];
/** Other databases, and what PostgreSQL's package can be without. */
const NOT_THERE = [
  'pg-hstore',
  'pg-native',
  'mysql2',
  'mariadb',
  'sqlite3',
  'tedious',
  'oracledb',
  'snowflake-sdk',
  'ibm_db',
  'odbc',
];
await import(
  await bundled(
    'server',
    'server/src/main.ts',
    ['core/src', 'contract/src', 'demo/src', 'server/src', 'shelf'],
    [...OUTSIDE, ...NOT_THERE],
  )
);
