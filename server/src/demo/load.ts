import { DEMO_PEOPLE, demoDayTable, demoInstruments, demoStock, shippedFirm } from '@katharos/demo';
import type { Db } from '../db/models.ts';
import { stockShelf } from '../shelf/store.ts';
import { storeMoves } from '../stock/store.ts';
import type { ShelfFiles } from '@katharos/shelf';

const DAY_MS = 86_400_000;

/**
 * Loads the demo firm. With `replace` false only into a database that has no people yet; with `replace` true everything
 * that is there is removed first, in the same transaction.
 * @param firm folder the shipped firm lies in
 * @returns whether anything was loaded
 */
export async function loadDemo(
  db: Db,
  shelf: ShelfFiles,
  firm: string,
  replace: boolean,
  nowMs: number,
): Promise<boolean> {
  return db.sequelize.transaction(async (transaction) => {
    await db.sequelize.query('LOCK TABLE people IN SHARE ROW EXCLUSIVE MODE', { transaction });
    if (replace)
      await db.sequelize.query(
        'TRUNCATE audit, feeds, day_table, stock_moves, links, sessions, devices, pictures, job_decisions, job_summaries, designs, facts, jobs, households, instruments, parts, house_rules, people',
        {
          transaction,
        },
      );
    else if ((await db.Person.count({ transaction })) > 0) return false;
    const by = DEMO_PEOPLE[0].id;
    await db.Person.bulkCreate([...DEMO_PEOPLE], { transaction });
    await stockShelf(db, shelf, false, transaction);
    await db.Instrument.bulkCreate(
      demoInstruments(nowMs).map((i) => ({ id: i.id, body: i, updatedBy: by })),
      { transaction },
    );
    const table = demoDayTable(DEMO_PEOPLE);
    const drivers = table.fitters.map((f) => f.person);
    await storeMoves(db, demoStock(shelf.parts, drivers, nowMs), by, transaction);
    await db.DayTable.create({ id: 'firm', body: table, updatedBy: by }, { transaction });
    const jobs = shippedFirm(firm, nowMs);
    const rows = <T>(of: (j: (typeof jobs)[number]) => readonly T[]): T[] => jobs.flatMap(of);
    // each since its first reading; one nobody has read, since yesterday
    const began = (j: (typeof jobs)[number]): Date => new Date(j.facts[0]?.at ?? nowMs - DAY_MS);
    await db.Household.bulkCreate(
      rows((j) => [{ ...j.household, createdBy: by, updatedBy: by }]),
      { transaction },
    );
    await db.Job.bulkCreate(
      rows((j) => [{ id: j.jobId, householdId: j.household.id, createdBy: by, createdAt: began(j) }]),
      { transaction },
    );
    // thousands of them: their text goes as it is, and the database takes it apart
    await db.sequelize.query(
      `INSERT INTO facts (id, job_id, kind, at, by, body)
         SELECT (f->>'id')::uuid, (f->>'jobId')::uuid, f->>'kind', (f->>'at')::timestamptz, (f->>'by')::uuid, f
           FROM jsonb_array_elements($1::jsonb) WITH ORDINALITY AS e(f, nth) ORDER BY nth`,
      { bind: [JSON.stringify(rows((j) => j.facts))], transaction },
    );
    await db.Design.bulkCreate(
      rows((j) =>
        j.designs.map((d) => ({ id: d.id, jobId: j.jobId, number: d.number, body: d, at: new Date(d.at), by: d.by })),
      ),
      { transaction },
    );
    return true;
  });
}
