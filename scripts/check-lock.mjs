// Says which optional platform packages the lockfile lacks. `npm ci` refuses such a lockfile.
import { readFileSync } from 'node:fs';
const l = JSON.parse(readFileSync('package-lock.json', 'utf8')).packages;
const have = new Set(Object.keys(l).map((p) => p.replace(/^.*node_modules\//, '')));
let bad = 0;
for (const [p, i] of Object.entries(l)) {
  const miss = Object.keys(i.optionalDependencies ?? {}).filter((n) => !have.has(n));
  if (miss.length) {
    bad++;
    console.log(
      `${p}@${i.version}: ${miss.length} of ${Object.keys(i.optionalDependencies).length} not in the lock: ${miss.slice(0, 4).join(' ')}`,
    );
  }
}
process.exitCode = bad ? 1 : 0;
