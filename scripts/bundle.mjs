/**
 * Bundles one of the project's own programs and says where it is: loading the sources one by one takes longer than most of what
 * they are asked. What a program asks for only once it runs lies in files beside the bundle. It is made anew when a source is
 * newer than it; two who make it at once are not in each other's way.
 */
import { mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
/** What may be made anew at any time. */
export const cache = join(root, 'node_modules/.cache/katharos');

/** Packages of an older kind ask for what Node has by name. */
const REQUIRE =
  "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);";

/** Of a namespace a bundle takes what is used; by `import { z }` it takes all of these, four times the rest of Zod. */
const LANGUAGES = /zod\/v4\/locales\/(?!en\.)/;

function newest(folder) {
  let ms = 0;
  for (const e of readdirSync(folder, { withFileTypes: true, recursive: true }))
    if (e.isFile() && e.name.endsWith('.ts')) ms = Math.max(ms, statSync(join(e.parentPath ?? e.path, e.name)).mtimeMs);
  return ms;
}

/** Packages of others stay where they are; only the project's own are bundled. */
const othersOutside = {
  name: 'others-outside',
  setup: (build) => {
    build.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || path.startsWith('@katharos/') ? undefined : { path, external: true },
    );
  },
};

/**
 * Imported, Node's own http has every name of it looked up, and with them all that fetches: fifty milliseconds nobody asked for.
 * Taken by name it is there at once.
 */
const httpByName = {
  name: 'http-by-name',
  setup: (build) => {
    build.onResolve({ filter: /^node:https?$/ }, ({ path }) => ({ path, namespace: 'by-name' }));
    build.onLoad({ filter: /./, namespace: 'by-name' }, ({ path }) => ({
      contents: `module.exports = process.getBuiltinModule(${JSON.stringify(path)});`,
    }));
  },
};

/**
 * @param name of the bundle; @param entry its first source, from the root; @param folders its sources lie in
 * @param outside packages of others that are not taken in: those that begin threads or read files of their own, and those that
 *   are not there; left out, all of them
 * @returns its address, for an import
 */
export async function bundled(name, entry, folders, outside) {
  const bundle = join(cache, `${name}.mjs`);
  const made = statSync(bundle, { throwIfNoEntry: false })?.mtimeMs ?? 0;
  const of = ['package-lock.json', 'scripts/bundle.mjs'].map((f) => statSync(join(root, f)).mtimeMs);
  const sources = [...folders.map((f) => newest(join(root, f))), ...of];
  if (made < Math.max(...sources)) {
    const { build } = await import('esbuild');
    const { outputFiles, metafile } = await build({
      entryPoints: { [name]: join(root, entry) },
      bundle: true,
      splitting: true,
      outdir: cache,
      outExtension: { '.js': '.mjs' },
      chunkNames: `${name}.[hash]`,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      write: false,
      metafile: true,
      logLevel: 'silent',
      ...(outside ? { external: outside, banner: { js: REQUIRE } } : {}),
      plugins: [httpByName, ...(outside ? [] : [othersOutside])],
    });
    if (Object.values(metafile.outputs).some((o) => Object.keys(o.inputs).some((path) => LANGUAGES.test(path))))
      throw new Error(`${name} would hold Zod's messages in all languages: write import * as z from 'zod'`);
    mkdirSync(cache, { recursive: true });
    const write = ({ path, contents }) => {
      const part = `${path}.${process.pid}`;
      writeFileSync(part, contents);
      renameSync(part, path);
    };
    // the program itself last: whoever finds it finds all it asks for
    outputFiles.filter((f) => f.path !== bundle).forEach(write);
    outputFiles.filter((f) => f.path === bundle).forEach(write);
    const now = new Set(outputFiles.map((f) => basename(f.path)));
    for (const file of readdirSync(cache))
      if (file.startsWith(`${name}.`) && file.endsWith('.mjs') && !now.has(file))
        rmSync(join(cache, file), { force: true });
  }
  return pathToFileURL(bundle).href;
}
