import { randomUUID } from 'node:crypto';
import type { Role, Signed } from '@katharos/contract';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { gathered } from '../db/together.ts';
import { newToken, tokenHash } from './tokens.ts';

/** Who asks, from where. */
export interface Who {
  readonly person: Signed;
  readonly device: string;
}

/** What is known of a device by its token. */
export interface DeviceState {
  /** null for a token nobody has */
  readonly device: string | null;
  readonly ended: boolean;
  /** everybody signed in on it, who asked last first */
  readonly here: readonly Signed[];
  readonly days: number;
  readonly remembered: boolean;
}

/** A browser that does not remember the device keeps somebody signed in for so long at most, between two questions. */
const WORKDAY = `interval '12 hours'`;
/** Somebody is noted as seen no oftener than this. */
const NOTED = `interval '1 minute'`;
const DAYS = `(SELECT coalesce((SELECT (body->>'deviceDays')::int FROM house_rules), 30))`;
/** A session that still counts: neither ended nor too long without contact, of somebody who is still here. */
const OPEN = `s.ended_at IS NULL AND p.left_at IS NULL AND s.seen_at > now() - ${DAYS} * interval '1 day'
  AND (s.remembered OR s.seen_at > now() - ${WORKDAY})`;

interface Row {
  readonly device: string;
  readonly ended: boolean;
  readonly days: number;
  readonly session: string | null;
  readonly stale: boolean | null;
  readonly id: string;
  readonly name: string;
  readonly role: Role;
  readonly remembered: boolean | null;
}

/** Devices and who is signed in on them, as the database has them: every server asked knows the same at once. */
export function openSessions(db: Db) {
  const select = <T extends object>(sql: string, bind: unknown[], transaction: Transaction | null = null): Promise<T[]> =>
    db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind, transaction }); // oxfmt-ignore
  const run = async (sql: string, bind: unknown[], transaction: Transaction | null = null): Promise<void> => {
    await db.sequelize.query(sql, { bind, transaction });
  };
  /**
   * what is known of many devices, in one question; in their order. Each is looked up by itself (OFFSET 0), and each is a value of
   * its own: how many there are is known where the plan is made, which is kept then
   */
  const rowsOfAll = gathered(async (hashes: readonly Buffer[]): Promise<Row[][]> => {
    const rows = await select<Row & { readonly n: number }>(
      `SELECT t.n, d.id AS device, d.ended_at IS NOT NULL AS ended, ${DAYS} AS days, o.*
         FROM (VALUES ${hashes.map((_, i) => `(${String(i + 1)}, $${String(i + 1)}::bytea)`).join(', ')}) AS t(n, hash)
           CROSS JOIN LATERAL (SELECT id, ended_at FROM devices WHERE token_hash = t.hash OFFSET 0) d
           LEFT JOIN LATERAL (
             SELECT s.id AS session, s.seen_at < now() - ${NOTED} AS stale, p.id, p.name, p.role, s.remembered, s.seen_at
               FROM sessions s JOIN people p ON p.id = s.person_id
               WHERE s.device_id = d.id AND ${OPEN} OFFSET 0) o ON true
         ORDER BY t.n, o.seen_at DESC NULLS LAST`,
      [...hashes],
    );
    const each = hashes.map((): Row[] => []);
    for (const r of rows) each[r.n - 1]?.push(r);
    return each;
  });
  const rowsOf = async (token: string | undefined): Promise<Row[]> => (token === undefined ? [] : rowsOfAll(tokenHash(token)));
  const daysNow = async (): Promise<number> => (await select<{ days: number }>(`SELECT ${DAYS} AS days`, []))[0]?.days ?? 30;

  return {
    /** What is known of a device. @param token as its cookie holds it */
    stateOf: async (token: string | undefined): Promise<DeviceState> => {
      const rows = await rowsOf(token);
      const [first] = rows;
      if (!first) return { device: null, ended: false, here: [], days: await daysNow(), remembered: false };
      const here = first.ended ? [] : rows.flatMap(({ session, id, name, role }) => (session === null ? [] : [{ id, name, role }]));
      const remembered = here.length > 0 && rows.some((r) => r.remembered === true);
      return { device: first.device, ended: first.ended, here, days: first.days, remembered };
    },

    /**
     * Who asks. @param acting id of one of those signed in on the device; whoever asked last if left out
     * @returns 'ended' for a device the owner ended, null where nobody is signed in
     */
    whoIs: async (token: string | undefined, acting: string | undefined): Promise<Who | 'ended' | null> => {
      const rows = await rowsOf(token);
      if (rows[0]?.ended) return 'ended';
      const row = acting === undefined ? rows[0] : rows.find((r) => r.id === acting);
      if (typeof row?.session !== 'string') return null;
      if (row.stale) {
        await run('UPDATE sessions SET seen_at = now() WHERE id = $1', [row.session]);
        await run('UPDATE devices SET seen_at = now() WHERE id = $1', [row.device]);
      }
      return { person: { id: row.id, name: row.name, role: row.role }, device: row.device };
    },

    /**
     * Signs somebody in on a device, which has another token after that: one that was known before is worth nothing.
     * @param token of the device, if it has one @param called what a new device is called
     * @returns its token from now on
     */
    begin: (token: string | undefined, personId: string, remembered: boolean, called: string): Promise<string> =>
      db.sequelize.transaction(async (t) => {
        const fresh = newToken();
        const [known] = token === undefined ? [] : await select<{ id: string }>(
          'SELECT id FROM devices WHERE token_hash = $1 AND ended_at IS NULL FOR UPDATE', [tokenHash(token)], t);
        const device = known?.id ?? randomUUID();
        if (known) await run('UPDATE devices SET token_hash = $2, seen_at = now() WHERE id = $1', [device, tokenHash(fresh)], t);
        else await run('INSERT INTO devices (id, token_hash, name) VALUES ($1, $2, $3)', [device, tokenHash(fresh), called], t);
        await run('UPDATE sessions SET ended_at = now() WHERE device_id = $1 AND person_id = $2 AND ended_at IS NULL', [device, personId], t);
        await run('INSERT INTO sessions (id, device_id, person_id, remembered) VALUES ($1, $2, $3, $4)', [randomUUID(), device, personId, remembered], t);
        return fresh;
      }),

    /** Whether somebody has been signed in on a device before. */
    knows: async (device: string, personId: string): Promise<boolean> =>
      (await select('SELECT 1 AS one FROM sessions WHERE device_id = $1 AND person_id = $2 LIMIT 1', [device, personId])).length > 0,

    /** Signs somebody out, on one device or on all. */
    end: (personId: string, device: string | null, transaction: Transaction | null = null): Promise<void> =>
      run('UPDATE sessions SET ended_at = now() WHERE person_id = $1 AND ($2::uuid IS NULL OR device_id = $2) AND ended_at IS NULL',
        [personId, device], transaction),

    /** Ends a device: nobody is signed in on it any more, and it is told when it next asks. @returns whether there is one */
    endDevice: (device: string, by: string): Promise<boolean> =>
      db.sequelize.transaction(async (t) => {
        const there = await select('SELECT id FROM devices WHERE id = $1 FOR UPDATE', [device], t);
        await run('UPDATE devices SET ended_at = now(), ended_by = $2 WHERE id = $1 AND ended_at IS NULL', [device, by], t);
        await run('UPDATE sessions SET ended_at = now() WHERE device_id = $1 AND ended_at IS NULL', [device], t);
        return there.length > 0;
      }),

    /** What waits on a device to be sent, as it says. */
    waits: (device: string, n: number): Promise<void> =>
      run('UPDATE devices SET waits = $2, seen_at = now() WHERE id = $1', [device, n]),

    /** Every device that anybody used lately, the last seen first. */
    devices: () =>
      select<{ id: string; name: string; seenAt: Date; waits: number; ended: boolean; people: string[] }>(
        `SELECT d.id, d.name, d.seen_at AS "seenAt", d.waits, d.ended_at IS NOT NULL AS ended,
           ARRAY(SELECT p.name FROM sessions s JOIN people p ON p.id = s.person_id
             WHERE s.device_id = d.id AND ${OPEN} ORDER BY p.name) AS people
         FROM devices d WHERE d.ended_at IS NULL OR d.ended_at > now() - interval '30 days'
         ORDER BY d.ended_at IS NOT NULL, d.seen_at DESC LIMIT 200`, []),
  };
} // oxfmt-ignore
export type Sessions = ReturnType<typeof openSessions>;
