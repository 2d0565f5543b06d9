import { householdTexts, type Catalogue, type HouseRules, type JobFile } from '@katharos/core';
import { UniqueConstraintError, type Transaction } from 'sequelize';
import { broughtBy } from '../db/audit.ts';
import type { Db } from '../db/models.ts';
import { inTransaction, within } from '../db/transaction.ts';
import { ApiProblem } from '../http/problem.ts';
import { keepPicture, pictureFault, picturesOf } from '../pictures/store.ts';
import { readWholeJob, type AtShelf } from './service.ts';

type WrittenFile = Omit<JobFile, 'unreadable'>;

/**
 * A job as its file: household, everybody who wrote in it, facts, designs, pictures.
 * @param at what a design of the first kind is resolved by
 */
export async function fileOf(db: Db, jobId: string, at: AtShelf, transaction?: Transaction): Promise<WrittenFile> {
  const job = await readWholeJob(db, jobId, at, transaction);
  const pictures = await picturesOf(db, jobId, transaction);
  const wrote = new Set([...job.facts, ...job.designs, ...pictures].map((x) => x.by));
  const people = await db.Person.findAll({ where: { id: [...wrote] }, order: [['name', 'ASC']], ...within(transaction) });
  return {
    format: 'katharos-job',
    version: 2,
    household: { id: job.household.id, ...householdTexts(job.household) },
    jobId: job.id,
    people: people.map((p) => ({ id: p.id, name: p.name })),
    facts: job.facts,
    designs: job.designs,
    pictures: pictures.map((p) => ({ id: p.id, by: p.by, base64: p.bytes.toString('base64') })),
  };
} // oxfmt-ignore

/** A job as its file, with the shelf it was worked out with. */
export async function exportJob(db: Db, jobId: string, parts: Catalogue, rules: HouseRules): Promise<WrittenFile> {
  return { ...(await fileOf(db, jobId, { catalogue: parts, rules })), parts: [...parts], rules };
}

/** Writes a job out of its file, everything under its own id. @throws ApiProblem 'bad-value' where the file lacks what a job needs */
export async function writeJob(db: Db, file: JobFile, by: string, transaction: Transaction, began?: Date): Promise<{ jobId: string; householdId: string }> {
  const { household, jobId } = file;
  const bad = (path: string, message: string): ApiProblem => new ApiProblem('bad-value', { errors: [{ path, message }] });
  if (!household || jobId === undefined) throw bad(household ? 'file.jobId' : 'file.household', 'a job to be kept needs it');
  const [odd] = file.unreadable;
  if (odd) throw bad('file', `a ${odd.what} in it cannot be read: ${odd.said.slice(0, 200)}`);
  file.facts.forEach((f, i) => {
    if (f.jobId !== jobId) throw bad(`file.facts.${String(i)}.jobId`, 'belongs to another job');
  });
  const pictures = file.pictures.map((p, i) => {
    const bytes = Buffer.from(p.base64, 'base64');
    const message = pictureFault(bytes);
    if (message !== null) throw bad(`file.pictures.${String(i)}`, message);
    return { id: p.id, jobId, by: p.by, bytes };
  });
  const there = [await db.Job.findByPk(jobId, { transaction }), await db.Household.findByPk(household.id, { transaction })];
  if (there.some(Boolean))
    throw new ApiProblem('fact-conflict', { errors: [{ path: 'file.jobId', message: 'this job is here already' }] });
  await addPeople(db, file.people, by, transaction);
  await db.Household.create({ ...household, createdBy: by, updatedBy: by }, { transaction });
  await db.Job.create({ id: jobId, householdId: household.id, createdBy: by, ...(began ? { createdAt: began } : {}) }, { transaction });
  await db.Fact.bulkCreate(
    file.facts.map((f) => ({ id: f.id, jobId, kind: f.kind, at: new Date(f.at), by: f.by, body: f })),
    { transaction },
  );
  await db.Design.bulkCreate(
    file.designs.map((d) => ({ id: d.id, jobId, number: d.number, body: d, at: new Date(d.at), by: d.by })),
    { transaction },
  );
  for (const p of pictures)
    if (!(await keepPicture(db, p, transaction)))
      throw new ApiProblem('fact-conflict', { errors: [{ path: 'file.pictures', message: 'a picture’s id stands for another here' }] });
  return { jobId, householdId: household.id };
} // oxfmt-ignore

/**
 * Takes a job in from its file, whole or not at all: everything keeps its id, so that exporting it again gives the same
 * file. People the firm does not have are added. The firm's own shelf stays; the file's is not taken over.
 * @param by who brings it in
 * @throws ApiProblem 'bad-value' where the file lacks what a job needs, 'fact-conflict' where the job or an id of it is
 * here already
 */
export const importJob = (db: Db, file: JobFile, by: string): Promise<{ jobId: string; householdId: string }> =>
  broughtIn(db, by, (transaction) => writeJob(db, file, by, transaction));

/** Writes what others wrote once, whole or not at all. @param by who brings it in @throws ApiProblem 'fact-conflict' where an id is taken */
export async function broughtIn<T>(db: Db, by: string, write: (transaction: Transaction) => Promise<T>): Promise<T> {
  try {
    return await inTransaction(db, async (transaction) => {
      await broughtBy(db, by, transaction);
      return write(transaction);
    });
  } catch (e) {
    if (e instanceof UniqueConstraintError)
      throw new ApiProblem('fact-conflict', { errors: [{ path: 'file', message: 'an id in it stands for something else here' }] });
    throw e;
  }
} // oxfmt-ignore

/** Adds who is not here yet; a name that somebody else here has gets a number, so that both stay told apart. */
async function addPeople(db: Db, people: JobFile['people'], by: string, transaction: Transaction): Promise<void> {
  const here = await db.Person.findAll({ transaction });
  const ids = new Set(here.map((p) => p.id));
  const names = new Set(here.map((p) => p.name.toLowerCase()));
  for (const { id, name } of people) {
    if (ids.has(id)) continue;
    let own = name;
    for (let n = 2; names.has(own.toLowerCase()); n++) own = `${name} ${String(n)}`;
    names.add(own.toLowerCase());
    // known by what they wrote; the owner says whether they may come in
    await db.Person.create({ id, name: own, role: 'reader', updatedBy: by }, { transaction });
  }
}
