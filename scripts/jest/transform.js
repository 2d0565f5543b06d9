/** A Jest transformer: of a test its bundle, of a source that is asked for by itself its plain translation. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import swc from '@swc/jest';
import { bundleOf, standsAlone } from './bundle.js';

const SWC = {
  swcrc: false,
  jsc: {
    experimental: { keepImportAttributes: true },
    target: 'es2022',
    transform: { useDefineForClassFields: true, react: { runtime: 'automatic' } },
  },
  module: { type: 'es6' },
};
const ofKind = (tsx) => swc.createTransformer({ ...SWC, jsc: { ...SWC.jsc, parser: { syntax: 'typescript', tsx } } });
const plain = { ts: ofKind(false), tsx: ofKind(true) };
const plainFor = (path) => (path.endsWith('x') ? plain.tsx : plain.ts);
const isBundled = (source, path) => /\.test\.tsx?$/.test(path) && !standsAlone(source);

/** A test's bundle; its sources are named from where the bundle lies. */
function bundled(test) {
  const at = bundleOf(test);
  const map = JSON.parse(readFileSync(`${at}.map`, 'utf8'));
  const sources = map.sources.map((source) => resolve(dirname(at), source));
  return { code: readFileSync(at, 'utf8'), map: { ...map, sources } };
}

export default {
  getCacheKey: (source, path, options) =>
    isBundled(source, path)
      ? createHash('sha1').update(path).update(bundled(path).code).digest('hex')
      : plainFor(path).getCacheKey(source, path, options),
  process: (source, path, options) =>
    isBundled(source, path) ? bundled(path) : plainFor(path).process(source, path, options),
};
