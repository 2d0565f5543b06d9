// Prints the lock file with each package's address at the registry given, for npm ci: the lock file names no registry, and
// without addresses npm first reads, package by package, the list of all its versions: half the time an installation takes.
import { readFileSync } from 'node:fs';

const registry = new URL(process.argv[2]).href.replace(/\/*$/, '/');
const lock = JSON.parse(readFileSync('package-lock.json', 'utf8'));
for (const [folder, entry] of Object.entries(lock.packages)) {
  if (!folder.includes('node_modules/') || entry.link || entry.resolved) continue;
  const name = entry.name ?? folder.replace(/^.*node_modules\//, '');
  entry.resolved = `${registry}${name}/-/${name.replace(/^.*\//, '')}-${entry.version}.tgz`;
}
console.log(JSON.stringify(lock));
