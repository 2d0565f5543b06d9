import type { Household } from '@katharos/contract';
import { openFacts, openJobDocuments, type DesignVersion, type Fact, type Unreadable } from '@katharos/core';
import { LRUCache } from 'lru-cache';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { ApiProblem } from '../http/problem.ts';
import { SHELF_MARK, type ShelfStore, type StoredShelf } from '../shelf/store.ts';
import { DESIGNS, HOUSEHOLD } from './service.ts';

/** What is stored of a job, opened. */
export interface Opened {
  readonly household: Household;
  readonly facts: readonly Fact[];
  readonly designs: readonly DesignVersion[];
  readonly unreadable: readonly Unreadable[];
  /** moves with whatever is stored of the job */
  readonly rev: string;
  /** as it stood with them, or later */
  readonly shelf: StoredShelf;
  /** facts and designs as they are sent */
  readonly text: { readonly facts: string; readonly designs: string };
}

/** Jobs as they were opened last: what is stored of one is only ever added to, so what was opened is not opened again. */
export interface OpenedJobs {
  /** @throws ApiProblem 'not-found' */
  read: (jobId: string) => Promise<Opened>;
}

interface Stored extends Household {
  readonly rev: string;
  /** of the shelf */
  readonly mark: string | null;
  /** of the facts known already, how many are still there; and how many designs there are */
  readonly known: number;
  readonly approved: number;
  /** seq and body of those that came since */
  readonly more: readonly (readonly [number, unknown])[];
  /** null where as many are known already */
  readonly bodies: readonly unknown[] | null;
}
interface Held extends Opened {
  /** of the newest fact */
  readonly seq: number;
  /** facts that were read, also those that cannot be opened */
  readonly count: number;
  /** designs that were read, the same */
  readonly approved: number;
}

/** Letters, as they are sent, of the jobs that are held, and of one of them at most: those of a firm's busy day. */
const MOST_LETTERS = 6_000_000;
const MOST_OF_ONE = 400_000;

export function openOpened(db: Db, store: ShelfStore): OpenedJobs {
  const held = new LRUCache<string, Held>({
    maxSize: MOST_LETTERS,
    maxEntrySize: MOST_OF_ONE,
    sizeCalculation: ({ text }) => text.facts.length + text.designs.length + 1,
  });

  const ask = async (jobId: string, before: Held | undefined): Promise<Stored> => {
    const [row] = await db.sequelize.query<Stored>(
      `SELECT ${HOUSEHOLD}, s.rev, ${SHELF_MARK} AS mark,
         (SELECT count(*)::int FROM facts f WHERE f.job_id = j.id AND f.seq <= $2) AS known,
         (SELECT coalesce(json_agg(json_build_array(f.seq, f.body) ORDER BY f.seq), '[]') FROM facts f
           WHERE f.job_id = j.id AND f.seq > $2) AS more,
         d.approved, CASE WHEN d.approved <> $3 THEN ${DESIGNS} END AS bodies
       FROM jobs j JOIN households h ON h.id = j.household_id JOIN job_summaries s ON s.job_id = j.id,
         LATERAL (SELECT count(*)::int AS approved FROM designs d WHERE d.job_id = j.id) d
       WHERE j.id = $1`,
      { type: QueryTypes.SELECT, bind: [jobId, before?.seq ?? 0, before?.approved ?? -1] },
    );
    if (!row) throw new ApiProblem('not-found');
    return row;
  };

  /** Opens what is new of a job beside what was opened; all of it where what was opened is not what stands there. */
  const openAfter = (before: Held | undefined, row: Omit<Stored, 'mark'>, shelf: StoredShelf): Held | null => {
    const { rev, known, approved, more, bodies, ...household } = row;
    if (known !== (before?.count ?? 0)) return null;
    // what came before may be read otherwise once something was approved, or the shelf is another
    if (before && (bodies !== null || before.shelf.stamp !== shelf.stamp)) return null;
    const stored = more.map(([, body]) => body);
    const news = before ? { ...openFacts(stored, before.designs), designs: before.designs } : openJobDocuments(bodies ?? [], stored, { catalogue: shelf.parts, rules: shelf.rules });
    const added = JSON.stringify(news.facts).slice(1, -1);
    return {
      household,
      rev,
      shelf,
      approved,
      seq: more.at(-1)?.[0] ?? before?.seq ?? 0,
      count: known + more.length,
      designs: news.designs,
      facts: [...(before?.facts ?? []), ...news.facts],
      unreadable: [...(before?.unreadable ?? []), ...news.unreadable],
      text: {
        facts: [before?.text.facts ?? '', added].filter(Boolean).join(','),
        designs: before?.text.designs ?? JSON.stringify(news.designs).slice(1, -1),
      },
    };
  }; // oxfmt-ignore

  return {
    read: async (jobId) => {
      const open = async (from: Held | undefined): Promise<Held | null> => {
        const { mark, ...row } = await ask(jobId, from);
        return openAfter(from, row, await store.at(mark));
      };
      const now = (await open(held.get(jobId))) ?? (await open(undefined));
      if (!now) throw new Error('what is stored of a job changed under the reading');
      // one too long to be held is let go
      held.set(jobId, now);
      return now;
    },
  };
}
