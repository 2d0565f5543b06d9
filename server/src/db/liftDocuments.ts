import {
  CatalogueSchema,
  HouseRulesSchema,
  judgedSite,
  keptVerdict,
  openJobDocuments,
  plainReadings,
  prove,
  ofWork,
  type DesignVersion,
  type Fact,
} from '@katharos/core';
import { byJob } from './byJob.ts';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';

interface DesignRow {
  readonly id: string;
  readonly jobId: string;
  readonly first: unknown;
}
interface FactRow {
  readonly jobId: string;
  readonly body: unknown;
}

/**
 * Brings designs of the first kind, which named parts of a shelf that has been edited since, to documents that hold their
 * parts, rules and run sheet; and keeps with each proof the verdict it has now. Facts stay as they were written: they are
 * lifted when they are read. What cannot be lifted is kept as it was and told as such.
 */
export async function liftDocuments(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const all = <T extends object>(sql: string): Promise<T[]> =>
    sequelize.query<T>(sql, { type: QueryTypes.SELECT, transaction });
  const designs = await all<DesignRow>(
    `SELECT id, job_id AS "jobId", jsonb_build_object('id', id, 'number', number, 'design', design, 'sentence', sentence,
       'reason', reason, 'coreVersion', core_version, 'by', by,
       'at', to_char(at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) AS first
     FROM designs ORDER BY job_id, number`,
  );
  if (designs.length === 0) return;
  const parts = await all<{ body: unknown }>('SELECT body FROM parts ORDER BY seq');
  const [rules] = await all<{ body: unknown }>('SELECT body FROM house_rules');
  const shelf = {
    catalogue: CatalogueSchema.parse(parts.map((p) => p.body)),
    rules: HouseRulesSchema.parse(rules?.body),
  };
  const facts = await all<FactRow>('SELECT job_id AS "jobId", body FROM facts ORDER BY seq');
  const ofJob = byJob(facts);
  for (const [jobId, rows] of byJob(designs)) {
    const stored = (ofJob.get(jobId) ?? []).map((f) => f.body);
    const opened = openJobDocuments(
      rows.map((d) => d.first),
      stored,
      shelf,
    );
    for (const row of rows) {
      const version = opened.designs.find((d) => d.id === row.id);
      await sequelize.query('UPDATE designs SET body = $1::jsonb WHERE id = $2', {
        bind: [JSON.stringify(version ?? row.first), row.id],
        transaction,
      });
    }
    await keepVerdicts(sequelize, transaction, opened.facts, opened.designs);
  }
}

/** Keeps with each proof the verdict it has by the version that was in force. */
async function keepVerdicts(
  sequelize: Sequelize,
  transaction: Transaction,
  facts: readonly Fact[],
  designs: readonly DesignVersion[],
): Promise<void> {
  for (const f of facts) {
    if (f.kind !== 'proof' || f.judged) continue;
    const version = designs.find((d) => d.id === f.design);
    const site = version && judgedSite(version.judged);
    if (!version || !site || ofWork(version.system, 'separates').length === 0) continue;
    const r = prove(plainReadings(f.readings), version.system, site, version.judged.rules.meterError);
    if (!r.ok) continue;
    const judged = keptVerdict(r.verdict, version.judged.coreVersion);
    await sequelize.query(`UPDATE facts SET body = jsonb_set(body, '{judged}', $1::jsonb) WHERE id = $2`, {
      bind: [JSON.stringify(judged), f.id],
      transaction,
    });
  }
}
