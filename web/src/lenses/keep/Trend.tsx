import { formatNumber, plainReadings, prove } from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import {
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import { useJob } from '../../app/useJob.ts';

const axis = { stroke: 'var(--k-line)', tick: { fill: 'var(--k-second)', fontSize: 12 } } as const;
const label = { fill: 'var(--k-second)', fontSize: 12 } as const;

/** Flow and salt passage against a new element at each reading's own conditions: a cold week does not show as a fault. */
export default function Trend(): ReactElement | null {
  const { record, view, parts, rules } = useJob();
  if (!view) return null;
  const points = record.proofs.flatMap((p) => {
    const readings = plainReadings(p.readings);
    const r = prove(readings, view.design, parts, view.site, rules.meterError);
    return r.ok
      ? [
          {
            at: Date.parse(p.at),
            flow: 100 * r.verdict.flowAgainstNew,
            passage: r.verdict.passageAgainstNew,
            temperatureC: readings.temperatureC ?? 0,
          },
        ]
      : [];
  });
  const tick = (ms: number): string => dayjs(ms).format('MMM YY');
  const last = points.at(-1);
  const top = Math.max(3, ...points.map((p) => Math.ceil(p.passage + 0.5)));
  return (
    <div className="trend">
      <figure>
        <figcaption className="zone-title">
          Product flow, % of a new element at the same temperature, pressure and feed
          {last ? ` (now ${formatNumber(last.flow, 3)} %)` : ''}
        </figcaption>
        <ResponsiveContainer width="100%" height={180}>
          <ComposedChart data={points} margin={{ top: 16, right: 16, bottom: 4, left: 0 }}>
            <CartesianGrid stroke="var(--k-hair)" vertical={false} />
            <ReferenceArea y1={85} y2={115} fill="var(--k-water)" fillOpacity={0.3} />
            <XAxis dataKey="at" type="number" domain={['dataMin', 'dataMax']} tickFormatter={tick} {...axis} />
            <YAxis
              domain={[50, 120]}
              {...axis}
              width={42}
              label={{ value: '%', position: 'top', offset: 5, ...label }}
            />
            <Line
              dataKey="flow"
              stroke="var(--k-ink)"
              strokeWidth={2}
              isAnimationActive={false}
              label={{ position: 'top', formatter: (v: unknown) => formatNumber(Number(v), 2), ...label }}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </figure>
      <figure>
        <figcaption className="zone-title">
          Salt passage, times a new element’s{last ? ` (now ${formatNumber(last.passage, 2)})` : ''}
        </figcaption>
        <ResponsiveContainer width="100%" height={180}>
          <ComposedChart data={points} margin={{ top: 16, right: 16, bottom: 4, left: 0 }}>
            <CartesianGrid stroke="var(--k-hair)" vertical={false} />
            <XAxis dataKey="at" type="number" domain={['dataMin', 'dataMax']} tickFormatter={tick} {...axis} />
            <YAxis
              domain={[0, top]}
              {...axis}
              width={42}
              label={{ value: 'times', position: 'top', offset: 5, ...label }}
            />
            <ReferenceLine
              y={1.5}
              stroke="var(--k-amber)"
              strokeDasharray="5 3"
              label={{ value: 'watch', position: 'insideTopLeft', ...label }}
            />
            <ReferenceLine
              y={2.5}
              stroke="var(--k-red)"
              strokeDasharray="5 3"
              label={{ value: 'act', position: 'insideTopLeft', ...label }}
            />
            <Line
              dataKey="passage"
              stroke="var(--k-ink)"
              strokeWidth={2}
              isAnimationActive={false}
              label={{ position: 'top', formatter: (v: unknown) => formatNumber(Number(v), 2), ...label }}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </figure>
    </div>
  );
}
