import { createHash } from 'node:crypto';
import { StoredInstrumentSchema, type StoredInstrument } from '@katharos/contract';
import { HouseRulesSchema, PartSchema, type Catalogue, type HouseRules, type Part } from '@katharos/core';
import type { ShelfFiles } from '@katharos/shelf';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { together } from '../db/together.ts';

/** The firm's parts, rules and instruments as they stand in the database. */
export interface StoredShelf {
  readonly parts: Catalogue;
  /** ids of parts that cannot be read any more; they stay as they are stored */
  readonly unreadableParts: readonly string[];
  readonly partVersions: Readonly<Record<string, number>>;
  readonly rules: HouseRules;
  readonly rulesVersion: number;
  /** names parts and rules by what they say */
  readonly stamp: string;
  readonly instruments: readonly StoredInstrument[];
}

/** The shelf in the database; its files are what an empty one begins with. */
export interface ShelfStore {
  read: () => Promise<StoredShelf>;
  /** The shelf of a mark that came with something else, without asking for it again. @param mark as `SHELF_MARK` gives it */
  at: (mark: string | null) => Promise<StoredShelf>;
}

/** What is another whenever anything of the shelf is: one answer of the database may bring it along; null where it is empty. */
export const SHELF_MARK = `(SELECT concat_ws(' ', r.version, r.updated_at,
    (SELECT concat_ws(' ', count(*), sum(version), max(updated_at)) FROM parts),
    (SELECT concat_ws(' ', count(*), sum(version), max(updated_at)) FROM instruments)) FROM house_rules r)`;

/** Fills an empty shelf from its files. @param replace true takes what is there away first */
export async function stockShelf(db: Db, files: ShelfFiles, replace: boolean, transaction: Transaction): Promise<void> {
  await db.sequelize.query('LOCK TABLE house_rules IN SHARE ROW EXCLUSIVE MODE', { transaction });
  if (replace) await db.sequelize.query('TRUNCATE parts, house_rules', { transaction });
  else if ((await db.Rules.count({ transaction })) > 0) return;
  await db.Part.bulkCreate(
    files.parts.map((p) => ({ id: p.id, body: p, updatedBy: null })),
    { transaction },
  );
  await db.Rules.create({ id: 'firm', body: files.rules, updatedBy: null }, { transaction });
}

/**
 * Opens the shelf. Each read asks the database whether anything changed; only then is it read and parsed anew, so that
 * several servers show the same and none works from what another has replaced.
 */
export function openShelf(db: Db, files: ShelfFiles): ShelfStore {
  let last: { readonly mark: string; readonly shelf: StoredShelf } | null = null;
  const markOf = together(async (): Promise<string | null> => {
    const [row] = await db.sequelize.query<{ readonly mark: string | null }>(`SELECT ${SHELF_MARK} AS mark`, {
      type: QueryTypes.SELECT,
    });
    return row?.mark ?? null;
  });
  const at: ShelfStore['at'] = async (told) => {
    let mark = told;
    if (mark === null) {
      await db.sequelize.transaction((t) => stockShelf(db, files, false, t));
      mark = await markOf();
    }
    if (last?.mark === mark) return last.shelf;
    const [parts, rules, instruments] = await Promise.all([
      db.Part.findAll({ order: [['seq', 'ASC']] }),
      db.Rules.findAll(),
      db.Instrument.findAll({ order: [['seq', 'ASC']] }),
    ]);
    // one part that no longer reads, whatever has been narrowed since, must not take the rest down
    const read = parts.map((p) => ({ id: p.id, part: PartSchema.safeParse(p.body).data }));
    const good = read.filter((p): p is typeof p & { part: Part } => p.part !== undefined);
    const catalogue = good.map((g) => g.part);
    const firmRules = HouseRulesSchema.parse(rules[0]?.body);
    const shelf: StoredShelf = {
      parts: catalogue,
      unreadableParts: read.flatMap((p) => (p.part ? [] : [p.id])),
      partVersions: Object.fromEntries(parts.map((p) => [p.id, p.version])),
      rules: firmRules,
      rulesVersion: rules[0]?.version ?? 0,
      stamp: createHash('sha256')
        .update(JSON.stringify([catalogue, firmRules]))
        .digest('base64url'),
      instruments: instruments.map((i) => StoredInstrumentSchema.parse({ ...(i.body as object), version: i.version })),
    };
    last = { mark: mark ?? '', shelf };
    return shelf;
  };
  return { at, read: async () => at(await markOf()) };
}
