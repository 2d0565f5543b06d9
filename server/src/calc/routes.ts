import { CALCULATORS } from '@katharos/core';
import type { ShelfStore } from '../shelf/store.ts';
import { Router } from 'express';
import { z } from 'zod';
import { ApiProblem } from '../http/problem.ts';

/** The calculators of the command line, by the same schemas: GET lists them, POST /NAME answers. */
export function calcRoutes(store: ShelfStore): Router {
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
    const calculator = Object.hasOwn(CALCULATORS, name) ? CALCULATORS[name] : undefined;
    if (!calculator) throw new ApiProblem('not-found');
    const shelf = await store.read();
    const result = calculator.answer(req.body, { catalogue: shelf.parts, rules: shelf.rules });
    if (!result.ok) throw new ApiProblem('bad-value', { errors: [result.error] });
    res.json(result.output);
  });
  return r;
}
