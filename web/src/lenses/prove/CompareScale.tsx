import { formatNumber, type KeptVerdict } from '@katharos/core';
import type { ReactElement } from 'react';

const W = 320;
const WORD = { good: 'good', watch: 'watch', act: 'act' } as const;

/** Expected band, expected value and the measured point on one scale. */
export function CompareScale({ compared: c }: { compared: KeptVerdict['compared'][number] }): ReactElement {
  const most = Math.max(c.high * 1.5, c.measured * 1.1, 1e-6);
  const x = (v: number): number => (W * Math.max(0, v)) / most;
  const n = (v: number): string => formatNumber(v, 3);
  return (
    <div className="compare">
      <span className="compare-label">
        {c.label}
        <small className="grade" data-grade={c.grade}>
          {WORD[c.grade]}
        </small>
      </span>
      <svg width={W + 10} height={40} viewBox={`-5 0 ${String(W + 10)} 40`} aria-hidden="true">
        <rect x={x(c.low)} y={10} width={x(c.high) - x(c.low)} height={12} className="flip-holds" />
        <line x1={0} x2={W} y1={16} y2={16} className="flip-axis" />
        <line x1={x(c.expected)} x2={x(c.expected)} y1={8} y2={24} className="compare-expected" />
        <circle cx={x(c.measured)} cy={16} r={6} className="compare-dot" data-grade={c.grade} />
        <text x={0} y={37} className="line-axis">
          0
        </text>
        <text x={W} y={37} textAnchor="end" className="line-axis">
          {n(most)} {c.unit}
        </text>
      </svg>
      <span className="compare-words">
        read <b>{n(c.measured)}</b>, expected <b>{n(c.expected)}</b> ({n(c.low)} to {n(c.high)}) {c.unit}
        <small>{c.limits}</small>
      </span>
    </div>
  );
}
