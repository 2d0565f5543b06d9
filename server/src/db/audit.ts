import type { Transaction } from 'sequelize';
import type { Db } from './models.ts';

/**
 * Who changed what is written down by the database itself, in the same transaction as the change: no way of writing
 * passes it by. Lines are only ever added.
 */

/** A trigger on rows of a table that writes one line for each. @param line its by, what, about, job_id, before, after */
const onRow = (table: string, events: string, name: string, line: string, when = ''): string[] => [
  `CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      INSERT INTO audit (by, what, about, job_id, before, after) VALUES (${line});
      RETURN NULL;
    END $$`,
  `CREATE TRIGGER ${name} AFTER ${events} ON ${table} FOR EACH ROW ${when} EXECUTE FUNCTION ${name}()`,
];

/** Who brings in what others wrote, in the transaction that does: set by `broughtBy`. */
const WHO = `coalesce(nullif(current_setting('katharos.brought_by', true), '')::uuid, by)`;

/** The same for what is only ever added, many at a time. */
const onAdded = (table: string, name: string, line: string): string[] => [
  `CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      INSERT INTO audit (by, what, about, job_id, after) SELECT ${line} FROM added;
      RETURN NULL;
    END $$`,
  `CREATE TRIGGER ${name} AFTER INSERT ON ${table} REFERENCING NEW TABLE AS added
    FOR EACH STATEMENT EXECUTE FUNCTION ${name}()`,
];

/** A document that is edited by version: what stood there and what stands now. */
const onDocument = (table: string, called: string, about: string): string[] => [
  ...onRow(table, 'INSERT', `audit_${table}_added`, `NEW.updated_by, '${called} added', ${about}, NULL, NULL, NEW.body`, 'WHEN (NEW.updated_by IS NOT NULL)'),
  ...onRow(table, 'UPDATE', `audit_${table}_changed`, `NEW.updated_by, '${called} changed', ${about}, NULL, OLD.body, NEW.body`, 'WHEN (OLD.body IS DISTINCT FROM NEW.body)'),
]; // oxfmt-ignore

const household = (row: string): string =>
  `jsonb_build_object('name', ${row}.name, 'place', ${row}.place, 'contact', ${row}.contact, 'notes', ${row}.notes)`;
const allTexts = (row: string): string =>
  `${household(row)} || jsonb_build_object('address', ${row}.address, 'phone', ${row}.phone, 'keyHolder', ${row}.key_holder)`;
const person = (row: string): string =>
  `jsonb_build_object('name', ${row}.name, 'role', ${row}.role, 'left', ${row}.left_at IS NOT NULL)`;
const jobOf = '(SELECT id FROM jobs WHERE household_id = NEW.id LIMIT 1)';
const nameOf = (id: string): string => `(SELECT name FROM people WHERE id = ${id})`;

/** Statements that make the database write down who changed what. */
export const AUDIT: readonly string[] = [
  `CREATE FUNCTION audit_stays() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      RAISE EXCEPTION 'lines of the audit are only ever added';
    END $$`,
  `CREATE TRIGGER audit_stays BEFORE UPDATE OR DELETE ON audit FOR EACH STATEMENT EXECUTE FUNCTION audit_stays()`,
  ...onAdded('facts', 'audit_facts', `${WHO}, kind, coalesce(body->>'field', body->>'step', ''), job_id, jsonb_build_object('id', id)`),
  ...onAdded('designs', 'audit_designs', `${WHO}, 'design approved', 'version ' || number, job_id, jsonb_build_object('id', id)`),
  ...onAdded('pictures', 'audit_pictures', `${WHO}, 'photograph', '', job_id, jsonb_build_object('id', id)`),
  ...onAdded('jobs', 'audit_jobs', `created_by, 'household added', (SELECT name FROM households WHERE id = household_id), id, NULL::jsonb`),
  ...onRow('households', 'UPDATE', 'audit_households', `NEW.updated_by, 'household changed', NEW.name, ${jobOf}, ${household('OLD')}, ${household('NEW')}`),
  ...onDocument('parts', 'part', 'NEW.id'),
  ...onDocument('house_rules', 'house rules', `''`),
  ...onDocument('instruments', 'instrument', `coalesce(NEW.body->>'name', '')`),
  ...onRow('people', 'INSERT', 'audit_people_added', `NEW.updated_by, 'person added', NEW.name, NULL, NULL, ${person('NEW')}`),
  ...onRow('people', 'UPDATE', 'audit_people_changed', `NEW.updated_by, 'person changed', NEW.name, NULL, ${person('OLD')}, ${person('NEW')}`,
    'WHEN ((OLD.name, OLD.role, OLD.left_at) IS DISTINCT FROM (NEW.name, NEW.role, NEW.left_at))'),
  ...onRow('people', 'UPDATE', 'audit_people_password', `NEW.id, 'password set', NEW.name, NULL, NULL, NULL`, 'WHEN (OLD.password IS DISTINCT FROM NEW.password)'),
  ...onRow('sessions', 'INSERT', 'audit_sessions_began', `NEW.person_id, 'signed in', (SELECT name FROM devices WHERE id = NEW.device_id), NULL, NULL, NULL`),
  ...onRow('sessions', 'UPDATE', 'audit_sessions_ended', `NEW.person_id, 'signed out', (SELECT name FROM devices WHERE id = NEW.device_id), NULL, NULL, NULL`,
    'WHEN (OLD.ended_at IS NULL AND NEW.ended_at IS NOT NULL)'),
  ...onRow('devices', 'UPDATE', 'audit_devices_ended', `NEW.ended_by, 'device ended', NEW.name, NULL, NULL, NULL`,
    'WHEN (OLD.ended_at IS NULL AND NEW.ended_at IS NOT NULL)'),
  ...onRow('links', 'INSERT', 'audit_links_made', `NEW.made_by, 'link made', coalesce(${nameOf('NEW.person_id')}, 'the first owner'), NULL, NULL, jsonb_build_object('purpose', NEW.purpose)`),
  ...onRow('links', 'UPDATE', 'audit_links_used', `NEW.person_id, 'link used', coalesce(${nameOf('NEW.person_id')}, ''), NULL, NULL, jsonb_build_object('purpose', NEW.purpose)`,
    'WHEN (OLD.used_at IS NULL AND NEW.used_at IS NOT NULL)'),
]; // oxfmt-ignore

/** Says that what is written in this transaction is brought in by somebody, whoever wrote it once. */
export const broughtBy = (db: Pick<Db, 'sequelize'>, person: string, transaction: Transaction): Promise<unknown> =>
  db.sequelize.query(`SELECT set_config('katharos.brought_by', $1, true)`, { bind: [person], transaction });

/** The same for movements of the stock. */
export const AUDIT_STOCK: readonly string[] = onAdded(
  'stock_moves',
  'audit_stock',
  `by, 'stock ' || CASE kind WHEN 'count' THEN 'counted' ELSE 'added' END, part, NULL::uuid, jsonb_build_object('place', place, 'count', count)`,
);

/** The same, for whose van it is. */
export const AUDIT_VANS: readonly string[] = [
  `DROP TRIGGER audit_stock ON stock_moves`,
  `DROP FUNCTION audit_stock()`,
  ...onAdded(
    'stock_moves',
    'audit_stock',
    `by, 'stock ' || CASE kind WHEN 'count' THEN 'counted' ELSE 'added' END, part, NULL::uuid,
      jsonb_strip_nulls(jsonb_build_object('place', place, 'van', ${nameOf('van_of')}, 'count', count))`,
  ),
];

/** The same for what a day is planned by. */
export const AUDIT_DAY_TABLE: readonly string[] = onDocument('day_table', 'day table', `''`);

/** The same, for what else is written down of a household. */
export const AUDIT_HOUSEHOLD_TEXTS: readonly string[] = [
  `DROP TRIGGER audit_households ON households`,
  `DROP FUNCTION audit_households()`,
  ...onRow('households', 'UPDATE', 'audit_households', `NEW.updated_by, 'household changed', NEW.name, ${jobOf}, ${allTexts('OLD')}, ${allTexts('NEW')}`),
]; // oxfmt-ignore

/** The same for feeds of visits: an address that anybody who has it reads. */
export const AUDIT_FEEDS: readonly string[] = [
  ...onRow('feeds', 'INSERT', 'audit_feeds_made', `NEW.made_by, 'calendar feed made', coalesce(${nameOf('NEW.fitter')}, 'everybody'), NULL, NULL, NULL`),
  ...onRow('feeds', 'UPDATE', 'audit_feeds_ended', `NEW.made_by, 'calendar feed ended', coalesce(${nameOf('NEW.fitter')}, 'everybody'), NULL, NULL, NULL`,
    'WHEN (OLD.ended_at IS NULL AND NEW.ended_at IS NOT NULL)'),
]; // oxfmt-ignore
