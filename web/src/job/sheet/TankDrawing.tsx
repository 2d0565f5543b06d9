import { formatNumber, type RunStep, type SystemView } from '@katharos/core';
import type { ReactElement } from 'react';

/** Content of the tank as the computation has it at this moment of the fill. */
export function TankDrawing({
  view,
  step,
  elapsedMin,
}: {
  view: SystemView;
  step: RunStep;
  elapsedMin: number;
}): ReactElement {
  const curve = view.today.fill.curve;
  const full = view.today.fill.waterL;
  const i = curve.findIndex((p) => p.minutes >= elapsedMin);
  const b = i < 0 ? curve.at(-1) : curve[i];
  const a = i > 0 ? curve[i - 1] : undefined;
  const content = !b
    ? 0
    : a && i > 0
      ? a.waterL + ((b.waterL - a.waterL) * (elapsedMin - a.minutes)) / Math.max(1e-9, b.minutes - a.minutes)
      : i < 0
        ? full
        : b.waterL;
  const goal = step.fillsToL ?? full;
  const litres = Math.min(content, goal);
  const h = 110;
  const y = h - (h - 16) * (litres / full);
  const yGoal = h - (h - 16) * (goal / full);
  return (
    <svg
      className="tank-drawing"
      viewBox={`0 0 300 ${String(h)}`}
      role="img"
      aria-label={`About ${formatNumber(litres, 2)} of ${formatNumber(goal, 2)} litres in the tank`}
    >
      <rect x="0.5" y={y} width="299" height={h - y} className="tank-water" />
      <rect x="0.5" y="0.5" width="299" height={h - 1} className="tank-wall" />
      <line x1="0" x2="300" y1={yGoal} y2={yGoal} className="line-limit" />
      <text x="294" y={yGoal - 3} textAnchor="end" className="tank-text">
        {formatNumber(goal, 2)} L
      </text>
      <text x="8" y={Math.min(h - 6, y + 16)} className="tank-text tank-now">
        about {formatNumber(litres, 2)} L
      </text>
    </svg>
  );
}
