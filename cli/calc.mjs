/** Starts the calculators. */
import { setFlagsFromString } from 'node:v8';
import { bundled, root } from '../scripts/bundle.mjs';

// one answer is over before most of what the engine would make quicker has paid for it: it waits twice as long with that
setFlagsFromString('--interrupt-budget=300000');
const { main } = await import(await bundled('calc', 'cli/src/main.ts', ['core/src', 'cli/src', 'shelf'], []));
main(root, process.argv.slice(2));
