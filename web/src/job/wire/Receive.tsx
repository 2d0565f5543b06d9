import { formatReading, fromBase, instrumentError, toBase, type Instrument, type QuantityKind } from '@katharos/core';
import { Button } from '@mantine/core';
import { IconAntenna } from '../../ui/icons.ts';
import { useEffect, useRef, useState, type ReactElement } from 'react';
import * as z from 'zod';
import { STEADY_SECONDS, steadySeconds } from './steady.ts';
import './receive.css';

const LiveSchema = z.object({ seconds: z.number(), value: z.number(), unit: z.string(), settled: z.boolean() });
type Live = z.infer<typeof LiveSchema>;
/** Samples that are kept: more than it takes to see a figure stand. */
const KEPT = 240;
/** A meter that sent nothing for so long has fallen silent, ms. */
const SILENT_MS = 10_000;

/** What a stand-in is held into where nothing was read yet, base units. */
const USUAL = { concentration: 320, temperature: 12, pressure: 3.6, flow: 8 } as const;

/** Receives a reading over the wire and shows it settling; taken only when the hand says so. */
export function Receive({
  of: f,
  meter,
  near,
  onTake,
}: {
  /** the field it is read for */
  of: { readonly kind: QuantityKind; readonly label: string };
  meter: Instrument;
  /** what was read or is expected there, base unit: what a stand-in is held into */
  near: number | null;
  onTake: (value: number, typed: string) => void;
}): ReactElement {
  const [live, setLive] = useState<readonly Live[] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const source = useRef<EventSource | null>(null);
  const silence = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const hangUp = (): void => {
    clearTimeout(silence.current);
    source.current?.close();
    source.current = null;
  };
  const stop = (): void => {
    hangUp();
    setLive(null);
  };
  useEffect(() => hangUp, []);
  const listen = (): void => {
    clearTimeout(silence.current);
    silence.current = setTimeout(() => {
      hangUp();
      setFault(`${meter.name} has sent nothing for ${String(SILENT_MS / 1000)} seconds: its battery, or out of reach. Ask it again, or read it by eye and type it.`);
    }, SILENT_MS); // oxfmt-ignore
  };
  const start = (): void => {
    hangUp();
    setFault(null);
    setLive([]);
    const sample = near ?? (f.kind in USUAL ? USUAL[f.kind as keyof typeof USUAL] : 1);
    const es = new EventSource(
      `/api/instruments/${meter.id}/stream?${new URLSearchParams({ quantity: f.kind, sample: String(sample) }).toString()}`,
    );
    source.current = es;
    listen();
    es.onmessage = (e: MessageEvent<string>) => {
      const parsed = LiveSchema.safeParse(JSON.parse(e.data));
      if (!parsed.success) return;
      listen();
      setLive((l) => [...(l ?? []), parsed.data].slice(-KEPT));
    };
    es.onerror = () => {
      hangUp();
      setFault(`${meter.name} does not answer. Read it by eye and type it.`);
    };
  };
  const now = live?.at(-1);
  if (live === null)
    return (
      <Button
        size="compact-xs"
        variant="subtle"
        leftSection={<IconAntenna size={13} />}
        title={`Take ${f.label} from ${meter.name}`}
        onClick={start}
      >
        from {meter.name}
      </Button>
    );
  const values = live.map((l) => l.value);
  const low = Math.min(...values);
  const high = Math.max(...values, low + 1e-9);
  const base = now ? toBase(now.value, f.kind, now.unit) : 0;
  // in the unit the meter sends, about the figure it sends
  const errorBase = instrumentError(meter, f.kind, base) ?? 0.02 * Math.abs(base);
  const error = now ? Math.abs(fromBase(base + errorBase, f.kind, now.unit) - now.value) : 0;
  const steady = steadySeconds(live, error);
  const stands = steady >= STEADY_SECONDS;
  return (
    <div className="receive" role="group" aria-label={`Receiving from ${meter.name}`}>
      {fault !== null && <span className="caution">{fault}</span>}
      {now && (
        <>
          <b className="receive-value" aria-live="off">
            {formatReading(now.value, 4)} {now.unit}
          </b>
          <svg width={70} height={22} aria-hidden="true">
            <polyline
              className="receive-trace"
              points={live
                .map((l, i) => `${String((70 * i) / (KEPT - 1))},${String(20 - (18 * (l.value - low)) / (high - low))}`)
                .join(' ')}
            />
          </svg>
          <span className="small" role="status">
            {stands
              ? 'settled: steady for half a minute'
              : now.settled
                ? `stands still, ${String(Math.floor(steady))} of ${String(STEADY_SECONDS)} s`
                : 'settling'}
          </span>
          <Button
            size="compact-xs"
            // what had not settled when it fell silent is no reading
            disabled={fault !== null && !stands}
            variant={stands || now.settled ? 'filled' : 'default'}
            onClick={() => {
              onTake(base, `${formatReading(fromBase(base, f.kind, now.unit), 4)} ${now.unit}`);
              stop();
            }}
          >
            Take it
          </Button>
        </>
      )}
      {!now && fault === null && <span className="small">Asking {meter.name}.</span>}
      {fault !== null && (
        <Button size="compact-xs" variant="light" onClick={start}>
          Ask it again
        </Button>
      )}
      <Button size="compact-xs" variant="subtle" onClick={stop}>
        Leave
      </Button>
    </div>
  );
}
