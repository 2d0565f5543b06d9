import { isDeepStrictEqual } from 'node:util';
import {
  ImportPartsSchema,
  PutInstrumentSchema,
  PutPartSchema,
  PutRulesSchema,
  StoredInstrumentSchema,
  type StoredInstrument,
} from '@katharos/contract';
import { CatalogueSchema, HouseRulesSchema, PartSchema, type Part } from '@katharos/core';
import { Router, type Request } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db, DocumentRow } from '../db/models.ts';
import { together } from '../db/together.ts';
import { inTransaction } from '../db/transaction.ts';
import { Alike } from '../http/alike.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem, parse, pathId } from '../http/problem.ts';
import { EVERYBODY } from '../people/routes.ts';
import { putDocument } from './document.ts';
import { SHELF_MARK, type ShelfStore, type StoredShelf } from './store.ts';

const partShown = (row: DocumentRow): { part: Part; version: number } => ({
  part: PartSchema.parse(row.body),
  version: row.version,
});
const instrumentShown = (row: DocumentRow): StoredInstrument =>
  StoredInstrumentSchema.parse({ ...(row.body as object), version: row.version });

const partId = (req: Request): string => {
  const id = req.params.id;
  if (typeof id !== 'string' || id === '') throw new ApiProblem('not-found');
  return id;
};

/** A catalogue that would come of a change must still be one. @throws ApiProblem 'bad-value' */
function whole(parts: readonly unknown[]): void {
  parse(CatalogueSchema, parts);
}

/** A part stays the kind it is: designs name it. @throws ApiProblem 'bad-value' */
function keepsKind(now: readonly Part[], part: Part): void {
  const before = now.find((p) => p.id === part.id);
  if (before && before.kind !== part.kind)
    throw new ApiProblem('bad-value', {
      errors: [{ path: 'part.kind', message: 'stays what it was: designs name it' }],
    });
}

/** What is said of each shelf that was read, with the people of that moment: it is asked for more often than either changes. */
const said = new WeakMap<StoredShelf, { readonly people: string; readonly answer: Alike }>();
function sayingOf(shelf: StoredShelf, people: string): Alike {
  const before = said.get(shelf);
  if (before?.people === people) return before.answer;
  const answer = new Alike(`{"people":${people},${JSON.stringify(shelf).slice(1)}`);
  said.set(shelf, { people, answer });
  return answer;
}

/** Parts, house rules and instruments of the firm. */
export function shelfRoutes(db: Db, store: ShelfStore): Router {
  const r = Router();
  const now = together(async () => {
    const [row] = await db.sequelize.query<{ mark: string | null; people: string }>(
      `SELECT ${SHELF_MARK} AS mark, ${EVERYBODY} AS people`,
      { type: QueryTypes.SELECT },
    );
    return row ?? { mark: null, people: '[]' };
  });
  r.get('/', async (req, res) => {
    const { mark, people } = await now();
    await sayingOf(await store.at(mark), people).send(req, res);
  });
  r.put('/rules', async (req, res) => {
    const { rules, version } = parse(PutRulesSchema, req.body);
    const shown = (row: DocumentRow): unknown => ({ rules: HouseRulesSchema.parse(row.body), version: row.version });
    await store.read();
    res.json(shown(await putDocument(db.Rules, 'firm', rules, version, byOf(req), shown)));
  });
  r.post('/parts/import', async (req, res) => {
    const { parts, versions } = parse(ImportPartsSchema, req.body);
    const by = byOf(req);
    const { parts: now } = await store.read();
    const ids = new Set(parts.map((p) => p.id));
    whole([...now.filter((p) => !ids.has(p.id)), ...parts]);
    for (const p of parts) keepsKind(now, p);
    await inTransaction(db, async (t) => {
      // in one order, so that two who bring parts in at once do not wait for each other
      for (const p of [...parts].sort((a, b) => a.id.localeCompare(b.id)))
        await putDocument(
          db.Part,
          p.id,
          p,
          Object.hasOwn(versions, p.id) ? (versions[p.id] ?? null) : null,
          by,
          partShown,
          t,
        );
    });
    const after = await store.read();
    res.json({ parts: after.parts, partVersions: after.partVersions });
  });
  r.put('/parts/:id', async (req, res) => {
    const id = partId(req);
    const { part, version } = parse(PutPartSchema, req.body);
    if (part.id !== id)
      throw new ApiProblem('bad-value', { errors: [{ path: 'part.id', message: 'is not the one in the address' }] });
    keepsKind((await store.read()).parts, part);
    const row = await putDocument(db.Part, id, part, version, byOf(req), partShown);
    res.status(version === null ? 201 : 200).json(partShown(row));
  });
  return r;
}

/** Instruments of the firm. */
export function instrumentRoutes(db: Db): Router {
  const r = Router();
  r.put('/:id', async (req, res) => {
    const id = pathId(req);
    const { instrument, version } = parse(PutInstrumentSchema, req.body);
    if (instrument.id !== id)
      throw new ApiProblem('bad-value', {
        errors: [{ path: 'instrument.id', message: 'is not the one in the address' }],
      });
    const now = await db.Instrument.findByPk(id);
    const before = now ? instrumentShown(now).checks : [];
    instrument.checks.forEach((c, i) => {
      // a check is whoever's made it; one that stands is left as it is
      if (c.by !== byOf(req) && !before.some((b) => isDeepStrictEqual(b, c)))
        throw new ApiProblem('somebody-elses', {
          errors: [{ path: `instrument.checks.${String(i)}.by`, message: 'is somebody else' }],
        });
    });
    const row = await putDocument(db.Instrument, id, instrument, version, byOf(req), instrumentShown);
    res.status(version === null ? 201 : 200).json(instrumentShown(row));
  });
  return r;
}
