/**
 * Starts the calculators from one bundled file: loading the sources one by one takes longer than any answer. The bundle is
 * made anew when a source is newer than it.
 */
import { mkdirSync, readdirSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const cache = join(root, 'node_modules/.cache/katharos');
const bundle = join(cache, 'calc.mjs');

function newest(folder) {
  let ms = 0;
  for (const e of readdirSync(folder, { withFileTypes: true, recursive: true }))
    if (e.isFile() && e.name.endsWith('.ts')) ms = Math.max(ms, statSync(join(e.parentPath ?? e.path, e.name)).mtimeMs);
  return ms;
}

const made = statSync(bundle, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const sources = Math.max(
  newest(join(root, 'core/src')),
  newest(join(root, 'cli/src')),
  statSync(join(root, 'shelf/load.ts')).mtimeMs,
);
if (made < sources) {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: [join(root, 'cli/src/main.ts')],
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    write: false,
    logLevel: 'silent',
  });
  mkdirSync(cache, { recursive: true });
  const part = `${bundle}.${process.pid}`;
  writeFileSync(part, outputFiles[0].contents);
  renameSync(part, bundle);
}
const { main } = await import(pathToFileURL(bundle).href);
main(root, process.argv.slice(2));
