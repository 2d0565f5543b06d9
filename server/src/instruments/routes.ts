import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Router, type Request, type Response } from 'express';
import * as z from 'zod';
import type { ShelfStore } from '../shelf/store.ts';
import { ApiProblem, pathId } from '../http/problem.ts';

/** Where the stand-ins of this server answer; started when first asked. */
export type StandInAddress = () => Promise<string>;

const LOOPBACK = /^http:\/\/(127(?:\.\d{1,3}){3}|localhost|\[::1\])(:\d{1,5})?(\/[\w./-]*)?$/;

/** What a stream may take, so that one meter harms nobody else. */
export interface StreamLimits {
  /** streams that run at once, all meters together */
  readonly atOnce: number;
  /** until a meter says what it is, and until it begins, ms */
  readonly answerMs: number;
  /** without a word from it, ms */
  readonly silentMs: number;
  readonly longestMs: number;
  readonly mostBytes: number;
}
export const STREAM_LIMITS: StreamLimits = {
  atOnce: 24,
  answerMs: 5000,
  silentMs: 15_000,
  longestMs: 600_000,
  mostBytes: 2_000_000,
};

/** How a meter tells what it is (docs/instruments.md): nothing else that listens on this machine is read from. */
const MeterSchema = z.object({ protocol: z.literal('katharos-instrument'), version: z.literal(1) });
const MOST_ABOUT_ITSELF = 20_000;

/**
 * Passes on what a meter sends while it settles. A meter is asked on this machine's own addresses only.
 * GET /:id/stream?quantity=KIND&sample=VALUE; `sample` is what a stand-in is held into, real meters leave it alone.
 */
export function streamRoutes(
  store: Pick<ShelfStore, 'read'>,
  standIns: StandInAddress,
  limits = STREAM_LIMITS,
): Router {
  const r = Router();
  let running = 0;
  r.get('/:id/stream', async (req, res) => {
    const id = pathId(req);
    const instrument = (await store.read()).instruments.find((i) => i.id === id);
    if (!instrument) throw new ApiProblem('not-found');
    const base = await baseOf(instrument.address, standIns, req);
    if (req.method === 'HEAD') {
      res.status(204).end();
      return;
    }
    if (running >= limits.atOnce) throw new ApiProblem('busy', { detail: 'Too many meters are read at once.' });
    running++;
    try {
      await passOn(base, req, res, limits);
    } catch (e) {
      // the page, or the meter, went away in the middle: what was sent was sent
      if (!res.headersSent && !res.destroyed) throw e instanceof ApiProblem ? e : new ApiProblem('no-instrument');
      res.end();
    } finally {
      running--;
    }
  });
  return r;
}

/** Passes a meter's stream on until the meter, the page, or its time is gone. */
async function passOn(base: string, req: Request, res: Response, limits: StreamLimits): Promise<void> {
  const gone = new AbortController();
  const end = (): void => {
    gone.abort();
  };
  res.on('close', end);
  const longest = setTimeout(end, limits.longestMs);
  const said = (value: unknown): string => (typeof value === 'string' ? value.slice(0, 60) : '');
  try {
    const asked = new URLSearchParams({ quantity: said(req.query.quantity), sample: said(req.query.sample) });
    await checkMeter(base, gone.signal, limits);
    const answer = await ask(`${base}/stream?${asked.toString()}`, gone.signal, limits);
    const type = answer.headers.get('content-type') ?? '';
    if (!answer.ok || !answer.body || !type.startsWith('text/event-stream'))
      throw new ApiProblem('bad-value', { errors: [{ path: 'quantity', message: 'this meter does not read that' }] });
    res.set({ 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform' });
    res.flushHeaders();
    // what the page does not take is not fetched either
    await pipeline(Readable.fromWeb(answer.body), capped(limits, end), res, { signal: gone.signal });
  } finally {
    clearTimeout(longest);
    end();
  }
}

/** Where an instrument is asked. @throws ApiProblem 'bad-value' where that is nowhere, elsewhere, or this server itself */
async function baseOf(address: string | null, standIns: StandInAddress, req: Request): Promise<string> {
  const refused = (message: string): ApiProblem =>
    new ApiProblem('bad-value', { errors: [{ path: 'address', message }] });
  if (address === null) throw refused('this one is read by eye');
  const own = /^stand-in:([a-z]+)$/.exec(address);
  if (own) return `${await standIns()}/${own[1] ?? ''}`;
  if (!LOOPBACK.test(address) || !URL.canParse(address)) throw refused('a meter is asked on this machine only');
  if (Number(new URL(address).port || 80) === req.socket.localPort) throw refused('that is this application itself');
  return address;
}

/** Asks a meter something. It sends nobody on to somewhere else. */
async function ask(url: string, signal: AbortSignal, { answerMs }: StreamLimits): Promise<globalThis.Response> {
  const patience = new AbortController();
  const timer = setTimeout(() => {
    patience.abort();
  }, answerMs);
  try {
    return await fetch(url, { redirect: 'error', signal: AbortSignal.any([signal, patience.signal]) });
  } finally {
    clearTimeout(timer);
  }
}

/** @throws ApiProblem 'no-instrument' where what answers there is no meter */
async function checkMeter(base: string, signal: AbortSignal, limits: StreamLimits): Promise<void> {
  const answer = await ask(base, signal, limits);
  let text = '';
  const decoder = new TextDecoder();
  for await (const chunk of (answer.body ?? []) as AsyncIterable<Uint8Array>) {
    text += decoder.decode(chunk, { stream: true });
    if (text.length > MOST_ABOUT_ITSELF) break;
  }
  if (!answer.ok || !MeterSchema.safeParse(jsonOf(text)).success)
    throw new ApiProblem('no-instrument', { detail: 'What answers there is no meter.' });
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** Lets so many bytes through, and ends what has gone silent. */
function capped({ mostBytes, silentMs }: StreamLimits, end: () => void): Transform {
  let bytes = 0;
  let silence = setTimeout(end, silentMs);
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      clearTimeout(silence);
      silence = setTimeout(end, silentMs);
      bytes += chunk.length;
      if (bytes > mostBytes) end();
      else done(null, chunk);
    },
    destroy(error, done) {
      clearTimeout(silence);
      done(error);
    },
  });
}
