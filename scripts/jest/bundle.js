/**
 * Makes a few modules of all a project's tests and what they take, before they run: to find, read and link a module costs Jest
 * some milliseconds, and most tests take hundreds of ours. Each file of the page's tests still has its own copy of all of them;
 * those of what has no page share theirs (native.js).
 */
import { readFileSync, readdirSync, rmSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const root = fileURLToPath(new URL('../..', import.meta.url));
/** Inside the project, where the packages it asks for are found. */
const outOf = (project) => join(root, project, 'node_modules/.cache/tests');

/** Packages of modules that are taken in; all else is one for a test and what stands round it. */
const TAKEN_IN = ['zod', '@mantine', 'mantine-datatable', 'lucide-react', '@reduxjs/toolkit', 'react-redux'];
const isTakenIn = (path) =>
  /^[./]|^@katharos\//.test(path) || TAKEN_IN.some((p) => path === p || path.startsWith(`${p}/`));

/** Where a test stands once it is bundled. */
export function bundleOf(test) {
  const [project = '', ...path] = relative(root, test).split(sep);
  return join(outOf(project), ...path).replace(/\.tsx?$/, '.mjs');
}

/** What a source becomes. */
export const TARGET = { format: 'esm', target: 'es2022', jsx: 'automatic' };

/** A test that puts another module in one's place needs each of them by itself. */
export const standsAlone = (source) => source.includes('unstable_mockModule');

/** What Jest has for a test, from where native.js lays it: each test takes its own. */
const GLOBALS = ['afterAll', 'afterEach', 'beforeAll', 'beforeEach', 'describe', 'expect', 'it', 'test'];
const native = {
  name: 'native',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /^@jest\/globals$/ }, ({ importer }) => ({ path: importer, namespace: 'globals' }));
    onLoad({ filter: /./, namespace: 'globals' }, () => ({
      contents: `export const { ${GLOBALS.join(', ')} } = globalThis.globalsOfTest;`,
    }));
  },
};
const plugin = {
  name: 'katharos',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /./ }, ({ path, kind }) =>
      kind === 'entry-point' || isTakenIn(path) ? undefined : { path, external: true },
    );
    // a source says where it lies itself
    onLoad({ filter: /\.tsx?$/ }, ({ path }) => {
      const source = readFileSync(path, 'utf8');
      const contents = source.replaceAll('import.meta.url', JSON.stringify(pathToFileURL(path).href));
      return { contents, loader: path.endsWith('x') ? 'tsx' : 'ts' };
    });
  },
};

async function bundle(project) {
  const rootDir = join(root, project);
  const tests = readdirSync(join(rootDir, 'src'), { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile() && /\.test\.tsx?$/.test(e.name))
    .map((e) => join(e.parentPath ?? e.path, e.name))
    .filter((test) => !standsAlone(readFileSync(test, 'utf8')));
  const outdir = outOf(project);
  rmSync(outdir, { recursive: true, force: true });
  await build({
    entryPoints: tests,
    outbase: rootDir,
    outdir,
    // what a test shares with others is named by where it lies: the test itself is read from elsewhere
    publicPath: outdir,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    platform: 'neutral',
    mainFields: ['module', 'main'],
    conditions: ['browser', 'import'],
    ...TARGET,
    loader: { '.css': 'empty' },
    sourcemap: 'linked',
    sourcesContent: false,
    logLevel: 'warning',
    plugins: project === 'web' ? [plugin] : [native, plugin],
  });
}

export default async function bundleAll() {
  await Promise.all(['core', 'contract', 'demo', 'server', 'cli', 'web'].map(bundle));
}
