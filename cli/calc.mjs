/** Starts the calculators. */
import { statSync } from 'node:fs';
import { setFlagsFromString } from 'node:v8';
import { bundled, cache, root } from '../scripts/bundle.mjs';

// one answer is over before most of what the engine would make quicker has paid for it: it waits twice as long with that
setFlagsFromString('--interrupt-budget=300000');
const bundle = new URL(await bundled('calc', 'cli/src/main.ts', ['core/src', 'cli/src', 'shelf'], []));
const { main } = await import(bundle.href);
main(root, process.argv.slice(2), { file: `${cache}/shelf.json`, by: String(statSync(bundle).mtimeMs) });
