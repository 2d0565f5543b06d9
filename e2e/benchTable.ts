/** What the fixed piece of work takes on two ordinary cores, ms: the middle of what they give from hour to hour (210 to 400). */
const ORDINARY_MS = 250;

interface Row {
  readonly what: string;
  readonly figure: string;
  readonly ordinary: string;
  readonly goal: string;
  readonly met: boolean | null;
}
const rows: Row[] = [];
const shown = (v: number): string => (v < 10 ? v.toFixed(2) : String(Math.round(v)));

/** Of some the one that `of` of them are below; all of them, the highest. */
export const share = (list: readonly number[], of: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(of * list.length))] ?? 0;
export const median = (list: readonly number[]): number => share(list, 0.5);
/** The highest but a twentieth of them. */
export const highest = (list: readonly number[]): number => share(list, 0.95);

/** @returns what each of `n` runs took, ms */
export const time = (n: number, f: (i: number) => unknown): number[] =>
  Array.from({ length: n }, (_, i) => {
    const t = performance.now();
    f(i);
    return performance.now() - t;
  });

/** Arithmetic, an array walked across and text parsed: none of it the project's own. @returns ms */
function fixedWork(): number {
  const began = performance.now();
  const walked = new Float64Array(4096);
  let x = 0.5;
  for (let i = 0; i < 4e6; i++) {
    x = Math.exp(-x * x) + 1e-3 * (i & 15);
    walked[i & 4095] = (walked[i & 4095] ?? 0) + x / (1 + (walked[(i * 7) & 4095] ?? 0));
  }
  const text = JSON.stringify(
    Array.from({ length: 20000 }, (_, i) => ({ id: i, name: `row ${String(i)}`, v: [i / 3, i / 7] })),
  );
  for (let i = 0; i < 3; i++) JSON.parse(text);
  return performance.now() - began;
}
fixedWork();
const paces = [fixedWork()];
/** What a time is divided by to have it at an ordinary pace, from the fixed work before and after it. */
function paceNow(): number {
  const before = paces.at(-1) ?? ORDINARY_MS;
  const after = fixedWork();
  paces.push(after);
  return (before + after) / 2 / ORDINARY_MS;
}

/** Puts a figure beside its goal. */
export function put(what: string, measured: number, unit: string, goal?: { most?: number; least?: number }): void {
  const timed = unit === 's' || unit === 'ms';
  const figure = timed ? measured / paceNow() : measured;
  const met = goal ? figure <= (goal.most ?? Infinity) && figure >= (goal.least ?? -Infinity) : null;
  const words =
    goal?.most !== undefined
      ? `at most ${String(goal.most)} ${unit}`
      : goal?.least !== undefined
        ? `at least ${String(goal.least)} ${unit}`
        : '';
  rows.push({
    what,
    figure: `${shown(measured)} ${unit}`,
    ordinary: timed ? `${shown(figure)} ${unit}` : '',
    goal: words,
    met,
  });
}

/** Prints all that was put. */
export function printTable(): void {
  console.log(
    `The fixed piece of work took ${shown(Math.min(...paces))} to ${shown(Math.max(...paces))} ms, ${shown(median(paces))} ms in the middle; ordinarily ${String(ORDINARY_MS)} ms.\n`,
  );
  const line = (what: string, figure: string, ordinary: string, goal: string): string =>
    `${what.padEnd(56)} ${figure.padStart(16)} ${ordinary.padStart(18)}   ${goal}`;
  console.log(line('', 'measured', 'at ordinary pace', 'goal'));
  for (const r of rows)
    console.log(line(r.what, r.figure, r.ordinary, `${r.goal}${r.met === null ? '' : r.met ? ', met' : ', NOT met'}`));
}
