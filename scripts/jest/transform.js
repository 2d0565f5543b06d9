/** A Jest transformer: of a test its bundle, of a source that is asked for by itself its plain translation. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { transformSync } from 'esbuild';
import { bundleOf, standsAlone, TARGET } from './bundle.js';

/** A source by itself. */
function plain(source, path) {
  const { code, map } = transformSync(source, {
    ...TARGET,
    loader: path.endsWith('x') ? 'tsx' : 'ts',
    sourcefile: path,
    sourcemap: 'external',
  });
  return { code, map: JSON.parse(map) };
}

/** A test's bundle; its sources are named from where the bundle lies. */
function bundled(test) {
  const at = bundleOf(test);
  const map = JSON.parse(readFileSync(`${at}.map`, 'utf8'));
  const sources = map.sources.map((source) => resolve(dirname(at), source));
  return { code: readFileSync(at, 'utf8'), map: { ...map, sources } };
}

const isBundled = (source, path) => /\.test\.tsx?$/.test(path) && !standsAlone(source);

export default {
  getCacheKey: (source, path) =>
    createHash('sha1')
      .update(path)
      .update(isBundled(source, path) ? bundled(path).code : source)
      .digest('hex'),
  process: (source, path) => (isBundled(source, path) ? bundled(path) : plain(source, path)),
};
