import {
  CatalogueSchema,
  DayTableSchema,
  AnyJobFileSchema,
  ApprovedVersionSchema,
  DesignVersionSchema,
  FactSchema,
  hasFactShape,
  householdShape,
  laterTexts,
  moment,
  STOCK_PLACES,
  StoredVersionSchema,
  text as storedText,
  uuid,
  versionNumber,
  HouseRulesSchema,
  InstrumentSchema,
  PartSchema,
  type ToldBeside,
  type DayTable,
  type Decision,
  type DesignVersion,
  type Fact,
  type FieldKey,
  type Unreadable,
  type JobSummary,
  type Known,
  type LookUpLine,
  type Placed,
  type StandingDesign,
} from '@katharos/core';
import * as z from 'zod';

/** A stored text, trimmed. */
const text = (max: number) => z.string().trim().pipe(storedText(max));

export const PersonSchema = z.object({ id: uuid(), name: z.string() });
export type Person = z.infer<typeof PersonSchema>;

/** A household as people edit it; `version` guards against overwriting another's edit. */
export const HouseholdEditSchema = z.object({
  ...householdShape(text),
  name: z.string().trim().min(1, 'Give the household a name.').pipe(storedText(120)),
});
export type HouseholdEdit = z.infer<typeof HouseholdEditSchema>;
export const HouseholdSchema = HouseholdEditSchema.extend({ id: uuid(), version: versionNumber() });
export type Household = z.infer<typeof HouseholdSchema>;

export const NewHouseholdSchema = HouseholdEditSchema.extend({ id: uuid(), jobId: uuid() });
export type NewHousehold = z.infer<typeof NewHouseholdSchema>;
/** An edit; what an earlier release does not know of stays as it is. */
export const PutHouseholdSchema = HouseholdEditSchema.extend({ ...laterTexts(text), version: versionNumber() });
export type PutHousehold = z.infer<typeof PutHouseholdSchema>;

/** Facts sent together; each is stored once however often it is sent. */
export const PostFactsSchema = z.object({ facts: z.array(FactSchema).min(1).max(500) });

/** A design to be kept as built; its number is the next after the version it was based on. */
export const NewDesignSchema = z.object({ version: ApprovedVersionSchema });
export interface NewDesign {
  readonly version: DesignVersion;
}
export { DesignVersionSchema, StoredVersionSchema, type DesignVersion };

/** A job file brought in by somebody of the firm. */
export const ImportJobSchema = z.object({ file: AnyJobFileSchema });

export const JobSchema = z.object({
  id: uuid(),
  household: HouseholdSchema,
  /** whatever has been narrowed since, what was stored opens */
  facts: z.array(z.custom<Fact>(hasFactShape, 'is no fact')),
  designs: z.array(StoredVersionSchema as unknown as z.ZodType<DesignVersion>),
  /** what cannot be read any more, as it was said */
  unreadable: z.array(z.object({ id: z.string(), what: z.enum(['fact', 'design']), said: z.string() })),
});
export interface Job {
  readonly id: string;
  readonly household: Household;
  readonly facts: Fact[];
  readonly designs: DesignVersion[];
  readonly unreadable: readonly Unreadable[];
}

const version = versionNumber();
export const StoredInstrumentSchema = InstrumentSchema.extend({ version });
export type StoredInstrument = z.infer<typeof StoredInstrumentSchema>;

export const ShelfSchema = z.object({
  parts: CatalogueSchema,
  /** parts that are stored and cannot be read any more */
  unreadableParts: z.array(z.string()).default([]),
  /** version of each part, by id */
  partVersions: z.record(z.string(), version),
  rules: HouseRulesSchema,
  rulesVersion: version,
  /** names parts and rules by what they say: of two shelves with one stamp both say the same */
  stamp: z.string().default(''),
  instruments: z.array(StoredInstrumentSchema),
  people: z.array(PersonSchema),
});

/** The whole of the house rules, against the version they were read at. */
export const PutRulesSchema = z.object({ rules: HouseRulesSchema, version });
export const StoredRulesSchema = z.object({ rules: HouseRulesSchema, version });

/** One part as it shall be; version null adds one that is not there. */
export const PutPartSchema = z.object({ part: PartSchema, version: version.nullable() });
export const StoredPartSchema = z.object({ part: PartSchema, version });

/** Many parts at once, whole or not at all; `versions` has those that are there already and are to be replaced. */
export const ImportPartsSchema = z.object({
  parts: z.array(PartSchema).min(1).max(2000),
  versions: z.record(z.string(), version),
});

export const PutInstrumentSchema = z.object({
  instrument: InstrumentSchema,
  version: version.nullable(),
});
export type Shelf = z.infer<typeof ShelfSchema>;

/**
 * What the server decided of a job, and what it was decided from. It holds for a page that reads the same out of the job, has
 * a shelf of the same stamp and computes by the same core; any other decides by itself.
 */
export interface KeptDecision {
  readonly known: Known;
  readonly placed: Placed;
  /** what was approved already */
  readonly standing: StandingDesign | null;
  readonly stamp: string;
  readonly coreVersion: string;
  readonly decision: Decision;
  /** what is told beside it, where a quiet hour let the server work that out too */
  readonly beside: KeptBeside | null;
}
export interface KeptBeside {
  /** what the instruments of its readings said of their errors */
  readonly errors: Partial<Record<FieldKey, number>>;
  readonly told: ToldBeside;
}

/** One movement of the firm's stock: what was counted there, or what was added (or, below 0, taken for another use). */
export const StockMoveSchema = z.object({
  id: uuid(),
  part: storedText(80).min(1),
  place: z.enum(STOCK_PLACES),
  /** whose van; left out, the one van of the firm */
  vanOf: uuid().optional(),
  kind: z.enum(['count', 'add']),
  /** pieces, or metres of tube */
  count: z.number().min(-10000).max(10000),
  note: storedText(200).default(''),
  at: moment(),
});
export type StockMove = z.infer<typeof StockMoveSchema>;
export const PostStockSchema = z.object({ moves: z.array(StockMoveSchema).min(1).max(200) });

/** What lies where, as counted, added and taken into jobs since; what approved jobs still take. */
export const StockSchema = z.object({
  levels: z.array(
    z.object({
      part: z.string(),
      /** all vans together */
      van: z.number(),
      store: z.number(),
      /** each van by whose it is; `shared` is one that is nobody's own */
      vans: z.record(z.string(), z.number()),
    }),
  ),
  /** who has a van of their own: what they take out of a van comes out of that */
  vansOf: z.array(uuid()),
  /** by part, of approved systems that are not in service yet */
  reserved: z.record(z.string(), z.number()),
});
export type Stock = z.infer<typeof StockSchema>;

/** What of a part lies in the van somebody drives: their own, or the firm's where they have none. @param person null is nobody known */
export function inVanOf({ levels, vansOf }: Stock, part: string, person: string | null): number {
  const vans = levels.find((l) => l.part === part)?.vans ?? {};
  return (person !== null && vansOf.includes(person) ? vans[person] : vans.shared) ?? 0;
}

/** One line of the day's round. */
export interface RoundsEntry {
  readonly jobId: string;
  readonly household: Household;
  readonly summary: JobSummary;
}

/** A list a page at a time: `next` is sent back as `after` for the next one. */
export interface RoundsPage {
  readonly entries: readonly RoundsEntry[];
  readonly next: string | null;
}

/** The working day. */
export interface Rounds {
  /** jobs with a clock running, the first to be due first */
  readonly clocks: readonly RoundsEntry[];
  /** jobs with something due within a month, the longest overdue first */
  readonly due: readonly RoundsEntry[];
  /** jobs with a visit dated from yesterday to the day after tomorrow, by the server's clock */
  readonly visits: readonly RoundsEntry[];
  readonly open: RoundsPage;
  readonly kept: RoundsPage;
  /** jobs whose line is still being brought up to what is stored */
  readonly behind: number;
}

/** What is due is told so far ahead, days. */
export const COMING_DAYS = 182;
/** Houses with something due within that time, the first to be due first. */
export interface Coming {
  readonly entries: readonly RoundsEntry[];
}

const cursor = z
  .string()
  .regex(
    /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6}Z [0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/,
    'is no place in the list',
  )
  .refine((s) => !Number.isNaN(Date.parse(s.slice(0, 23) + 'Z')) && s >= '1', 'is no place in the list');
export const RoundsQuerySchema = z.object({ find: storedText(120).default(''), after: cursor.optional() });

/** What somebody looks for anywhere. */
export const FindQuerySchema = z.object({ q: storedText(120).default('') });

/** A house that was found, with what was said of it that matches, newest first among equals. */
export interface FoundHouse {
  readonly jobId: string;
  readonly name: string;
  readonly place: string;
  readonly lines: readonly LookUpLine[];
}
export interface Found {
  readonly houses: readonly FoundHouse[];
}

/** A day to be planned, YYYY-MM-DD. */
export const DayQuerySchema = z.object({ on: z.iso.date() });
/** What a day is planned by, against the version it was read at; null writes it down first. */
export const PutDayTableSchema = z.object({ table: DayTableSchema, version: version.nullable() });
/** A day's visits and clocks, by the server's clock a day wider either way. */
export interface Day {
  readonly entries: readonly RoundsEntry[];
  readonly table: DayTable;
  /** null where nothing was written down yet */
  readonly version: number | null;
}

/** A bound that an earlier answer gave. */
export const SinceSchema = z.object({
  since: z
    .string()
    .regex(/^\d{1,19}$/, 'is no bound')
    .optional(),
});

/** What was written since a bound: sent back as `since` it skips nothing, and may tell a job twice. */
export interface Changes {
  readonly bound: string;
  /** a mark that differs once parts, rules, instruments or people do */
  readonly shelf: string;
  readonly jobs: readonly string[];
  /** more than are told here */
  readonly many: boolean;
}
