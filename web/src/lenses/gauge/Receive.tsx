import { formatReading, fromBase, toBase, type Instrument, type QuantityField } from '@katharos/core';
import { Button } from '@mantine/core';
import { IconAntenna } from '@tabler/icons-react';
import { useEffect, useRef, useState, type ReactElement } from 'react';
import { z } from 'zod';

const LiveSchema = z.object({ seconds: z.number(), value: z.number(), unit: z.string(), settled: z.boolean() });
type Live = z.infer<typeof LiveSchema>;

/** What a stand-in is held into where nothing was read yet, base units. */
const USUAL = { concentration: 320, temperature: 12, pressure: 3.6, flow: 8 } as const;

/** Receives a reading over the wire and shows it settling; taken only when the hand says so. */
export function Receive({
  field: f,
  meter,
  near,
  onTake,
}: {
  field: QuantityField;
  meter: Instrument;
  near: number | null;
  onTake: (value: number, typed: string) => void;
}): ReactElement {
  const [live, setLive] = useState<readonly Live[] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const source = useRef<EventSource | null>(null);
  const stop = (): void => {
    source.current?.close();
    source.current = null;
    setLive(null);
  };
  useEffect(() => () => source.current?.close(), []);
  const start = (): void => {
    setFault(null);
    setLive([]);
    const sample = near ?? (f.kind in USUAL ? USUAL[f.kind as keyof typeof USUAL] : 1);
    const es = new EventSource(
      `/api/instruments/${meter.id}/stream?${new URLSearchParams({ quantity: f.kind, sample: String(sample) }).toString()}`,
    );
    source.current = es;
    es.onmessage = (e: MessageEvent<string>) => {
      const parsed = LiveSchema.safeParse(JSON.parse(e.data));
      if (parsed.success) setLive((l) => [...(l ?? []), parsed.data].slice(-40));
    };
    es.onerror = () => {
      es.close();
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
                .map((l, i) => `${String((70 * i) / 39)},${String(20 - (18 * (l.value - low)) / (high - low))}`)
                .join(' ')}
            />
          </svg>
          <span className="small" role="status">
            {now.settled ? 'settled' : 'settling'}
          </span>
          <Button
            size="compact-xs"
            variant={now.settled ? 'filled' : 'default'}
            onClick={() => {
              const base = toBase(now.value, f.kind, now.unit);
              onTake(base, `${formatReading(fromBase(base, f.kind, now.unit), 4)} ${now.unit}`);
              stop();
            }}
          >
            Take it
          </Button>
        </>
      )}
      {!now && fault === null && <span className="small">Asking {meter.name}.</span>}
      <Button size="compact-xs" variant="subtle" onClick={stop}>
        Leave
      </Button>
    </div>
  );
}
