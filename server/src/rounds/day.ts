import { DayQuerySchema, PutDayTableSchema, type Day } from '@katharos/contract';
import { DayTableSchema, NO_DAY_TABLE, type DayTable } from '@katharos/core';
import { Router } from 'express';
import type { Db, DocumentRow } from '../db/models.ts';
import { byOf } from '../http/guard.ts';
import { parse } from '../http/problem.ts';
import { putDocument } from '../shelf/document.ts';
import type { Entries } from './entries.ts';
import type { Summaries } from './summaries.ts';

/** Visits of a day that are planned together; no firm of eight makes more. */
const MOST = 200;
const DAY_MS = 86400000;

/** A day to be planned: visits dated on it, clocks that run, and what driving is planned by. */
export function dayRoutes(db: Db, summaries: Summaries, entries: Entries): Router {
  const r = Router();
  const shown = (row: DocumentRow): { table: DayTable; version: number } => ({
    table: DayTableSchema.parse(row.body),
    version: row.version,
  });
  const tableNow = async (): Promise<{ table: DayTable; version: number | null }> => {
    const row = await db.DayTable.findByPk('firm');
    return row ? shown(row) : { table: NO_DAY_TABLE, version: null };
  };
  r.get('/', async (req, res) => {
    const { on } = parse(DayQuerySchema, req.query);
    await summaries.catchUp(MOST);
    // a day wider either way: whoever asks knows what day it is there
    const days = [-1, 0, 1].map((d) => new Date(Date.parse(`${on}T00:00:00Z`) + d * DAY_MS).toISOString().slice(0, 10));
    const [dated, kept] = await Promise.all([
      entries.where(`s.visit_days && $1::date[] OR s.clock_at::date = ANY($1::date[]) ORDER BY s.born, s.job_id LIMIT ${String(MOST)}`, [days]),
      tableNow(),
    ]); // oxfmt-ignore
    res.json({ entries: dated, ...kept } satisfies Day);
  });
  r.put('/table', async (req, res) => {
    const { table, version } = parse(PutDayTableSchema, req.body);
    res.json(shown(await putDocument(db.DayTable, 'firm', table, version, byOf(req), shown)));
  });
  return r;
}
