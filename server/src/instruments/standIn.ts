import { createServer, type Server } from 'node:http';
import { bell, seeded, type QuantityKind } from '@katharos/core';

/**
 * Small stand-ins for meters that answer over the wire. They speak the protocol of docs/instruments.md, as a real one
 * would: GET /NAME tells what it is, GET /NAME/stream sends readings as server-sent events until the caller goes.
 */
interface StandIn {
  readonly name: string;
  readonly quantities: readonly Quantity[];
}

/** How one figure settles: from what it stood in before, with a time constant, noise, and a slow drift. Base units. */
interface Quantity {
  readonly kind: QuantityKind;
  readonly unit: string;
  /** what it shows before it is held into anything */
  readonly rest: number;
  readonly settlesS: number;
  /** one standard deviation: a share of the value and a fixed part */
  readonly noiseShare: number;
  readonly noiseFixed: number;
  /** a minute, share */
  readonly drift: number;
  /** last digit it shows */
  readonly digit: number;
}

const STAND_INS: readonly StandIn[] = [
  {
    name: 'pen',
    quantities: [
      { kind: 'concentration', unit: 'mg/L', rest: 0, settlesS: 2.2, noiseShare: 0.003, noiseFixed: 0.4, drift: 0.001, digit: 1 },
      { kind: 'temperature', unit: '°C', rest: 21, settlesS: 5, noiseShare: 0, noiseFixed: 0.04, drift: 0, digit: 0.1 },
    ],
  },
  {
    name: 'gauge',
    quantities: [
      { kind: 'pressure', unit: 'bar', rest: 0, settlesS: 0.8, noiseShare: 0.004, noiseFixed: 0.01, drift: 0, digit: 0.02 },
    ],
  },
  {
    name: 'jug',
    quantities: [
      { kind: 'flow', unit: 'L/min', rest: 0, settlesS: 3, noiseShare: 0.012, noiseFixed: 0.002, drift: 0, digit: 0.005 },
    ],
  },
]; // oxfmt-ignore

/** Readings a second. */
const RATE = 4;
/** A reading counts as settled once the last ones of this many seconds lie within three standard deviations. */
const STEADY_S = 2;
/** A stream ends by itself after this long, s. */
const LONGEST_S = 120;

/** One figure at a time after it was held into a sample. @param seconds 0 or more; @param random the caller's generator */
export function standInValue(q: Quantity, sample: number, seconds: number, random: () => number): number {
  const settled = sample + (q.rest - sample) * Math.exp(-seconds / q.settlesS);
  const noise = bell(random) * (q.noiseFixed + q.noiseShare * Math.abs(sample));
  const value = settled * (1 + (q.drift * seconds) / 60) + noise;
  return Math.max(0, Math.round(value / q.digit) * q.digit);
}

function isSteady(last: readonly number[], q: Quantity, sample: number): boolean {
  if (last.length < STEADY_S * RATE) return false;
  const spread = 6 * (q.noiseFixed + q.noiseShare * Math.abs(sample)) + q.digit;
  return Math.max(...last) - Math.min(...last) <= spread;
}

/** Starts the stand-ins on a loopback port of their own. @returns the server and its address */
export async function startStandIns(): Promise<{ readonly server: Server; readonly address: string }> {
  const server = createServer((req, res) => {
    const url = new URL(req.url ?? '/', 'http://127.0.0.1');
    const [name, what] = url.pathname.split('/').filter(Boolean);
    const meter = STAND_INS.find((s) => s.name === name);
    const send = (status: number, body: unknown): void => {
      res.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    };
    if (!meter) {
      send(404, { error: 'no such meter' });
      return;
    }
    if (what === undefined) {
      send(200, {
        protocol: 'katharos-instrument',
        version: 1,
        name: meter.name,
        quantities: meter.quantities.map((q) => ({ kind: q.kind, unit: q.unit })),
      });
      return;
    }
    const q = meter.quantities.find((x) => x.kind === url.searchParams.get('quantity'));
    const sample = Number(url.searchParams.get('sample') ?? Number.NaN);
    if (what !== 'stream' || !q || !(sample >= 0 && sample < 1e6)) {
      send(400, { error: 'ask for /stream?quantity=KIND&sample=VALUE' });
      return;
    }
    res.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
    const random = seeded(Date.now() % 2147483647);
    const last: number[] = [];
    let n = 0;
    const timer = setInterval(() => {
      const seconds = n++ / RATE;
      const value = standInValue(q, sample, seconds, random);
      last.push(value);
      if (last.length > STEADY_S * RATE) last.shift();
      const settled = isSteady(last, q, sample);
      res.write(`data: ${JSON.stringify({ seconds, value, unit: q.unit, settled })}\n\n`);
      if (seconds >= LONGEST_S) res.end();
    }, 1000 / RATE);
    res.on('close', () => {
      clearInterval(timer);
    });
  });
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const at = server.address();
  server.unref();
  return { server, address: `http://127.0.0.1:${String(typeof at === 'object' && at ? at.port : 0)}` };
}
