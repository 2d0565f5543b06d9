/**
 * npm run functions: how many functions are longer than a screen, a package; fails where they are too many. Tests, and
 * tables and schemas that only declare, are not functions.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { root } from './bundle.mjs';

const LINES = 50;
/** Share of a package's functions that may be longer. */
const MOST = { core: 0.03, contract: 0.03, server: 0.03, cli: 0.03, web: 0.04 };

function functionsOf(path) {
  const source = ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true);
  const out = [];
  const visit = (node) => {
    if (ts.isFunctionLike(node) && node.body) {
      const from = source.getLineAndCharacterOfPosition(node.getStart()).line + 1;
      const to = source.getLineAndCharacterOfPosition(node.end).line + 1;
      const name =
        node.name?.getText() ?? (ts.isVariableDeclaration(node.parent) ? node.parent.name.getText() : 'a function');
      out.push({ path, name, from, lines: to - from + 1 });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

let bad = false;
for (const [pack, most] of Object.entries(MOST)) {
  const files = readdirSync(join(root, pack, 'src'), { recursive: true, encoding: 'utf8' }).filter(
    (f) => /\.tsx?$/.test(f) && !/\.test\.|testing\//.test(f),
  );
  const all = files.flatMap((f) => functionsOf(join(root, pack, 'src', f)));
  const long = all.filter((f) => f.lines > LINES).sort((a, b) => b.lines - a.lines);
  const share = all.length > 0 ? long.length / all.length : 0;
  const over = share > most;
  bad ||= over;
  console.log(
    `${pack}: ${long.length} of ${all.length} functions over ${LINES} lines, ${(100 * share).toFixed(1)} % (at most ${100 * most} %)`,
  );
  if (over || process.argv.includes('--list'))
    for (const f of long) console.log(`  ${f.lines} ${f.name}, ${f.path.slice(root.length + 1)}:${f.from}`);
}
if (bad) process.exit(1);
