import { DEMO_PEOPLE, demoDayTable, demoInstruments, demoStock, shippedFirm } from '@katharos/demo';
import type { Db } from '../db/models.ts';
import { rowsText, storeRows, type RowsText } from '../db/rowsText.ts';
import { stockShelf } from '../shelf/store.ts';
import { storeMoves } from '../stock/store.ts';
import type { ShelfFiles } from '@katharos/shelf';

const DAY_MS = 86_400_000;

/** Everything that is a firm's own. */
const EMPTY =
  'TRUNCATE audit, feeds, day_table, stock_moves, links, sessions, devices, pictures, job_decisions, job_summaries, designs, facts, jobs, households, instruments, parts, house_rules, people';

/** Lets what was just asked of the database leave, before something else has the processor to itself. */
const onItsWay = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/**
 * Loads the demo firm. With `replace` false only into a database that has no people yet; with `replace` true everything
 * that is there is removed first, in the same transaction.
 * @param firm folder the shipped firm lies in @param meanwhile what else there is to do while the database stores it
 * @returns whether anything was loaded
 */
export async function loadDemo(
  db: Db,
  shelf: ShelfFiles,
  firm: string,
  replace: boolean,
  nowMs: number,
  meanwhile: () => Promise<unknown> = () => Promise.resolve(),
): Promise<boolean> {
  return db.sequelize.transaction(async (transaction) => {
    await db.sequelize.query('LOCK TABLE people IN SHARE ROW EXCLUSIVE MODE', { transaction });
    const emptied = replace ? db.sequelize.query(EMPTY, { transaction }) : null;
    if (!emptied && (await db.Person.count({ transaction })) > 0) return false;
    // what is loaded is read and dated while the database empties its tables
    await onItsWay();
    const jobs = shippedFirm(firm, nowMs);
    const rows = <T>(of: (j: (typeof jobs)[number]) => readonly T[]): T[] => jobs.flatMap(of);
    const facts = JSON.stringify(rows((j) => j.facts));
    await emptied;
    const by = DEMO_PEOPLE[0].id;
    const store = (table: string, text: RowsText): Promise<void> => storeRows(db, table, text, transaction);
    await store('people', rowsText(DEMO_PEOPLE));
    await store(
      'households',
      rowsText(
        rows(({ household: { keyHolder, ...h } }) => [{ ...h, key_holder: keyHolder, created_by: by, updated_by: by }]),
      ),
    );
    // each since its first reading; one nobody has read, since yesterday
    const began = (j: (typeof jobs)[number]): Date => new Date(j.facts[0]?.at ?? nowMs - DAY_MS);
    await store(
      'jobs',
      rowsText(rows((j) => [{ id: j.jobId, household_id: j.household.id, created_by: by, created_at: began(j) }])),
    );
    // thousands of them: their text goes as it is, and the database takes it apart while all the rest is made
    const recorded = db.sequelize.query(
      `INSERT INTO facts (id, job_id, kind, at, by, body)
         SELECT (f->>'id')::uuid, (f->>'jobId')::uuid, f->>'kind', (f->>'at')::timestamptz, (f->>'by')::uuid, f
           FROM jsonb_array_elements($1::jsonb) WITH ORDINALITY AS e(f, nth) ORDER BY nth`,
      { bind: [facts], transaction },
    );
    await onItsWay();
    const designs = rowsText(
      rows((j) => j.designs.map((d) => ({ id: d.id, job_id: j.jobId, number: d.number, body: d, at: d.at, by: d.by }))),
    );
    const instruments = rowsText(demoInstruments(nowMs).map((i) => ({ id: i.id, body: i, updated_by: by })));
    const table = demoDayTable(DEMO_PEOPLE);
    const drivers = table.fitters.map((f) => f.person);
    const moves = demoStock(shelf.parts, drivers, nowMs);
    await Promise.all([recorded, meanwhile()]);
    await store('designs', designs);
    await stockShelf(db, shelf, false, transaction);
    await store('instruments', instruments);
    await storeMoves(db, moves, by, transaction);
    await store('day_table', rowsText([{ id: 'firm', body: table, updated_by: by }]));
    return true;
  });
}
