import type { Sequelize, Transaction } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { liftDocuments } from './liftDocuments.ts';

/** The advisory lock that keeps two starting servers from migrating at once. */
const MIGRATION_LOCK = 7451001;

interface Step {
  readonly name: string;
  readonly up: readonly string[];
  /** what no statement can say: documents brought to their next version */
  readonly lift?: (sequelize: Sequelize, transaction: Transaction) => Promise<void>;
  /** statements after that */
  readonly then?: readonly string[];
}

const statements: readonly Step[] = [
  {
    name: '2026-11-24-first-tables',
    up: [
      `CREATE TABLE people (id uuid PRIMARY KEY, name text NOT NULL CHECK (length(name) BETWEEN 1 AND 120))`,
      `CREATE UNIQUE INDEX people_name ON people (lower(name))`,
      `CREATE TABLE households (
        id uuid PRIMARY KEY, name text NOT NULL CHECK (length(name) > 0), place text NOT NULL, contact text NOT NULL,
        notes text NOT NULL, version integer NOT NULL DEFAULT 0,
        created_by uuid NOT NULL REFERENCES people, updated_by uuid NOT NULL REFERENCES people,
        created_at timestamptz NOT NULL DEFAULT now(), updated_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE TABLE jobs (
        id uuid PRIMARY KEY, household_id uuid NOT NULL REFERENCES households ON DELETE CASCADE,
        created_by uuid NOT NULL REFERENCES people, created_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE INDEX jobs_household ON jobs (household_id)`,
      `CREATE TABLE facts (
        seq bigserial PRIMARY KEY, id uuid NOT NULL UNIQUE, job_id uuid NOT NULL REFERENCES jobs ON DELETE CASCADE,
        kind text NOT NULL, at timestamptz NOT NULL, by uuid NOT NULL REFERENCES people, body jsonb NOT NULL,
        recorded_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE INDEX facts_job ON facts (job_id, seq)`,
      `CREATE TABLE designs (
        id uuid PRIMARY KEY, job_id uuid NOT NULL REFERENCES jobs ON DELETE CASCADE, number integer NOT NULL CHECK (number > 0),
        design jsonb NOT NULL, sentence text NOT NULL, reason text NOT NULL, core_version text NOT NULL,
        at timestamptz NOT NULL, by uuid NOT NULL REFERENCES people, recorded_at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (job_id, number))`,
    ],
  },
  {
    name: '2026-11-25-shelf-rules-instruments',
    up: [
      `CREATE TABLE parts (
        id text PRIMARY KEY CHECK (length(id) BETWEEN 1 AND 80), seq serial NOT NULL, body jsonb NOT NULL,
        version integer NOT NULL DEFAULT 0, updated_by uuid REFERENCES people, updated_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE TABLE house_rules (
        id text PRIMARY KEY CHECK (id = 'firm'), seq serial NOT NULL, body jsonb NOT NULL, version integer NOT NULL DEFAULT 0,
        updated_by uuid REFERENCES people, updated_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE TABLE instruments (
        id uuid PRIMARY KEY, seq serial NOT NULL, body jsonb NOT NULL, version integer NOT NULL DEFAULT 0,
        updated_by uuid REFERENCES people, updated_at timestamptz NOT NULL DEFAULT now())`,
    ],
  },
  {
    name: '2026-11-25-versions-as-built',
    up: [`ALTER TABLE designs ADD COLUMN body jsonb`],
    lift: liftDocuments,
    then: [
      `ALTER TABLE designs ALTER COLUMN body SET NOT NULL`,
      `ALTER TABLE designs DROP COLUMN design, DROP COLUMN sentence, DROP COLUMN reason, DROP COLUMN core_version`,
    ],
  },
];

/** Brings the database to the current shape, or to an earlier one. Safe to run from several processes at once. */
export async function migrate(sequelize: Sequelize, upTo?: string): Promise<void> {
  await sequelize.transaction(async (lock) => {
    await sequelize.query('SELECT pg_advisory_xact_lock($1)', { bind: [MIGRATION_LOCK], transaction: lock });
    const umzug = new Umzug({
      migrations: statements.map((m) => ({
        name: m.name,
        up: async () => {
          await sequelize.transaction(async (transaction) => {
            for (const sql of m.up) await sequelize.query(sql, { transaction });
            await m.lift?.(sequelize, transaction);
            for (const sql of m.then ?? []) await sequelize.query(sql, { transaction });
          });
        },
      })),
      storage: new SequelizeStorage({ sequelize, tableName: 'migrations', modelName: 'Migration' }),
      logger: undefined,
    });
    await umzug.up(upTo === undefined ? undefined : { to: upTo });
  });
}
