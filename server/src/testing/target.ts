import { randomUUID } from 'node:crypto';
import { MAY } from '@katharos/contract';
import { CALCULATORS } from '@katharos/core';
import type { Target } from './hostile.ts';

/** Every route, as it is written. */
export const ROUTES: readonly string[] = [
  ...new Set(Object.keys(MAY).map((r) => `/api${r.slice(r.indexOf(' ') + 1)}`)),
  ...Object.keys(CALCULATORS).map((name) => `/api/calc/${name}`),
  '/api/:id',
  '/assets/:id',
  '/:id',
  '/',
];

/** Reads a running server that has the demo data, for documents of it that are right. @param headers as whoever asks sends them */
export async function targetOf(address: string, headers: Readonly<Record<string, string>> = {}): Promise<Target> {
  const get = async <T>(path: string): Promise<T> => (await (await fetch(address + path, { headers })).json()) as T;
  const shelf = await get<{
    people: { id: string }[];
    parts: { id: string }[];
    instruments: { id: string; version: number }[];
    rules: unknown;
    rulesVersion: number;
  }>('/api/shelf');
  const rounds = await get<{ kept: { entries: { jobId: string; household: { id: string } }[] } }>('/api/rounds');
  const entry = rounds.kept.entries[0];
  const [person] = shelf.people;
  const [part] = shelf.parts;
  const [instrument] = shelf.instruments;
  if (!entry || !person || !part || !instrument) throw new Error('the server has no demo data');
  const { jobId } = entry;
  const file = await get<{ facts: { id: string }[]; designs: object[]; household: object }>(`/api/jobs/${jobId}/file`);
  const by = person.id;
  const job = `/api/jobs/${jobId}`;
  const named = { name: 'Mill Lane 2', place: 'Town', contact: '', notes: '' };
  const { version, ...plain } = instrument;
  return {
    address,
    headers,
    jobId,
    householdId: entry.household.id,
    personId: by,
    instrumentId: instrument.id,
    partId: part.id,
    bodies: [
      ...file.facts.map((f) => ({
        method: 'POST',
        path: `${job}/facts`,
        body: { facts: [{ ...f, id: randomUUID() }] },
      })),
      ...file.designs.map((d) => ({ method: 'POST', path: `${job}/designs`, body: { version: { ...d, id: randomUUID() } } })),
      { method: 'POST', path: '/api/jobs/import', body: { file, by } },
      { method: 'POST', path: '/api/stock/moves', body: { moves: [{ id: randomUUID(), part: part.id, place: 'van', kind: 'add', count: 1, note: '', at: '2026-11-24T08:00:00.000Z' }] } },
      { method: 'POST', path: '/api/households', body: { id: randomUUID(), jobId: randomUUID(), by, ...named } },
      { method: 'PUT', path: `/api/households/${entry.household.id}`, body: { version: 0, by, ...named } },
      { method: 'POST', path: '/api/people', body: { name: 'Somebody', role: 'fitter' } },
      { method: 'PUT', path: `/api/people/${by}`, body: { name: 'Somebody', role: 'office', left: false, version: 0 } },
      { method: 'POST', path: '/api/links', body: { person: by } },
      { method: 'POST', path: '/api/links/use', body: { token: 'x'.repeat(43), password: 'three words do', name: 'Somebody' } },
      { method: 'POST', path: '/api/session', body: { name: 'Somebody', password: 'three words do' } },
      { method: 'POST', path: '/api/session/password', body: { old: 'three words do', password: 'four words do more' } },
      { method: 'PUT', path: '/api/session/waits', body: { waits: 3 } },
      { method: 'PUT', path: '/api/shelf/rules', body: { rules: shelf.rules, version: shelf.rulesVersion, by } },
      ...shelf.parts.map((p) => ({ method: 'PUT', path: `/api/shelf/parts/${p.id}`, body: { part: p, version: 0, by } })),
      { method: 'POST', path: '/api/shelf/parts/import', body: { parts: shelf.parts.slice(0, 3), versions: {}, by } },
      { method: 'PUT', path: `/api/instruments/${instrument.id}`, body: { instrument: plain, version, by } },
      ...['size', 'prove'].map((name) => ({ method: 'POST', path: `/api/calc/${name}`, body: file })),
      ...Object.keys(CALCULATORS).map((name) => ({ method: 'POST', path: `/api/calc/${name}`, body: { feedTdsMgL: 300, temperatureC: 15 } })),
    ],
  };
} // oxfmt-ignore
