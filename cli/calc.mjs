/** Starts the calculators. */
import { statSync } from 'node:fs';
import { bundled, cache, root } from '../scripts/bundle.mjs';

const bundle = new URL(await bundled('calc', 'cli/src/main.ts', ['core/src', 'cli/src', 'shelf'], []));
const { main } = await import(bundle.href);
main(root, process.argv.slice(2), { file: `${cache}/shelf.json`, by: String(statSync(bundle).mtimeMs) });
