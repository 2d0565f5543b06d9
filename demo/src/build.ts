import type { DesignVersion, Household, Signed } from '@katharos/contract';
import {
  agreedStep,
  decide,
  extraFrom,
  gaugeField,
  holesInWords,
  holesOf,
  householdTexts,
  partsNeeded,
  pickList,
  readJob,
  proposeLayout,
  roomOf,
  FACT_VERSION,
  jointsOf,
  jointStep,
  judgedSite,
  makeVersion,
  type Catalogue,
  type ChoiceField,
  type CupboardThing,
  type Fact,
  type FieldKey,
  type HouseRules,
  type NewFact,
  type Site,
} from '@katharos/core';
import type { DemoHouse } from './house.ts';
import { HOUSES } from './houses.ts';
import { uuidOf } from './ids.ts';
import type { DemoJob } from './job.ts';
import { proofOf } from './proofs.ts';
import { buildTown } from './years/build.ts';

const HOUR = 3600000;
const DAY = 24 * HOUR;

export const DEMO_PEOPLE = [
  { id: uuidOf('person imra'), name: 'Imra Tole', role: 'owner' },
  { id: uuidOf('person bast'), name: 'Bast Ferrin', role: 'fitter' },
  { id: uuidOf('person orla'), name: 'Orla Venn', role: 'office' },
  { id: uuidOf('person piet'), name: 'Piet Sand', role: 'reader' },
] as const satisfies readonly Signed[];

/** Flow lost and salt passage gained by an ageing element, share a year. */
const AGEING = { flow: 0.06, passage: 0.14 } as const;
/** Months since the start, water temperature and pressure at the visits of three years. */
const VISITS = [
  { month: 0.3, temperatureC: 9, bar: 3.7, jitter: 1.01 },
  { month: 6, temperatureC: 13, bar: 3.8, jitter: 0.98 },
  { month: 12, temperatureC: 5, bar: 3.7, jitter: 1.02 },
  { month: 18, temperatureC: 14, bar: 3.75, jitter: 0.99 },
  { month: 24, temperatureC: 4, bar: 3.7, jitter: 0.97 },
  { month: 29.5, temperatureC: 11, bar: 3.8, jitter: 1.01 },
] as const;

/** How long ago a job began, by how far it has come. */
const BEGAN_MS: Partial<Record<DemoHouse['stage'], number>> = {
  kept: 1095 * DAY,
  mended: 40 * DAY,
  flushing: 5 * HOUR,
};

/** Builds the demo firm's jobs relative to a moment, with designs the core itself decides. @param nowMs ms since 1970 */
export function buildDemo(catalogue: Catalogue, rules: HouseRules, nowMs: number): DemoJob[] {
  const [imra, bast] = DEMO_PEOPLE;
  return [
    ...HOUSES.map((h) => buildJob(h, catalogue, rules, nowMs)),
    ...buildTown(catalogue, rules, nowMs, [imra.id, bast.id]),
  ];
}

function buildJob(house: DemoHouse, catalogue: Catalogue, rules: HouseRules, nowMs: number): DemoJob {
  const jobId = uuidOf(`job ${house.key}`);
  const imra = DEMO_PEOPLE[0].id;
  const facts: Fact[] = [];
  const put = (atMs: number, fact: NewFact): void => {
    const id = uuidOf(`fact ${house.key} ${String(facts.length)}`);
    facts.push({ ...fact, v: FACT_VERSION, id, jobId, at: new Date(atMs).toISOString(), by: imra });
  };
  const beganMs = nowMs - (BEGAN_MS[house.stage] ?? 26 * HOUR);
  let minute = 0;
  for (const [field, r] of Object.entries(house.readings))
    put(beganMs + 60000 * minute++, {
      kind: 'reading',
      field: field as FieldKey,
      value: r.value,
      typed: r.typed,
      ...(r.instrument ? { instrument: r.instrument } : {}),
    });
  if (house.draws) put(beganMs + 60000 * minute++, { kind: 'habits', draws: [...house.draws] });
  for (const [thing, { body, ...spot }] of Object.entries(house.placed ?? {}))
    put(beganMs + 60000 * minute++, {
      kind: 'place',
      thing: thing as CupboardThing,
      spot,
      ...(body ? { body } : {}),
    });
  const household: Household = { id: uuidOf(`household ${house.key}`), ...householdTexts(house), version: 0 };
  const designs: DesignVersion[] = [];
  if (house.stage === 'new' || house.stage === 'gauged') {
    planComing(put, house, null, nowMs);
    return { household, jobId, facts, designs };
  }

  const { known, placed } = readJob(facts);
  // this household wants it sanitised, which the firm does where it is asked to
  const ruled = house.stage === 'sanitising' ? { ...rules, sanitise: true } : rules;
  const input = { known, placed, catalogue, rules: ruled };
  const decision = decide(input);
  if (decision.kind !== 'recommendation') throw new Error(`demo house ${house.key}: ${decision.sentence}`);
  const design = decision.chosen.design;
  const approvedMs = beganMs + HOUR;
  let born = 0;
  const version = makeVersion(
    input,
    { design },
    {
      id: uuidOf(`design ${house.key}`),
      at: new Date(approvedMs).toISOString(),
      by: imra,
      reason: '',
      against: '',
      before: null,
      newId: () => uuidOf(`thing ${house.key} ${String(born++)}`),
    },
  );
  designs.push(version);
  const { sheet, system, id: of } = version;
  const room = house.stage === 'designed' ? null : roomOf(input.known, readJob(facts).placed);
  const stands = room ? proposeLayout(system, room).stands : {};
  for (const [part, { turn, lies, space, ...spot }] of Object.entries(stands))
    put(approvedMs + HOUR, { kind: 'stands', design: of, component: part, spot, turn, lies, space });
  const site = judgedSite(version.judged);
  if (!site) throw new Error(`demo house ${house.key} is not known`);

  for (const name of house.beside ?? []) {
    const extra = extraFrom(name, '', catalogue);
    if (extra)
      put(approvedMs + 1.2 * HOUR, { kind: 'carries', design: of, extra: name, part: extra.part, tee: extra.tee });
  }
  if (house.stage !== 'designed') {
    const worktop = gaugeField('worktop') as ChoiceField;
    const agreed = holesInWords(holesOf(system, site, rules), worktop.options[site.worktop] ?? 'a worktop of unknown material', placed.tap ?? null);
    const needs = Object.entries(partsNeeded(pickList(system, rules, holesOf(system, site, rules), site.stopValveThread)));
    put(approvedMs + 1.4 * HOUR, { kind: 'stock-out', design: of, from: 'van', parts: needs.map(([part, count]) => ({ part, count })) });
    put(approvedMs + 1.5 * HOUR, { kind: 'tick', design: of, step: agreedStep('holes'), done: true, note: agreed });
    for (const j of jointsOf(system))
      put(approvedMs + 2 * HOUR + j.number * 60000, { kind: 'tick', design: of, step: jointStep(j.id), done: true });
  } // oxfmt-ignore
  if (house.stage === 'sanitising') {
    const upTo = sheet.findIndex((s) => s.key === 'sanitise');
    sheet.slice(0, upTo).forEach((s, i) => {
      const read = s.reads ? { read: 0.3 } : {};
      put(nowMs - 0.9 * HOUR + i * 8 * 60000, { kind: 'tick', design: of, step: s.key, done: true, ...read });
    });
    const minutes = sheet[upTo]?.minutes ?? 30;
    put(nowMs - 12 * 60000, { kind: 'timer', design: of, step: 'sanitise', action: 'start', minutes });
  }
  if (house.stage === 'flushing') {
    const upTo = sheet.findIndex((s) => s.key === 'fill-1');
    sheet.slice(0, upTo).forEach((s, i) => {
      put(nowMs - 2.6 * HOUR + i * 9 * 60000, { kind: 'tick', design: of, step: s.key, done: true });
    });
    for (const round of ['look-pressure', 'look-ten'])
      for (const j of jointsOf(system))
        put(nowMs - (round === 'look-ten' ? 0.6 : 1) * HOUR + j.number * 5000, {
          kind: 'look',
          design: of,
          round,
          joint: j.id,
          result: 'dry',
        });
    const minutes = sheet.find((s) => s.key === 'fill-1')?.minutes ?? 60;
    put(nowMs - 25 * 60000, { kind: 'timer', design: of, step: 'fill-1', action: 'start', minutes });
    put(nowMs - 24 * 60000, { kind: 'tube-colour', design: of, branch: 'product', colour: 'blue' });
  }
  if (house.stage === 'dripping') {
    const upTo = sheet.findIndex((s) => s.key === 'look-pressure');
    sheet.slice(0, upTo).forEach((s, i) => {
      put(nowMs - 1.4 * HOUR + i * 12 * 60000, { kind: 'tick', design: of, step: s.key, done: true });
    });
    const joints = jointsOf(system);
    for (const j of joints.slice(0, 14)) {
      const drips = j.kind === 'taper-thread' && !joints.slice(0, j.number - 1).some((x) => x.kind === j.kind);
      const said = drips
        ? { result: 'drip' as const, note: 'A bead at the thread’s root after a minute; feed shut again.' }
        : { result: 'dry' as const };
      put(nowMs - 20 * 60000 + j.number * 8000, {
        kind: 'look',
        design: of,
        round: 'look-pressure',
        joint: j.id,
        ...said,
      });
    }
  }
  if (house.stage === 'mended') {
    sheet.forEach((s, i) => {
      put(beganMs + 4 * HOUR + i * 10 * 60000, { kind: 'tick', design: of, step: s.key, done: true });
    });
    mend(put, version, site, beganMs + 12 * HOUR, (n) => uuidOf(`fact ${house.key} ${String(facts.length + n)}`));
  }
  if (house.stage === 'kept') {
    const startMs = beganMs + 6 * HOUR;
    sheet.forEach((s, i) => {
      put(beganMs + 2 * HOUR + i * 10 * 60000, { kind: 'tick', design: of, step: s.key, done: true });
    });
    keepYears(put, version, site, startMs);
  }
  planComing(put, house, version, nowMs);
  return { household, jobId, facts, designs };
}

/** Visits that are planned for today and tomorrow, with what they are to change. */
function planComing(
  put: (atMs: number, fact: NewFact) => void,
  house: DemoHouse,
  version: DesignVersion | null,
  nowMs: number,
): void {
  for (const [i, { inHours, reason, change, between }] of (house.coming ?? []).entries()) {
    const toChange = version?.system.components.filter((c) => change?.includes(c.kind) === true).map((c) => c.id) ?? [];
    put(nowMs - 20 * HOUR + i * 60000, {
      kind: 'visit',
      on: new Date(nowMs + inHours * HOUR).toISOString(),
      reason,
      changed: [],
      ...(version ? { design: version.id } : {}),
      toChange,
      ...(between ? { between } : {}),
    });
  }
}

/** A brine seal that sat wrong, found by the first proof, seated, proved; the baseline after a week. */
function mend(
  put: (atMs: number, fact: NewFact) => void,
  version: DesignVersion,
  site: Site,
  firstMs: number,
  nextId: (n: number) => string,
): void {
  const first = nextId(0);
  for (const [i, { after, salt, flow }] of [
    { after: 0, salt: 6, flow: 1.35 },
    { after: 50 * 60000, salt: 1.04, flow: 0.99 },
    { after: 8 * DAY, salt: 0.98, flow: 1.01 },
  ].entries()) {
    put(
      firstMs + after,
      proofOf(version, site, {
        bar: 3.9,
        temperatureC: site.todayC,
        feedTdsMgL: site.tdsMgL,
        flow,
        salt,
        ...(i === 1
          ? {
              beside: { drainWhenFullLMin: [0, 'L/min', 0] },
              mended: {
                proof: first,
                done: 'Membrane out: brine seal had rolled over; wetted, seated home, pushed in square.',
              },
            }
          : {}),
      }),
    );
  }
}

/** Visits and proofs of three years: an element ageing in warm and cold water, cartridges changed, now somewhat late. */
function keepYears(
  put: (atMs: number, fact: NewFact) => void,
  version: DesignVersion,
  site: Site,
  startMs: number,
): void {
  const { system } = version;
  const changed = (...kinds: string[]): string[] =>
    system.components.filter((c) => kinds.includes(c.kind)).map((c) => c.id);
  VISITS.forEach((v, i) => {
    const atMs = startMs + v.month * 30.44 * DAY;
    const years = v.month / 12;
    const flow = (1 - AGEING.flow * years) * v.jitter;
    const salt = (1 + AGEING.passage * years) * (2 - v.jitter);
    put(
      atMs,
      proofOf(version, site, {
        bar: v.bar,
        temperatureC: v.temperatureC,
        feedTdsMgL: site.tdsMgL + (i % 2 === 0 ? 3 : -4),
        flow,
        salt,
        beside: { chlorineMgL: [i % 3 === 2 ? 0.05 : 0.02, 'mg/L', 2] },
      }),
    );
    if (i === 0) return;
    const yearly = i % 2 === 0;
    put(atMs + HOUR, {
      kind: 'visit',
      design: version.id,
      reason: yearly ? 'Yearly change' : 'Half-year change',
      changed: yearly ? changed('sediment', 'carbon', 'polish') : changed('sediment'),
      note: i === 4 ? 'Cold week: slow at the tap, yet as expected for 4 °C.' : 'Joints dry, drain stops when full.',
    });
  });
}
