/** npm run architecture: draws docs/architecture.svg anew from the code. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { architecturePicture } from './architecture.ts';

const root = fileURLToPath(new URL('../..', import.meta.url));
writeFileSync(join(root, 'docs/architecture.svg'), architecturePicture(root));
