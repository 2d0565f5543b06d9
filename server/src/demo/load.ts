import { DEMO_PEOPLE, demoDayTable, demoInstruments, demoStock, shippedFirm } from '@katharos/demo';
import type { Db } from '../db/models.ts';
import { stockShelf } from '../shelf/store.ts';
import { storeMoves } from '../stock/store.ts';
import type { ShelfFiles } from '@katharos/shelf';

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
        'TRUNCATE audit, day_table, stock_moves, links, sessions, devices, pictures, job_summaries, designs, facts, jobs, households, instruments, parts, house_rules, people',
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
    await storeMoves(db, demoStock(shelf.parts, nowMs), by, transaction);
    await db.DayTable.create({ id: 'firm', body: demoDayTable(DEMO_PEOPLE), updatedBy: by }, { transaction });
    let order = 0;
    for (const j of shippedFirm(firm, nowMs)) {
      await db.Household.create({ ...j.household, createdBy: by, updatedBy: by }, { transaction });
      const createdAt = new Date(nowMs - 86400000 + 1000 * order++);
      await db.Job.create({ id: j.jobId, householdId: j.household.id, createdBy: by, createdAt }, { transaction });
      await db.Fact.bulkCreate(
        j.facts.map((f) => ({ id: f.id, jobId: j.jobId, kind: f.kind, at: new Date(f.at), by: f.by, body: f })),
        { transaction },
      );
      await db.Design.bulkCreate(
        j.designs.map((d) => ({ id: d.id, jobId: j.jobId, number: d.number, body: d, at: new Date(d.at), by: d.by })),
        { transaction },
      );
    }
    return true;
  });
}
