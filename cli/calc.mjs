/** Starts the calculators. */
import { bundled, root } from '../scripts/bundle.mjs';

const { main } = await import(await bundled('calc', 'cli/src/main.ts', ['core/src', 'cli/src', 'shelf'], []));
main(root, process.argv.slice(2));
