import { DayTableSchema, HouseRulesSchema, InstrumentSchema, text, uuid } from '@katharos/core';
import * as z from 'zod';
import { StockMoveSchema } from './api.ts';
import { RoleSchema } from './signing.ts';

/**
 * The whole firm as one archive: a ZIP with the files named here, `jobs/ID.json` for each job (job files as a single one is,
 * without a shelf of their own), and `SHA256SUMS`, which names every other file and what it hashes to.
 */
export const ARCHIVE_VERSION = 1;

/** `archive.json`: which format the rest is in. Read first, so that a later one is told as such. */
export const ArchiveHeadSchema = z.object({
  format: z.literal('katharos-firm'),
  version: z.number().int().positive(),
});

/** `people.json`: who is and was with the firm. Passwords and devices stay where they are. */
export const ArchivedPeopleSchema = z
  .array(z.strictObject({ id: uuid(), name: text(120).min(1), role: RoleSchema, left: z.iso.datetime().nullable() }))
  .max(2000);
export type ArchivedPerson = z.infer<typeof ArchivedPeopleSchema>[number];

/** `parts.json`: the shelf in its order. A part this release cannot read stays as it is. */
export const ArchivedPartsSchema = z.array(z.looseObject({ id: text(80).min(1) })).max(20000);

/** `firm.json`: its jobs with when each began, house rules, instruments, what a day is planned by, movements of the stock with who made them. */
export const ArchivedFirmSchema = z.strictObject({
  jobs: z.array(z.strictObject({ id: uuid(), began: z.iso.datetime() })).max(200_000),
  rules: HouseRulesSchema,
  instruments: z.array(InstrumentSchema).max(2000),
  dayTable: DayTableSchema.nullable(),
  stock: z.array(StockMoveSchema.extend({ by: uuid() })).max(1_000_000),
});

const row = { id: uuid(), at: z.iso.datetime({ offset: true }), by: uuid(), body: z.unknown() };
/** `unreadable.json`: by job, what could not be read when the archive was made, as it is stored. */
export const ArchivedUnreadableSchema = z.record(
  uuid(),
  z.strictObject({
    facts: z.array(z.strictObject({ ...row, kind: text(60) })).max(20000),
    designs: z.array(z.strictObject({ ...row, number: z.number().int().positive() })).max(500),
  }),
);

/** What an archive brought in. */
export interface BroughtIn {
  readonly jobs: number;
  readonly people: number;
  readonly pictures: number;
  /** SHA-256 of the archive's SHA256SUMS: the same for the same firm, whenever the archive was made */
  readonly checksum: string;
}
