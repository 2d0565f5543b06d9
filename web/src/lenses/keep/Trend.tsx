import { formatNumber, judgeProof, ofWork, plainReadings } from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactElement, ReactNode } from 'react';
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
import { useJob } from '../../job/useJob.ts';

const axis = { stroke: 'var(--k-line)', tick: { fill: 'var(--k-second)', fontSize: 12 } } as const;
const label = { fill: 'var(--k-second)', fontSize: 12 } as const;

interface Point {
  readonly at: number;
  readonly flow: number;
  readonly passage: number | null;
  readonly temperatureC: number;
}

/** Every proof judged by today's computation, each by the system it was read on: trends are worked out anew, verdicts are not. */
function usePoints(): Point[] {
  const { record, view, rules, designs } = useJob();
  if (!view) return [];
  return record.proofs.flatMap((p) => {
    const readings = plainReadings(p.readings);
    // each by the system it was read on; trends are worked out anew, verdicts are not
    const system = designs.find((d) => d.id === p.design)?.system ?? view.system;
    const r = judgeProof(readings, system, view.site, rules.meterError);
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
}

/** Flow and salt passage against a new element at each reading's own conditions: a cold week does not show as a fault. */
export default function Trend(): ReactElement | null {
  const { view } = useJob();
  const points = usePoints();
  if (!view) return null;
  const last = points.at(-1);
  const filters = ofWork(view.system, 'separates').length === 0;
  const salted = points.flatMap((p) => (p.passage === null ? [] : [p.passage]));
  const passage = salted.at(-1);
  return (
    <div className="trend">
      <Curve
        title={
          filters
            ? 'Tap flow, % of what the house’s pressure gives at the same temperature'
            : 'Product flow, % of a new element at the same temperature, pressure and feed'
        }
        now={last ? `${formatNumber(last.flow, 3)} %` : null}
        points={points}
        of="flow"
        unit="%"
        range={[50, 120]}
      >
        <ReferenceArea y1={85} y2={115} fill="var(--k-water)" fillOpacity={0.3} />
      </Curve>
      {!filters && (
        <Curve
          title="Salt passage, times a new element’s"
          now={passage === undefined ? null : formatNumber(passage, 2)}
          points={points}
          of="passage"
          unit="times"
          range={[0, Math.max(3, ...salted.map((p) => Math.ceil(p + 0.5)))]}
        >
          <Limit at={1.5} word="watch" stroke="var(--k-amber)" />
          <Limit at={2.5} word="act" stroke="var(--k-red)" />
        </Curve>
      )}
    </div>
  );
}

function Limit({ at, word, stroke }: { at: number; word: string; stroke: string }): ReactElement {
  return (
    <ReferenceLine
      y={at}
      stroke={stroke}
      strokeDasharray="5 3"
      label={{ value: word, position: 'insideBottomLeft', ...label }}
    />
  );
}

interface CurveProps {
  readonly title: string;
  readonly now: string | null;
  readonly points: readonly Point[];
  readonly of: 'flow' | 'passage';
  readonly unit: string;
  readonly range: readonly [number, number];
  readonly children: ReactNode;
}

/** One figure over the years, its limits drawn behind it. */
function Curve({ title, now, points, of, unit, range, children }: CurveProps): ReactElement {
  return (
    <figure>
      <figcaption className="zone-title">
        {title}
        {now === null ? '' : ` (now ${now})`}
      </figcaption>
      <ResponsiveContainer width="100%" height={180}>
        <ComposedChart data={[...points]} margin={{ top: 16, right: 16, bottom: 4, left: 0 }}>
          <CartesianGrid stroke="var(--k-hair)" vertical={false} />
          {children}
          <XAxis
            dataKey="at"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={(ms: number) => dayjs(ms).format('MMM YY')}
            {...axis}
          />
          <YAxis
            domain={[...range]}
            {...axis}
            width={42}
            label={{ value: unit, position: 'top', offset: 5, ...label }}
          />
          <Line
            dataKey={of}
            stroke="var(--k-ink)"
            strokeWidth={2}
            isAnimationActive={false}
            label={{ position: 'top', formatter: (v: unknown) => formatNumber(Number(v), 2), ...label }}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </figure>
  );
}
