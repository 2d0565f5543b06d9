import { formatNumber } from '@katharos/core';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';

/** What parts and tubes that are otherwise than planned do to what was approved. */
export function AsItStands(): ReactElement | null {
  const { built, approved, view } = useJob();
  if (!built || !approved || !view) return null;
  const planned = new Map(approved.system.links.map((l) => [l.id, l]));
  const moved = built.system.links.filter((l) => {
    const p = planned.get(l.id);
    return p && (Math.abs(p.lengthM - l.lengthM) > 0.005 || Math.abs(p.riseM - l.riseM) > 0.005);
  }).length;
  if (moved === 0) return null;
  const { figures } = approved.judged;
  const { worst } = view;
  const n = (v: number): string => formatNumber(v, 3);
  return (
    <p className="note">
      {moved === 1 ? 'One tube runs' : `${String(moved)} tubes run`} otherwise than planned. As they run:{' '}
      {n(worst.tapFlowLMin)} L/min at the tap in the coldest water ({n(figures.tapFlowLMin)} approved),{' '}
      {n(worst.litresADay)} L a day ({n(figures.litresADay)} approved). The approval stands.
    </p>
  );
}
