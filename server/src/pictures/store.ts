import { QueryTypes, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { within } from '../db/transaction.ts';
import { kindOfPicture, tellsWhere, type PictureKind } from './kind.ts';

/** A picture is shrunk on the device that took it: more than this was not, bytes. */
export const MOST_BYTES = 3_000_000;

export interface Picture {
  readonly id: string;
  readonly jobId: string;
  readonly bytes: Buffer;
  readonly by: string;
}
export type StoredPicture = Picture & { readonly type: PictureKind };

/** What keeps bytes from being kept as a picture, in words; null where nothing does. */
export function pictureFault(bytes: Buffer): string | null {
  const kind = kindOfPicture(bytes);
  if (kind === null) return 'it is no picture that is kept: a JPEG, PNG or WebP';
  if (bytes.length > MOST_BYTES) return 'it is larger than a shrunk picture is';
  return tellsWhere(bytes, kind)
    ? 'it carries what the camera noted, perhaps where it was taken: shrink it first'
    : null;
}

const COLUMNS = 'id, job_id AS "jobId", type, bytes, by';

export async function findPicture(db: Db, id: string, transaction?: Transaction): Promise<StoredPicture | undefined> {
  const [row] = await db.sequelize.query<StoredPicture>(`SELECT ${COLUMNS} FROM pictures WHERE id = $1`, {
    type: QueryTypes.SELECT,
    bind: [id],
    ...(transaction ? { transaction } : {}),
  });
  return row;
}

/** Every picture of a job, by id. */
export const picturesOf = (db: Db, jobId: string, transaction?: Transaction): Promise<StoredPicture[]> =>
  db.sequelize.query<StoredPicture>(`SELECT ${COLUMNS} FROM pictures WHERE job_id = $1 ORDER BY id`, {
    type: QueryTypes.SELECT,
    bind: [jobId],
    ...within(transaction),
  });

/** Keeps a picture under its id, once however often it is sent. @returns false where the id stands for another */
export async function keepPicture(db: Db, p: Picture, transaction?: Transaction): Promise<boolean> {
  await db.sequelize.query(
    'INSERT INTO pictures (id, job_id, type, bytes, by) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING',
    { bind: [p.id, p.jobId, kindOfPicture(p.bytes), p.bytes, p.by], ...(transaction ? { transaction } : {}) },
  );
  const stored = await findPicture(db, p.id, transaction);
  return stored?.jobId === p.jobId && stored.bytes.equals(p.bytes);
}
