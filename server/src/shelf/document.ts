import { isDeepStrictEqual } from 'node:util';
import type { Transaction } from 'sequelize';
import type { DocumentRow } from '../db/models.ts';
import { ApiProblem } from '../http/problem.ts';

/** Writes one document against the version it was read at; null adds it. @throws ApiProblem 'stale' with what stands now */
export async function putDocument(
  model: typeof DocumentRow,
  id: string,
  body: unknown,
  version: number | null,
  by: string,
  shown: (row: DocumentRow) => unknown,
  transaction?: Transaction,
): Promise<DocumentRow> {
  const t = transaction ? { transaction } : {};
  // sent twice, singly or at once, it is one write
  const stands = (row: DocumentRow, after: number): boolean =>
    row.version === after && row.updatedBy === by && isDeepStrictEqual(row.body, JSON.parse(JSON.stringify(body)));
  if (version === null) {
    const [row, isNew] = await model.findOrCreate({ where: { id }, defaults: { id, body, updatedBy: by }, ...t });
    if (!isNew && !stands(row, 0))
      throw new ApiProblem('bad-value', { errors: [{ path: 'id', message: `"${id}" is there already` }] });
    return row;
  }
  // one statement: the version is compared and raised together, so no write is lost between look and save
  const [count] = await model.update(
    { body, version: version + 1, updatedBy: by, updatedAt: new Date() },
    { where: { id, version }, ...t },
  );
  const row = await model.findByPk(id, t);
  if (!row) throw new ApiProblem('not-found');
  if (count === 0 && !stands(row, version + 1))
    throw new ApiProblem('stale', { detail: 'Your text is kept beside theirs: choose.', current: shown(row) });
  return row;
}
