import { Router } from 'express';
import type { ShelfStore } from '../shelf/store.ts';
import { ApiProblem, pathId } from '../http/problem.ts';

/** Where the stand-ins of this server answer; started when first asked. */
export type StandInAddress = () => Promise<string>;

const LOOPBACK = /^http:\/\/(127(?:\.\d{1,3}){3}|localhost|\[::1\])(:\d{1,5})?(\/[\w./-]*)?$/;

/**
 * Passes on what a meter sends while it settles. A meter is asked on this machine's own addresses only.
 * GET /:id/stream?quantity=KIND&sample=VALUE; `sample` is what a stand-in is held into, real meters leave it alone.
 */
export function streamRoutes(store: ShelfStore, standIns: StandInAddress): Router {
  const r = Router();
  r.get('/:id/stream', async (req, res) => {
    const id = pathId(req);
    const instrument = (await store.read()).instruments.find((i) => i.id === id);
    if (!instrument) throw new ApiProblem('not-found');
    const quantity = typeof req.query.quantity === 'string' ? req.query.quantity : '';
    const sample = typeof req.query.sample === 'string' ? req.query.sample : '';
    const address = instrument.address;
    if (address === null)
      throw new ApiProblem('bad-value', { errors: [{ path: 'address', message: 'this one is read by eye' }] });
    const own = /^stand-in:([a-z]+)$/.exec(address);
    const base = own ? `${await standIns()}/${own[1] ?? ''}` : address;
    if (!LOOPBACK.test(base))
      throw new ApiProblem('bad-value', {
        errors: [{ path: 'address', message: 'a meter is asked on this machine only' }],
      });
    const gone = new AbortController();
    res.on('close', () => {
      gone.abort();
    });
    let answer: Response;
    try {
      answer = await fetch(`${base}/stream?${new URLSearchParams({ quantity, sample }).toString()}`, {
        signal: gone.signal,
      });
    } catch {
      if (gone.signal.aborted) return;
      throw new ApiProblem('no-instrument');
    }
    if (!answer.ok || !answer.body)
      throw new ApiProblem('bad-value', { errors: [{ path: 'quantity', message: 'this meter does not read that' }] });
    res.set({ 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform' });
    res.flushHeaders();
    try {
      for await (const chunk of answer.body) res.write(chunk);
    } catch {
      // the page, or the meter, went away in the middle: what was sent was sent
    }
    res.end();
  });
  return r;
}
