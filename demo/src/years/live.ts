import {
  bell,
  lifeAt,
  operateIn,
  partIn,
  readJob,
  seeded,
  asBuilt,
  spansAsBuilt,
  type DesignVersion,
  GATHER_DAYS,
  type Fact,
  type Life,
  type NewFact,
  type Random,
  type Site,
} from '@katharos/core';
import { proofOf } from '../proofs.ts';
import type { TownHouse } from './town.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const { exp } = Math;

/** Writes a fact down as having happened then. */
export type Put = (atMs: number, fact: NewFact, by?: string) => Fact;

/** Elements that came in one delivery: those of a bad one lose their rejection within a year or so. */
const BAD_BATCH = { part: 'Element 190', fromDaysAgo: 800, untilDaysAgo: 260, name: 'E-4417' } as const;

/** An element as it really is. */
interface Element {
  readonly sinceMs: number;
  readonly serial: string;
  /** product flow lost and salt passage gained a year, as exponents */
  readonly flowAYear: number;
  readonly saltAYear: number;
  readonly flow: number;
  readonly salt: number;
}

function newElement(random: Random, part: string, sinceMs: number, nowMs: number, key: string): Element {
  const daysAgo = (nowMs - sinceMs) / DAY;
  const bad = part === BAD_BATCH.part && daysAgo <= BAD_BATCH.fromDaysAgo && daysAgo >= BAD_BATCH.untilDaysAgo;
  // a delivery lasts some months
  const batch = bad ? BAD_BATCH.name : `E-${String(3100 + Math.floor(daysAgo / 120))}`;
  return {
    sinceMs,
    serial: `${batch}/${key.replace('town-', '')}`,
    flowAYear: 0.06 * exp(0.4 * bell(random)),
    saltAYear: bad ? 0.75 : 0.13 * exp(0.5 * bell(random)),
    flow: exp(0.05 * bell(random)),
    salt: exp(0.1 * bell(random)),
  };
}

/** Days from the middle of January: the water of the town is coldest some weeks after it. */
const COLDEST_DAY = 40;
/** The year's part of a moment, 0 to 1, from the first of January. */
const yearPart = (ms: number): number => {
  const d = new Date(ms);
  return (ms - Date.UTC(d.getUTCFullYear(), 0, 1)) / (365.25 * DAY);
};
/** Water as it comes in then, °C: the year's swing between the coldest of the house and as much above its day of gauging. */
function waterC(site: Site, ms: number): number {
  const swing = Math.max(1, site.todayC - site.coldestC);
  const middle = site.coldestC + swing;
  return Math.max(3, middle - swing * Math.cos(2 * Math.PI * (yearPart(ms) - COLDEST_DAY / 365)));
}

/** What a year's visits find, in the words of whoever is there. */
const FINDS = [
  'Joints dry, drain stops when full.',
  'Joints dry. Dust on the transformer wiped off.',
  'Drain stops after two minutes; joints dry.',
  'They had wondered about air in the glass: gone within a minute, told why.',
  'Cupboard full: everything out first. Joints dry.',
] as const;

/** Everything one house has been through since its system was put in, as facts. */
export class Years {
  private readonly random: Random;
  private element: Element;
  private readonly bar: number;
  private readonly of: TownHouse;
  private readonly version: DesignVersion;
  private readonly site: Site;
  private readonly nowMs: number;
  private readonly put: Put;
  private readonly facts: readonly Fact[];
  constructor(
    of: TownHouse,
    version: DesignVersion,
    site: Site,
    startMs: number,
    nowMs: number,
    facts: readonly Fact[],
    put: Put,
  ) {
    this.of = of;
    this.version = version;
    this.site = site;
    this.nowMs = nowMs;
    this.put = put;
    this.facts = facts;
    this.random = seeded(1 + Number(of.key.replace('town-', '')));
    this.element = newElement(this.random, this.membrane(), startMs, nowMs, of.key);
    this.bar = operateIn(version.system, site, 'today').middle.inletBar;
    this.fit(startMs);
  }

  private ids(...kinds: string[]): string[] {
    return this.version.system.components.filter((c) => kinds.includes(c.kind)).map((c) => c.id);
  }

  private membrane(): string {
    return partIn(this.version.system, 'element')?.name ?? '';
  }

  /** The element that went in, with its delivery. */
  private fit(ms: number): void {
    const membrane = this.version.system.components.find((c) => c.kind === 'membrane');
    if (membrane?.part)
      this.put(ms, { kind: 'fitted', design: this.version.id, component: membrane.id, part: membrane.part, serial: this.element.serial });
  } // oxfmt-ignore

  /** A proof then. @returns how the element really does, times a new one */
  proof(ms: number, note?: string): { readonly flow: number; readonly salt: number } {
    const { random, element: e, site } = this;
    const years = (ms - e.sinceMs) / (365.25 * DAY);
    const flow = e.flow * exp(-e.flowAYear * years);
    const salt = e.salt * exp(e.saltAYear * years);
    const carbon = this.ids('carbon').length > 0;
    this.put(ms, proofOf(this.version, site, {
      bar: Number((this.bar * (1 + 0.02 * bell(random))).toFixed(2)),
      temperatureC: Math.round(waterC(site, ms)),
      feedTdsMgL: site.tdsMgL * (1 + 0.015 * bell(random)),
      flow: flow * (1 + 0.025 * bell(random)),
      salt: salt * (1 + 0.04 * bell(random)),
      ...(carbon ? { beside: { chlorineMgL: [random() < 0.8 ? 0.02 : 0.05, 'mg/L', 2] as const } } : {}),
      ...(note === undefined ? {} : { note }),
    })); // oxfmt-ignore
    return { flow, salt };
  }

  /** A change as it was logged, with how what came out looked. */
  change(ms: number, reason: string, components: readonly string[], note: string): void {
    const { random, version, put } = this;
    for (const component of components) {
      const c = version.system.components.find((x) => x.id === component);
      if (c?.kind !== 'sediment') continue;
      // some streets have rust
      const brown = this.of.place.startsWith('By the weir') && random() < 0.6;
      put(ms - HOUR / 2, { kind: 'came-out', design: version.id, component, state: brown ? 'spent' : random() < 0.3 ? 'fresh' : 'as-due' });
    }
    put(ms, { kind: 'visit', design: version.id, reason, changed: [...components], note });
  } // oxfmt-ignore

  /** Everything that is due by its life, as the firm would have seen it then: what falls within some weeks goes along. */
  private lives(ms: number): Life[] {
    const past = this.facts.filter((f) => Date.parse(f.at) <= ms);
    const built = asBuilt([this.version], past);
    return built ? spansAsBuilt(built).map((s) => lifeAt(s, ms)).filter((l) => l.kind !== 'membrane') : [];
  } // oxfmt-ignore

  /** When somebody comes next: when the first thing is due, somewhat early or late. */
  next(ms: number): number {
    const due = Math.min(...this.lives(ms).map((l) => l.dueMs), ms + 200 * DAY);
    return Math.max(due + (-12 + 36 * this.random()) * DAY, ms + 60 * DAY);
  }

  /** A visit: read, change what is due, a new element where this one is spent. */
  visit(ms: number): void {
    const { random } = this;
    const { flow, salt } = this.proof(ms - HOUR);
    const cold = waterC(this.site, ms) < this.site.coldestC + 2;
    const note = cold ? 'Cold week: slow at the tap, yet as expected for the water.' : (FINDS[Math.floor(random() * FINDS.length)] ?? '');
    const due = this.lives(ms).filter((l) => l.dueMs < ms + GATHER_DAYS * DAY);
    const spent = flow < 0.72 || salt > 2.2;
    const membrane = spent ? this.ids('membrane') : [];
    const components = [...due.map((l) => l.componentId), ...membrane];
    const reason = components.length > 0 ? `Change of ${[...due.map((l) => l.label), ...(spent ? ['membrane'] : [])].join(', ')}` : 'Read it';
    this.change(ms, reason, components, spent ? `${note} Membrane spent: changed.` : note);
    if (!spent) return;
    this.element = newElement(random, this.membrane(), ms, this.nowMs, this.of.key);
    this.fit(ms + HOUR);
    this.proof(ms + 2 * HOUR, 'After the new membrane, two tanks poured away.');
    // its own baseline, once its first days are over
    if (ms + 9 * DAY < this.nowMs) this.proof(ms + 9 * DAY, 'The baseline of the new membrane.');
  } // oxfmt-ignore

  /** They called; somebody came within days, mended it and proved it. */
  call(ms: number): void {
    const [complaint, words, done] = ([
      ['drain-runs', 'We hear it run all night.', 'Shut-off valve cleaned, its diaphragm turned.'],
      ['leak', 'The cupboard floor is wet at the back.', 'Tube pushed home at the polish, a drop a minute before.'],
      ['slow', 'A glass takes half a minute now.', 'Tank’s air filled up with the tank empty.'],
    ] as const)[Math.floor(3 * this.random())] ?? ['slow', '', ''] as const; // oxfmt-ignore
    this.put(ms, { kind: 'call', design: this.version.id, complaint, words });
    if (ms + 2 * DAY > this.nowMs) return;
    this.put(ms + 2 * DAY, {
      kind: 'visit',
      design: this.version.id,
      reason: `They called: ${words}`,
      changed: [],
      note: done,
    });
    this.proof(ms + 2 * DAY + HOUR, done);
  }

  /** A notice in their district, lifted days later, and the visit after it. */
  notice(ms: number): void {
    const { put } = this;
    put(ms, { kind: 'happened', event: 'boil-notice', words: 'The waterworks, after a burst main.' });
    put(ms + 4 * DAY, { kind: 'happened', event: 'notice-lifted', words: 'The waterworks.' });
    this.change(ms + (6 + 3 * this.random()) * DAY, 'After the notice: pre-filters, sanitised', this.ids('sediment', 'carbon'), 'Sanitised, tank poured away twice.');
  } // oxfmt-ignore

  /** What becomes of it beside its changes. @param startMs it was put in */
  fate(startMs: number): void {
    const { put, nowMs, version } = this;
    const happened = (ms: number, event: (NewFact & { kind: 'happened' })['event'], words: string): Fact => put(ms, { kind: 'happened', event, words });
    switch (this.of.fate) {
      case 'sold': {
        const ms = nowMs - 400 * DAY;
        happened(ms, 'new-owner', 'Sold: the couple with the two boys. Told over the telephone.');
        put(ms + 9 * DAY, { kind: 'visit', design: version.id, reason: 'Show it to the new household', changed: [], note: 'How it is shut, whom to call; the sheet left with them.' });
        break;
      }
      case 'taken-out':
        happened(nowMs - 80 * DAY, 'taken-out', 'Kitchen torn out; valve capped, drain closed, element thrown away.');
        break;
      case 'adopted':
        happened(startMs, 'adopted', 'Nobody knows how old any of it is; no papers.');
        break;
      case 'away':
        put(nowMs - 3 * DAY, { kind: 'happened', event: 'away', from: new Date(nowMs - 2 * DAY).toISOString(), until: new Date(nowMs + 9 * DAY).toISOString(), words: 'The shop below has the key.' });
        break;
      case 'froze': {
        const ms = nowMs - 290 * DAY;
        happened(ms, 'frost', 'Window left open over the holidays; ice in the first bowl.');
        put(ms + DAY, { kind: 'visit', design: version.id, reason: 'It froze', changed: this.ids('sediment'), note: 'First bowl cracked: another one in. All joints dry under pressure.' });
        this.proof(ms + DAY + 2 * HOUR, 'After the frost: as before.');
        break;
      }
      case 'sampled': {
        const lead = put(nowMs - 61 * DAY, { kind: 'sampled', water: 'product', sought: 'minerals', words: 'Old pipes in the street: they asked for lead. No. 2207.' });
        put(nowMs - 49 * DAY, { kind: 'answered', sample: lead.id, finding: 'clean', words: 'Lead below 1 µg/L, raw water 6.' });
        put(nowMs - 4 * DAY, { kind: 'sampled', water: 'product', sought: 'organics', words: 'For their own peace of mind. No. 2391.' });
        break;
      }
      case 'unanswered':
        put(nowMs - 26 * DAY, { kind: 'sampled', water: 'raw', sought: 'minerals', words: 'Nitrate of the supplier’s sheet doubted. No. 2318.' });
        break;
      case 'called':
        put(nowMs - 5 * HOUR, { kind: 'call', design: version.id, complaint: 'tastes', words: 'Since the weekend it tastes of rubber.' });
        break;
    }
  } // oxfmt-ignore
}

/** A visit that is due within the coming week, as somebody planned it: its day, what it is to change. */
export function planDue(version: DesignVersion, facts: readonly Fact[], nth: number, nowMs: number, fitters: readonly string[], put: Put): boolean {
  const built = asBuilt([version], facts);
  if (built?.outMs !== null) return false;
  const lives = spansAsBuilt(built).map((s) => lifeAt(s, nowMs));
  const due = lives.filter((l) => l.kind !== 'membrane' && l.dueMs < nowMs + GATHER_DAYS * DAY);
  if (due.length === 0 || readJob(facts).visits.some((v) => v.toChange !== undefined)) return false;
  // three a day, from the day after tomorrow on
  const day = nowMs + (1 + Math.floor(nth / 3)) * DAY;
  const fitter = fitters[nth % fitters.length];
  put(nowMs - (2 + (nth % 5)) * DAY, {
    kind: 'visit',
    design: version.id,
    on: new Date(day + (nth % 3) * HOUR).toISOString(),
    reason: due.length > 1 ? 'Yearly change' : 'Half-year change',
    changed: [],
    toChange: due.map((l) => l.componentId),
    ...(nth % 3 === 0 ? { between: { fromMin: 480 + 60 * (nth % 4), untilMin: 900 } } : {}),
    ...(fitter === undefined ? {} : { fitter }),
  });
  return true;
} // oxfmt-ignore

/** Lives a house's years: first proofs, visits for what is due, calls, notices, its fate. @param facts what happened so far, which `put` adds to @param startMs it worked first */
export function liveYears(of: TownHouse, version: DesignVersion, site: Site, startMs: number, nowMs: number, facts: readonly Fact[], put: Put): void {
  const random = seeded(of.name.length + of.daysAgo);
  const untilMs = of.fate === 'taken-out' ? nowMs - 81 * DAY : nowMs;
  const years = new Years(of, version, site, startMs, nowMs, facts, put);
  const told = [
    { ms: of.place.startsWith('By the weir') ? nowMs - 250 * DAY : Infinity, tell: (ms: number) => { years.notice(ms); } },
    { ms: random() < 0.35 ? startMs + (120 + 900 * random()) * DAY : Infinity, tell: (ms: number) => { years.call(ms); } },
  ].filter((t) => t.ms > startMs + 30 * DAY && t.ms < untilMs - 12 * DAY).sort((a, b) => a.ms - b.ms);
  if (of.fate === 'adopted') years.fate(startMs);
  years.proof(startMs + HOUR);
  if (startMs + 12 * DAY < untilMs) years.proof(startMs + (8 + 4 * random()) * DAY, 'The baseline: a week’s use behind it.');
  for (let ms = years.next(startMs + 13 * DAY); ; ms = years.next(ms)) {
    // what comes in between is told first: what is due hangs on it
    for (let t = told[0]; t && t.ms < ms; t = told[0]) {
      told.shift();
      t.tell(t.ms);
      ms = Math.max(ms, t.ms + 20 * DAY);
    }
    if (ms >= untilMs) break;
    years.visit(ms);
  }
  if (of.fate !== 'adopted') years.fate(startMs);
} // oxfmt-ignore
