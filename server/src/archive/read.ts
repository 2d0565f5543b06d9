import { buffer } from 'node:stream/consumers';
import {
  ARCHIVE_VERSION,
  ArchivedFirmSchema,
  ArchivedPartsSchema,
  ArchivedPeopleSchema,
  ArchivedUnreadableSchema,
  ArchiveHeadSchema,
  type ArchivedPerson,
  type BroughtIn,
} from '@katharos/contract';
import { AnyJobFileSchema, liftJobFile, PartSchema, type HouseRules, type Part } from '@katharos/core';
import { QueryTypes, type Transaction } from 'sequelize';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import type * as z from 'zod';
import type { Db } from '../db/models.ts';
import { ApiProblem } from '../http/problem.ts';
import { broughtIn, writeJob } from '../jobs/file.ts';
import { storeMoves } from '../stock/store.ts';
import { sha256, SUMS } from './write.ts';

/** No file of an archive is larger, bytes: a job with four hundred photographs. */
const MOST_OF_A_FILE = 1_700_000_000;

const fault = (path: string, message: string): ApiProblem =>
  new ApiProblem('bad-value', { errors: [{ path, message }] });

/** An archive that is open: its files by name, each held to what SHA256SUMS says of it. */
interface Opened {
  readonly names: readonly string[];
  readonly checksum: string;
  read: <T>(name: string, schema: z.ZodType<T>) => Promise<T>;
  close: () => void;
}

async function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  for await (const e of zip.eachEntry()) entries.set(e.fileName, e);
  return entries;
}

/** What SHA256SUMS says: hash by name. @throws ApiProblem where it names other files than are there */
function sumsOf(bytes: Buffer, names: readonly string[]): ReadonlyMap<string, string> {
  const lines = bytes.toString('utf8').split('\n').filter(Boolean);
  const sums = new Map(lines.map((l) => [l.slice(66), l.slice(0, 64)]));
  const gone = [...sums.keys()].find((n) => !names.includes(n));
  const more = names.find((n) => n !== SUMS && !sums.has(n));
  if (gone !== undefined) throw fault(gone, 'is named in SHA256SUMS and is not there');
  if (more !== undefined) throw fault(more, 'is not named in SHA256SUMS');
  return sums;
}

/** Opens an archive. @throws ApiProblem 'bad-value': cut short, no firm's archive, of a later version, files that are not as they were written */
async function openArchive(path: string): Promise<Opened> {
  let zip: ZipFile;
  let entries: Map<string, Entry>;
  try {
    zip = await openPromise(path, { autoClose: false });
    entries = await entriesOf(zip);
  } catch {
    throw fault('archive', 'is cut short, or no archive: nothing was brought in');
  }
  const bytesOf = async (name: string): Promise<Buffer> => {
    const entry = entries.get(name);
    if (!entry) throw fault(name, 'is not in the archive');
    if (entry.uncompressedSize > MOST_OF_A_FILE) throw fault(name, 'is larger than any file of an archive');
    try {
      return await buffer(await zip.openReadStreamPromise(entry));
    } catch {
      throw fault(name, 'cannot be unpacked: the archive is damaged');
    }
  };
  try {
    const names = [...entries.keys()];
    const sums = await bytesOf(SUMS);
    const said = sumsOf(sums, names);
    const read = async <T>(name: string, schema: z.ZodType<T>): Promise<T> => {
      const bytes = await bytesOf(name);
      if (sha256(bytes) !== said.get(name)) throw fault(name, 'is not as it was written: its checksum is another');
      const json = ((): unknown => {
        try {
          return JSON.parse(bytes.toString('utf8'));
        } catch {
          throw fault(name, 'does not read as JSON');
        }
      })();
      const parsed = schema.safeParse(json);
      if (parsed.success) return parsed.data;
      const [i] = parsed.error.issues;
      throw fault(name, `${i?.path.join('.') ?? ''}: ${i?.message ?? 'cannot be read'}`);
    };
    const head = await read('archive.json', ArchiveHeadSchema);
    if (head.version > ARCHIVE_VERSION)
      throw fault('archive.json', 'was made by a later release: bring this installation up to date first');
    return { names, read, checksum: sha256(sums), close: () => { zip.close(); } };
  } catch (e) {
    zip.close();
    throw e;
  }
} // oxfmt-ignore

/** Columns that name a person, beside the household's and the job's own, of which an empty firm has none. */
const NAMES_A_PERSON = ['sessions.person_id', 'links.person_id', 'links.made_by', 'feeds.made_by', 'feeds.fitter', 'devices.ended_by', 'people.updated_by', 'parts.updated_by', 'house_rules.updated_by', 'day_table.updated_by']; // oxfmt-ignore

/**
 * Adds who is in the archive. An owner of the name of who brings it in is the same person: they go on under the archive's id,
 * with the password and the devices they have here.
 * @returns who brings it in, as they are called from now on
 */
async function bringPeople(db: Db, people: readonly ArchivedPerson[], by: string, transaction: Transaction): Promise<string> {
  const here = await db.Person.findAll({ transaction });
  const self = here.find((p) => p.id === by);
  const same = people.find((p) => p.id !== by && p.role === 'owner' && p.left === null && p.name.toLowerCase() === self?.name.toLowerCase());
  if (self && same) {
    // for the moment two have the name
    await self.update({ name: self.id }, { transaction });
    await db.Person.create({ id: same.id, name: same.name, role: 'owner', password: self.password, updatedBy: same.id }, { transaction });
    for (const column of NAMES_A_PERSON) {
      const [table = '', name = ''] = column.split('.');
      await db.sequelize.query(`UPDATE ${table} SET ${name} = $1 WHERE ${name} = $2`, { bind: [same.id, self.id], transaction });
    }
    await self.destroy({ transaction });
  }
  const ids = new Set([...here.map((p) => p.id), ...(same ? [same.id] : [])]);
  const names = new Set(here.map((p) => p.name.toLowerCase()));
  for (const p of people) {
    if (ids.has(p.id)) continue;
    let own = p.name;
    for (let n = 2; names.has(own.toLowerCase()); n++) own = `${p.name} ${String(n)}`;
    await db.Person.create({ id: p.id, name: own, role: p.role, leftAt: p.left === null ? null : new Date(p.left), updatedBy: null }, { transaction });
  }
  return same?.id ?? by;
} // oxfmt-ignore

/** Puts the archive's shelf, rules, instruments, day table and stock in the place of what an empty firm began with. */
async function bringShelf(db: Db, zip: Opened, by: string, transaction: Transaction): Promise<{ parts: Part[]; rules: HouseRules; began: ReadonlyMap<string, Date> }> {
  const parts = await zip.read('parts.json', ArchivedPartsSchema);
  const { jobs, rules, instruments, dayTable, stock } = await zip.read('firm.json', ArchivedFirmSchema);
  await db.sequelize.query('TRUNCATE parts, house_rules, day_table', { transaction });
  await db.Part.bulkCreate(parts.map((p) => ({ id: p.id, body: p, updatedBy: by })), { transaction });
  await db.Rules.create({ id: 'firm', body: rules, updatedBy: by }, { transaction });
  await db.Instrument.bulkCreate(instruments.map((i) => ({ id: i.id, body: i, updatedBy: by })), { transaction });
  if (dayTable) await db.DayTable.create({ id: 'firm', body: dayTable, updatedBy: by }, { transaction });
  for (const who of new Set(stock.map((m) => m.by))) await storeMoves(db, stock.filter((m) => m.by === who), who, transaction);
  return { parts: parts.flatMap((p) => PartSchema.safeParse(p).data ?? []), rules, began: new Map(jobs.map((j) => [j.id, new Date(j.began)])) };
} // oxfmt-ignore

async function bringUnreadable(db: Db, zip: Opened, transaction: Transaction): Promise<void> {
  for (const [jobId, { facts, designs }] of Object.entries(await zip.read('unreadable.json', ArchivedUnreadableSchema))) {
    await db.Fact.bulkCreate(facts.map((f) => ({ ...f, at: new Date(f.at), jobId })), { transaction });
    await db.Design.bulkCreate(designs.map((d) => ({ ...d, at: new Date(d.at), jobId })), { transaction });
  }
} // oxfmt-ignore

/** @throws ApiProblem 'fact-conflict' where the firm has something of its own already */
async function isEmpty(db: Db, transaction: Transaction): Promise<void> {
  await db.sequelize.query('LOCK TABLE households, instruments, people IN SHARE ROW EXCLUSIVE MODE', { transaction });
  const households = await db.Household.count({ transaction });
  const instruments = await db.Instrument.count({ transaction });
  const [moves] = await db.sequelize.query<{ n: number }>('SELECT count(*)::int AS n FROM stock_moves', { type: QueryTypes.SELECT, transaction });
  const counted = moves?.n ?? 0;
  if (households + instruments + counted > 0)
    throw new ApiProblem('fact-conflict', {
      detail: `An archive goes into an empty firm: this one has ${String(households)} households, ${String(instruments)} instruments and ${String(counted)} counts of its stock. Nothing was brought in.`,
    });
} // oxfmt-ignore

/**
 * Takes a whole firm in from its archive, whole or not at all: everything keeps its id, and an archive made of it again holds
 * the same. Passwords and devices are not in it: everybody gets a link.
 * @param path where the archive lies @param by who brings it in
 * @throws ApiProblem 'bad-value' with the file of the archive it is about, 'fact-conflict' where the firm is not empty
 */
export async function readArchive(db: Db, path: string, by: string): Promise<BroughtIn> {
  const zip = await openArchive(path);
  try {
    const people = await zip.read('people.json', ArchivedPeopleSchema);
    return await broughtIn(db, by, async (transaction) => {
      await isEmpty(db, transaction);
      const owner = await bringPeople(db, people, by, transaction);
      const { parts, rules, began } = await bringShelf(db, zip, owner, transaction);
      const jobs = zip.names.filter((n) => n.startsWith('jobs/'));
      let pictures = 0;
      for (const name of jobs) {
        const file = liftJobFile(await zip.read(name, AnyJobFileSchema), { catalogue: parts, rules });
        await writeJob(db, file, owner, transaction, began.get(file.jobId ?? '')).catch((e: unknown) => {
          const [error] = e instanceof ApiProblem ? (e.extra.errors ?? []) : [];
          throw error ? fault(name, `${error.path}: ${error.message}`) : e;
        });
        pictures += file.pictures.length;
      }
      await bringUnreadable(db, zip, transaction);
      return { jobs: jobs.length, people: people.length, pictures, checksum: zip.checksum };
    });
  } finally {
    zip.close();
  }
} // oxfmt-ignore
