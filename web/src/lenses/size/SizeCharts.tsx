import { formatNumber, type Decision, type DesignStudy } from '@katharos/core';
import type { ReactElement } from 'react';
import { Area, CartesianGrid, ComposedChart, Line, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { useJob } from '../../app/useJob.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;
const axis = { stroke: 'var(--k-line)', tick: { fill: 'var(--k-second)', fontSize: 12 } } as const;
const label = { fill: 'var(--k-second)', fontSize: 12 } as const;

/** Output against water temperature with its band, and one refill over time. */
export default function SizeCharts({
  study,
  decision: d,
}: {
  study: DesignStudy;
  decision: Recommendation;
}): ReactElement {
  const { view } = useJob();
  const site = view?.site;
  const data = study.byTemperature.map((p) => ({ ...p, band: [p.lowLDay, p.highLDay] }));
  const fill = d.chosen.worst.fill;
  const need = site?.litresADay ?? 0;
  const n = formatNumber;
  return (
    <div className="charts">
      <figure>
        <figcaption className="zone-title">
          Litres a day by water temperature, at the worst hour’s pressure (band: elements vary by 15 %)
        </figcaption>
        <ResponsiveContainer width="100%" height={210}>
          <ComposedChart data={data} margin={{ top: 18, right: 16, bottom: 22, left: 4 }}>
            <CartesianGrid stroke="var(--k-hair)" vertical={false} />
            <XAxis
              dataKey="temperatureC"
              type="number"
              domain={[0, 26]}
              ticks={[0, 5, 10, 15, 20, 25]}
              {...axis}
              label={{ value: 'water, °C', position: 'insideBottom', offset: -12, ...label }}
            />
            <YAxis {...axis} width={46} label={{ value: 'L/day', position: 'top', offset: 6, ...label }} />
            <Area dataKey="band" stroke="none" fill="var(--k-water)" fillOpacity={0.45} isAnimationActive={false} />
            <Line dataKey="litresADay" stroke="var(--k-ink)" strokeWidth={2} dot={false} isAnimationActive={false} />
            {d.chosen.design.pumpId !== null && (
              <Line
                dataKey="withoutPumpLDay"
                stroke="var(--k-red)"
                strokeWidth={1.5}
                strokeDasharray="5 3"
                dot={false}
                isAnimationActive={false}
              />
            )}
            <ReferenceLine
              y={need}
              stroke="var(--k-ink)"
              strokeDasharray="3 3"
              label={{ value: `they use ${n(need, 2)}`, position: 'insideTopRight', ...label }}
            />
            {site && (
              <ReferenceLine
                x={Math.min(site.coldestC, site.todayC)}
                stroke="var(--k-amber)"
                label={{ value: 'coldest', position: 'top', ...label }}
              />
            )}
            {site && site.todayC - site.coldestC > 2 && (
              <ReferenceLine
                x={site.todayC}
                stroke="var(--k-line)"
                label={{ value: 'today', position: 'top', ...label }}
              />
            )}
          </ComposedChart>
        </ResponsiveContainer>
        <p className="small">
          Whole line: this design.{' '}
          {d.chosen.design.pumpId !== null &&
            'Red dashes: the same parts without their pump; where the line touches zero the drain would never stop.'}
        </p>
      </figure>
      <figure>
        <figcaption className="zone-title">One refill in the coldest water: litres in the tank</figcaption>
        <ResponsiveContainer width="100%" height={210}>
          <ComposedChart data={[...fill.curve]} margin={{ top: 18, right: 16, bottom: 22, left: 4 }}>
            <CartesianGrid stroke="var(--k-hair)" vertical={false} />
            <XAxis
              dataKey="minutes"
              type="number"
              domain={[0, 'dataMax']}
              tickFormatter={(v: number) => n(v, 2)}
              {...axis}
              label={{ value: 'minutes', position: 'insideBottom', offset: -12, ...label }}
            />
            <YAxis {...axis} width={46} label={{ value: 'L', position: 'top', offset: 6, ...label }} />
            <Area
              dataKey="waterL"
              stroke="var(--k-ink)"
              strokeWidth={2}
              fill="var(--k-water)"
              fillOpacity={0.45}
              isAnimationActive={false}
            />
            <ReferenceLine
              y={fill.waterL}
              stroke="var(--k-red)"
              strokeDasharray="5 3"
              label={{ value: `shuts at ${n(fill.waterL, 2)} L`, position: 'insideBottomLeft', ...label }}
            />
          </ComposedChart>
        </ResponsiveContainer>
        <p className="small">
          {n(fill.madeL, 2)} L made, {n(fill.wasteL, 2)} L to the drain; the last drops carry{' '}
          {n(fill.lastDropTdsMgL, 2)} mg/L as the tank pushes back.
        </p>
      </figure>
    </div>
  );
}
