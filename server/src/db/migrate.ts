import type { Sequelize, Transaction } from 'sequelize';
import { AUDIT, AUDIT_DAY_TABLE, AUDIT_FEEDS, AUDIT_HOUSEHOLD_TEXTS, AUDIT_STOCK, AUDIT_VANS } from './audit.ts';
import { liftDocuments } from './liftDocuments.ts';
import { STORE_FACTS } from './storeFacts.ts';

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
  {
    name: '2026-11-26-job-summaries',
    up: [
      // where each job stands, kept beside it; what hangs on the clock is read out of it when it is looked at
      `CREATE TABLE job_summaries (
        job_id uuid PRIMARY KEY REFERENCES jobs ON DELETE CASCADE, born timestamptz NOT NULL,
        stale boolean NOT NULL DEFAULT true, approved boolean NOT NULL DEFAULT false, open boolean NOT NULL DEFAULT true,
        clock_at timestamptz, due_at timestamptz, body jsonb, core_version text,
        changed xid8 NOT NULL DEFAULT pg_current_xact_id())`,
      `CREATE INDEX job_summaries_list ON job_summaries (open, born, job_id)`,
      `CREATE INDEX job_summaries_stale ON job_summaries (job_id) WHERE stale`,
      `CREATE INDEX job_summaries_clock ON job_summaries (clock_at) WHERE clock_at IS NOT NULL`,
      `CREATE INDEX job_summaries_due ON job_summaries (due_at) WHERE due_at IS NOT NULL`,
      `CREATE INDEX job_summaries_changed ON job_summaries (changed)`,
      `INSERT INTO job_summaries (job_id, born) SELECT id, created_at FROM jobs`,
      // whoever writes, and by whatever way: the summary knows that it is behind
      `CREATE FUNCTION job_is_new() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          INSERT INTO job_summaries (job_id, born) SELECT id, created_at FROM added;
          RETURN NULL;
        END $$`,
      `CREATE TRIGGER jobs_summary AFTER INSERT ON jobs REFERENCING NEW TABLE AS added
        FOR EACH STATEMENT EXECUTE FUNCTION job_is_new()`,
      `CREATE FUNCTION job_has_more() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          UPDATE job_summaries SET stale = true, changed = pg_current_xact_id()
            WHERE job_id IN (SELECT DISTINCT job_id FROM added);
          RETURN NULL;
        END $$`,
      `CREATE TRIGGER facts_summary AFTER INSERT ON facts REFERENCING NEW TABLE AS added
        FOR EACH STATEMENT EXECUTE FUNCTION job_has_more()`,
      `CREATE TRIGGER designs_summary AFTER INSERT ON designs REFERENCING NEW TABLE AS added
        FOR EACH STATEMENT EXECUTE FUNCTION job_has_more()`,
      `CREATE FUNCTION household_is_edited() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          UPDATE job_summaries SET changed = pg_current_xact_id()
            WHERE job_id IN (SELECT j.id FROM jobs j JOIN edited h ON h.id = j.household_id);
          RETURN NULL;
        END $$`,
      `CREATE TRIGGER households_summary AFTER UPDATE ON households REFERENCING NEW TABLE AS edited
        FOR EACH STATEMENT EXECUTE FUNCTION household_is_edited()`,
      // what is approved is judged by its own shelf and rules; what is not, by the firm's
      `CREATE FUNCTION shelf_is_edited() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          UPDATE job_summaries SET stale = true WHERE NOT approved AND NOT stale;
          RETURN NULL;
        END $$`,
      `CREATE TRIGGER parts_summary AFTER INSERT OR UPDATE OR DELETE ON parts
        FOR EACH STATEMENT EXECUTE FUNCTION shelf_is_edited()`,
      `CREATE TRIGGER rules_summary AFTER INSERT OR UPDATE ON house_rules
        FOR EACH STATEMENT EXECUTE FUNCTION shelf_is_edited()`,
    ],
  },
  {
    name: '2026-11-26-pictures',
    up: [
      `CREATE TABLE pictures (
        id uuid PRIMARY KEY, job_id uuid NOT NULL REFERENCES jobs ON DELETE CASCADE,
        type text NOT NULL CHECK (type IN ('image/jpeg', 'image/png', 'image/webp')),
        bytes bytea NOT NULL CHECK (length(bytes) BETWEEN 12 AND 4000000), by uuid NOT NULL REFERENCES people,
        recorded_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE INDEX pictures_job ON pictures (job_id)`,
    ],
  },
  {
    name: '2026-11-26-signing-in',
    up: [
      // until now everybody here could do everything
      `ALTER TABLE people ADD COLUMN role text NOT NULL DEFAULT 'owner' CHECK (role IN ('owner', 'office', 'fitter', 'reader')),
        ADD COLUMN password text, ADD COLUMN left_at timestamptz, ADD COLUMN version integer NOT NULL DEFAULT 0,
        ADD COLUMN updated_by uuid REFERENCES people`,
      `ALTER TABLE people ALTER COLUMN role DROP DEFAULT`,
      // of a token only what it hashes to is kept: who reads the database cannot come in by it
      `CREATE TABLE devices (
        id uuid PRIMARY KEY, token_hash bytea NOT NULL UNIQUE, name text NOT NULL, waits integer NOT NULL DEFAULT 0,
        began_at timestamptz NOT NULL DEFAULT now(), seen_at timestamptz NOT NULL DEFAULT now(), ended_at timestamptz,
        ended_by uuid REFERENCES people)`,
      `CREATE TABLE sessions (
        id uuid PRIMARY KEY, device_id uuid NOT NULL REFERENCES devices ON DELETE CASCADE,
        person_id uuid NOT NULL REFERENCES people, remembered boolean NOT NULL,
        began_at timestamptz NOT NULL DEFAULT now(), seen_at timestamptz NOT NULL DEFAULT now(), ended_at timestamptz)`,
      `CREATE UNIQUE INDEX sessions_open ON sessions (device_id, person_id) WHERE ended_at IS NULL`,
      `CREATE INDEX sessions_person ON sessions (person_id)`,
      `CREATE TABLE links (
        id uuid PRIMARY KEY, token_hash bytea NOT NULL UNIQUE, purpose text NOT NULL CHECK (purpose IN ('owner', 'join', 'reset')),
        person_id uuid REFERENCES people, made_by uuid REFERENCES people, made_at timestamptz NOT NULL DEFAULT now(),
        until timestamptz NOT NULL, used_at timestamptz)`,
      `CREATE TABLE tries (key text PRIMARY KEY, points integer NOT NULL DEFAULT 0, expire bigint)`,
      `CREATE TABLE audit (
        seq bigserial PRIMARY KEY, at timestamptz NOT NULL DEFAULT now(), by uuid, what text NOT NULL, about text NOT NULL,
        job_id uuid, before jsonb, after jsonb)`,
      `CREATE INDEX audit_by ON audit (by, seq)`,
      ...AUDIT,
    ],
  },
  {
    name: '2026-11-27-visit-days',
    up: [
      `ALTER TABLE job_summaries ADD COLUMN visit_days date[] NOT NULL DEFAULT '{}'`,
      `CREATE INDEX summaries_visit_days ON job_summaries USING gin (visit_days)`,
    ],
  },
  {
    name: '2026-11-27-one-statement-each',
    up: [
      STORE_FACTS,
      // a summary is worked out beside the writes: it counts if nothing was written or edited meanwhile
      `ALTER TABLE job_summaries ADD COLUMN rev bigint NOT NULL DEFAULT 0`,
      `CREATE OR REPLACE FUNCTION job_has_more() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          UPDATE job_summaries SET stale = true, rev = rev + 1, changed = pg_current_xact_id()
            WHERE job_id IN (SELECT DISTINCT job_id FROM added);
          RETURN NULL;
        END $$`,
      `CREATE OR REPLACE FUNCTION shelf_is_edited() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          UPDATE job_summaries SET stale = true, rev = rev + 1 WHERE NOT approved;
          RETURN NULL;
        END $$`,
    ],
  },
  {
    name: '2026-11-28-stock',
    up: [
      // what was counted and added; what went into jobs stands among their facts
      `CREATE TABLE stock_moves (
        id uuid PRIMARY KEY, seq bigserial NOT NULL, part text NOT NULL CHECK (length(part) BETWEEN 1 AND 80),
        place text NOT NULL CHECK (place IN ('van', 'store')), kind text NOT NULL CHECK (kind IN ('count', 'add')),
        count numeric NOT NULL CHECK (count BETWEEN -10000 AND 10000), note text NOT NULL, at timestamptz NOT NULL,
        by uuid NOT NULL REFERENCES people, recorded_at timestamptz NOT NULL DEFAULT now())`,
      `CREATE INDEX stock_moves_counted ON stock_moves (part, place, at)`,
      `CREATE INDEX facts_stock_out ON facts (job_id) WHERE kind = 'stock-out'`,
      `CREATE INDEX facts_taken_back ON facts (job_id) WHERE kind = 'taken-back'`,
      ...AUDIT_STOCK,
    ],
  },
  {
    name: '2026-11-29-find',
    up: [
      // words as they are looked for: letters and digits, whatever stands between them
      `CREATE FUNCTION plain_words(said text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS
        $$ SELECT regexp_replace(lower(said), '[^[:alnum:]]+', ' ', 'g') $$`,
      `ALTER TABLE households ADD COLUMN search tsvector GENERATED ALWAYS AS
        (to_tsvector('simple', plain_words(name || ' ' || place || ' ' || contact || ' ' || notes))) STORED`,
      `CREATE INDEX households_search ON households USING gin (search)`,
      `ALTER TABLE job_summaries ADD COLUMN lines jsonb NOT NULL DEFAULT '[]'`,
      `ALTER TABLE job_summaries ADD COLUMN search tsvector NOT NULL DEFAULT ''`,
      `CREATE INDEX job_summaries_search ON job_summaries USING gin (search)`,
      // each is looked through once
      `UPDATE job_summaries SET stale = true`,
    ],
  },
  {
    name: '2026-11-29-day-table',
    up: [
      `CREATE TABLE day_table (
        id text PRIMARY KEY CHECK (id = 'firm'), seq serial NOT NULL, body jsonb NOT NULL, version integer NOT NULL DEFAULT 0,
        updated_by uuid REFERENCES people, updated_at timestamptz NOT NULL DEFAULT now())`,
      ...AUDIT_DAY_TABLE,
    ],
  },
  {
    name: '2026-11-30-whom-to-ask',
    up: [
      `ALTER TABLE households ADD COLUMN address text NOT NULL DEFAULT '', ADD COLUMN phone text NOT NULL DEFAULT '',
        ADD COLUMN key_holder text NOT NULL DEFAULT '', DROP COLUMN search`,
      `ALTER TABLE households ADD COLUMN search tsvector GENERATED ALWAYS AS (to_tsvector('simple', plain_words(
        name || ' ' || place || ' ' || address || ' ' || contact || ' ' || phone || ' ' || key_holder || ' ' || notes))) STORED`,
      `CREATE INDEX households_search ON households USING gin (search)`,
      ...AUDIT_HOUSEHOLD_TEXTS,
    ],
  },
  {
    name: '2026-11-30-feeds',
    up: [
      `CREATE TABLE feeds (
        id uuid PRIMARY KEY, token_hash bytea NOT NULL UNIQUE, fitter uuid REFERENCES people, made_by uuid NOT NULL REFERENCES people,
        made_at timestamptz NOT NULL DEFAULT now(), read_at timestamptz, ended_at timestamptz)`,
      ...AUDIT_FEEDS,
    ],
  },
  {
    name: '2026-12-01-vans',
    up: [
      // whose van it is; none is the one van a firm began with
      `ALTER TABLE stock_moves ADD COLUMN van_of uuid REFERENCES people, ADD CHECK (van_of IS NULL OR place = 'van')`,
      `CREATE INDEX stock_moves_vans ON stock_moves (van_of, at) WHERE van_of IS NOT NULL`,
      ...AUDIT_VANS,
    ],
  },
  {
    name: '2026-12-02-decisions',
    up: [
      // what was decided of a job, from what is stored of it up to its rev, and by which build of the core
      `CREATE TABLE job_decisions (
        job_id uuid PRIMARY KEY REFERENCES jobs ON DELETE CASCADE, rev bigint NOT NULL, made_by text NOT NULL, body json NOT NULL)`,
    ],
  },
  {
    name: '2026-12-03-summaries-by-core',
    // those of another core are found without looking at all
    up: [`CREATE INDEX job_summaries_core ON job_summaries (core_version)`],
  },
  {
    name: '2026-12-04-beside-decisions',
    // what is told beside a decision; null where it was not worked out
    up: [`ALTER TABLE job_decisions ADD COLUMN beside json`],
  },
];

/** Whether every migration was made already. */
async function isCurrent(sequelize: Sequelize): Promise<boolean> {
  const [tables] = await sequelize.query("SELECT to_regclass('migrations') IS NOT NULL AS there");
  if (!(tables as { there: boolean }[])[0]?.there) return false;
  const [made] = await sequelize.query('SELECT name FROM migrations');
  const names = new Set((made as { name: string }[]).map((m) => m.name));
  return statements.every((m) => names.has(m.name));
}

/** Brings the database to the current shape, or to an earlier one. Safe to run from several processes at once. */
export async function migrate(sequelize: Sequelize, upTo?: string): Promise<void> {
  await sequelize.transaction(async (lock) => {
    await sequelize.query('SELECT pg_advisory_xact_lock($1)', { bind: [MIGRATION_LOCK], transaction: lock });
    if (upTo === undefined && (await isCurrent(sequelize))) return;
    // most starts have nothing to bring up: what does it is read in only where it is wanted
    const { SequelizeStorage, Umzug } = await import('umzug');
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
