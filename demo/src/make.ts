/** npm run demo:firm: works the made-up firm out anew and writes it down, a job a line. */
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { loadShelf } from '@katharos/shelf';
import { buildDemo } from './build.ts';
import { FIRM_MADE_AT } from './firm.ts';

const file = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const { parts, rules } = loadShelf(file('../../shelf'));
const jobs = buildDemo(parts, rules, FIRM_MADE_AT);
writeFileSync(file('../firm.jsonl'), `${jobs.map((j) => JSON.stringify(j)).join('\n')}\n`);
console.log(`${String(jobs.length)} jobs written to demo/firm.jsonl`);
