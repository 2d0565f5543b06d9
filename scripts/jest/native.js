/**
 * Runs the tests of one file with Jest's own framework, but as Node's modules: what they take is read, linked and made quick once
 * for all files of a process, not for each. They share its globals and what modules keep, so a test puts back what it changes.
 */
import { statSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import './properties.js';
import { bundleOf } from './bundle.js';

const require = createRequire(import.meta.url);
const framework = createRequire(require.resolve('jest/package.json')).resolve('jest-circus/runner');
const inFramework = createRequire(framework);
const { default: adapter } = inFramework(framework);

/** The framework's files that keep which tests there are: each file of tests has them anew. */
function forgetTests() {
  Reflect.deleteProperty(globalThis, Symbol.for('EVENT_HANDLERS'));
  Reflect.deleteProperty(inFramework.cache, join(dirname(framework), 'jestAdapterInit.js'));
}

/** A module that was read before, while somebody watches the tests, is another once it was written anew. */
const newest = (bundle) => `${pathToFileURL(bundle).href}?${statSync(bundle).mtimeMs}`;

export default async function runNatively(globalConfig, config, environment, runtime, test, ...rest) {
  forgetTests();
  const native = {
    requireInternalModule: (path) => inFramework(path),
    requireModule: (path) => inFramework(path),
    unstable_shouldLoadAsEsm: () => true,
    unstable_importModule: (path) => import(newest(bundleOf(path))),
    setGlobalsForRuntime: (globals) => Object.assign(globalThis, { globalsOfTest: globals }),
  };
  return adapter(globalConfig, config, environment, Object.assign(Object.create(runtime), native), test, ...rest);
}
