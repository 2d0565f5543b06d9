import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { QueryTypes, type Transaction } from 'sequelize';
import { harness, type Harness } from '../testing/harness.ts';
import { inTransaction } from './transaction.ts';

let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

const ask = (sql: string, bind?: unknown[], transaction: Transaction | null = null): Promise<object[]> =>
  h.db.sequelize.query(sql, { type: QueryTypes.SELECT, transaction, ...(bind && { bind }) });

test('a question with values is told to the database once and answered from what it kept', async () => {
  const question = 'SELECT $1::int + 1 AS next';
  await inTransaction(h.db, async (t) => {
    for (const n of [1, 2, 3]) expect(await ask(question, [n], t)).toEqual([{ next: n + 1 }]);
    const kept = await ask('SELECT statement, (generic_plans + custom_plans)::int AS times FROM pg_prepared_statements', undefined, t);
    expect(kept).toContainEqual({ statement: question, times: 3 });
  });
}); // oxfmt-ignore

test('a table changed by a newer server is read as it is now, within a transaction and without', async () => {
  const run = (sql: string): Promise<unknown> => h.db.sequelize.query(sql);
  await run('CREATE TABLE grown (a integer)');
  await run('INSERT INTO grown VALUES (7)');
  const question = 'SELECT * FROM grown WHERE a = $1';
  expect(await ask(question, [7])).toEqual([{ a: 7 }]);
  await run('ALTER TABLE grown ADD COLUMN b integer DEFAULT 8');
  expect(await ask(question, [7])).toEqual([{ a: 7, b: 8 }]);
  await run('ALTER TABLE grown ADD COLUMN c integer DEFAULT 9');
  expect(await inTransaction(h.db, (t) => ask(question, [7], t))).toEqual([{ a: 7, b: 8, c: 9 }]);
  // and is kept anew
  await inTransaction(h.db, async (t) => {
    await ask(question, [7], t);
    const kept = await ask('SELECT name FROM pg_prepared_statements WHERE statement = $1 ORDER BY prepare_time', [question], t);
    expect(new Set(kept.map((k) => (k as { name: string }).name.split('.')[1]))).toEqual(new Set(['0', '1', '2']));
  });
}); // oxfmt-ignore

test('what is asked in very many ways is answered all the same, and not kept without bound', async () => {
  await inTransaction(h.db, async (t) => {
    for (let n = 0; n < 230; n++) expect(await ask(`SELECT $1::int + ${String(n)} AS sum`, [n], t)).toEqual([{ sum: 2 * n }]);
    const [kept] = await ask('SELECT count(DISTINCT statement)::int AS n FROM pg_prepared_statements', undefined, t);
    expect((kept as { n: number }).n).toBeLessThanOrEqual(200);
  });
}); // oxfmt-ignore
