import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { ARCHIVE_VERSION } from '@katharos/contract';
import { QueryTypes, Transaction } from 'sequelize';
import { ZipFile } from 'yazl';
import type { Db, JobRow } from '../db/models.ts';
import { fileOf } from '../jobs/file.ts';
import type { StoredShelf } from '../shelf/store.ts';

export const SUMS = 'SHA256SUMS';
export const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** What is stored of a job and cannot be read by this release, as it is stored; null where all can. */
async function unreadableOf(db: Db, jobId: string, readable: ReadonlySet<string>, transaction: Transaction): Promise<object | null> {
  const rows = (columns: string, order: string): Promise<{ id: string }[]> =>
    db.sequelize.query(`SELECT id, at, by, body, ${columns} WHERE job_id = $1 ORDER BY ${order}`, {
      type: QueryTypes.SELECT,
      bind: [jobId],
      transaction,
    });
  const [facts, designs] = [await rows('kind FROM facts', 'seq'), await rows('number FROM designs', 'number')];
  const odd = { facts: facts.filter((f) => !readable.has(f.id)), designs: designs.filter((d) => !readable.has(d.id)) };
  return odd.facts.length + odd.designs.length === 0 ? null : odd;
} // oxfmt-ignore

/** What stands in the archive's firm-wide files. */
async function firmFiles(db: Db, shelf: StoredShelf, jobs: readonly JobRow[], transaction: Transaction): Promise<Readonly<Record<string, unknown>>> {
  const people = await db.Person.findAll({ order: [['name', 'ASC']], transaction });
  const parts = await db.Part.findAll({ order: [['seq', 'ASC']], transaction });
  const instruments = await db.Instrument.findAll({ order: [['seq', 'ASC']], transaction });
  const table = await db.DayTable.findOne({ transaction });
  const moves = await db.sequelize.query<{ readonly vanOf: string | null }>(
    'SELECT id, part, place, van_of AS "vanOf", kind, count::float8 AS count, note, at, by FROM stock_moves ORDER BY seq',
    { type: QueryTypes.SELECT, transaction },
  );
  const stock = moves.map(({ vanOf, ...m }) => (vanOf === null ? m : { ...m, vanOf }));
  return {
    'archive.json': { format: 'katharos-firm', version: ARCHIVE_VERSION },
    'people.json': people.map(({ id, name, role, leftAt }) => ({ id, name, role, left: leftAt })),
    'parts.json': parts.map((p) => p.body),
    'firm.json': { jobs: jobs.map((j) => ({ id: j.id, began: j.createdAt })), rules: shelf.rules, instruments: instruments.map((i) => i.body), dayTable: table?.body ?? null, stock },
  };
} // oxfmt-ignore

/**
 * Writes the whole firm as one archive, as it stood at one moment, a file at a time: it is never held whole.
 * @param out takes the archive; it is cut off where something fails, so that what came of it does not read as one
 * @returns SHA-256 of the archive's SHA256SUMS
 */
export function writeArchive(db: Db, shelf: StoredShelf, out: NodeJS.WritableStream & { destroy: (e: Error) => void }): Promise<string> {
  const isolationLevel = Transaction.ISOLATION_LEVELS.REPEATABLE_READ;
  return db.sequelize.transaction({ isolationLevel, readOnly: true }, async (transaction) => {
    const jobs = await db.Job.findAll({ order: [['createdAt', 'ASC'], ['id', 'ASC']], transaction });
    const zip = new ZipFile();
    const sums: string[] = [];
    const ended = new Promise<void>((resolve, reject) => {
      out.on('finish', resolve).on('close', resolve).on('error', reject);
      zip.on('error', (e: Error) => {
        out.destroy(e);
        reject(e);
      });
    });
    zip.outputStream.pipe(out);
    const add = (name: string, bytes: () => Promise<Buffer>): void => {
      zip.addReadStreamLazy(name, {}, (give) => {
        bytes().then((b) => {
          sums.push(`${sha256(b)}  ${name}\n`);
          give(null, Readable.from([b], { objectMode: false }));
        }, (e: unknown) => {
          give(e, Readable.from([]));
        });
      });
    };
    const json = (value: unknown): Buffer => Buffer.from(`${JSON.stringify(value, null, 1)}\n`);
    for (const [name, value] of Object.entries(await firmFiles(db, shelf, jobs, transaction))) add(name, () => Promise.resolve(json(value)));
    const odd: Record<string, object> = {};
    for (const { id } of jobs)
      add(`jobs/${id}.json`, async () => {
        const file = await fileOf(db, id, { catalogue: shelf.parts, rules: shelf.rules }, transaction);
        const left = await unreadableOf(db, id, new Set([...file.facts, ...file.designs].map((x) => x.id)), transaction);
        if (left) odd[id] = left;
        return json(file);
      });
    // what cannot be read is known once every job was
    add('unreadable.json', () => Promise.resolve(json(odd)));
    let checksum = '';
    zip.addReadStreamLazy(SUMS, {}, (give) => {
      const bytes = Buffer.from(sums.join(''));
      checksum = sha256(bytes);
      give(null, Readable.from([bytes], { objectMode: false }));
    });
    zip.end();
    await ended;
    return checksum;
  });
} // oxfmt-ignore
