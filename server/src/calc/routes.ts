import { CALCULATORS } from '@katharos/core';
import type { ShelfStore } from '../shelf/store.ts';
import { Router } from 'express';
import * as z from 'zod';
import { ApiProblem } from '../http/problem.ts';
import type { Compute } from './compute.ts';

/** The calculators of the command line, by the same schemas: GET lists them, POST /NAME answers. */
export function calcRoutes(store: ShelfStore, compute: Compute): Router {
  const r = Router();
  r.get('/', (_req, res) => {
    res.json(
      Object.values(CALCULATORS).map((c) => ({
        name: c.name,
        about: c.about,
        input: z.toJSONSchema(c.input, { io: 'input', unrepresentable: 'any' }),
      })),
    );
  });
  r.post('/:name', async (req, res) => {
    const { name } = req.params;
    if (!Object.hasOwn(CALCULATORS, name)) throw new ApiProblem('not-found');
    const { parts, rules } = await store.read();
    const gone = new AbortController();
    res.on('close', () => {
      if (!res.writableFinished) gone.abort();
    });
    const input: unknown = req.body;
    const result = await compute.answer({ name, input, shelf: { catalogue: parts, rules } }, gone.signal);
    if (!result.ok) throw new ApiProblem('bad-value', { errors: [result.error] });
    res.json(result.output);
  });
  return r;
}
