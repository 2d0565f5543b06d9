import { cutM, formatNumber, ofWork, tubesOf, type Branch, type Pose, type Run, wayMm } from '@katharos/core';
import { useComputedColorScheme } from '@mantine/core';
import type { ReactElement } from 'react';
import { useJob } from '../../../job/useJob.ts';
import { salinityColour } from '../../../ui/salinity.ts';
import type { OnThePage } from '../../../job/layout/useLayout.ts';

/** Where a tube is told of in a list: what it carries. */
export const ROLE: Readonly<Record<Branch, string>> = {
  feed: 'feed',
  product: 'product',
  tank: 'tank',
  fridge: 'branch',
  concentrate: 'to the drain',
};

/** Leads a tube through a place of its own, or lets it go again. */
function Lead({ layout, run, number }: { layout: OnThePage; run: Run; number: number }): ReactElement {
  const via = layout.ways[run.link] ?? [];
  return (
    <span className="cuts-lead no-print">
      {via.length < MOST_PINS && (
        <button
          type="button"
          className="plain"
          aria-label={`Pin tube ${String(number)}`}
          onClick={() => {
            layout.lead(run.link, withOneMore(run, via));
          }}
        >
          pin
        </button>
      )}
      {via.length > 0 && (
        <button
          type="button"
          className="plain"
          aria-label={`Let tube ${String(number)} go`}
          onClick={() => {
            layout.lead(run.link, []);
          }}
        >
          let go
        </button>
      )}
    </span>
  );
}

/** As many places a tube is led through. */
const MOST_PINS = 6;

/** A run's places with one more: the middle of its longest stretch, in the order the tube passes them. */
function withOneMore(run: Run, via: readonly Pose[]): readonly Pose[] {
  const legs = run.ways.flatMap(({ space, way }) => way.slice(1).map((b, i) => ({ space, a: way[i] ?? b, b })));
  const mm = (i: number): number => wayMm([legs[i]?.a, legs[i]?.b].flatMap((p) => p ?? []));
  const at = legs.reduce((best, _, i) => (mm(i) > mm(best) ? i : best), 0);
  const leg = legs[at];
  if (!leg) return via;
  const mid = (p: number, q: number): number => Math.round((p + q) / 2);
  const one: Pose = { xMm: mid(leg.a.x, leg.b.x), yMm: mid(leg.a.y, leg.b.y), zMm: mid(leg.a.z, leg.b.z), space: leg.space };
  const passes = (v: Pose): number =>
    legs.findIndex(({ space, a, b }) => {
      const on = (p: number, q: number, r: number): boolean => Math.min(p, q) - 1 <= r && r <= Math.max(p, q) + 1;
      return space === (v.space ?? 'cupboard') && on(a.x, b.x, v.xMm) && on(a.y, b.y, v.yMm) && on(a.z, b.z, v.zMm);
    });
  const before = via.filter((v) => passes(v) < at).length;
  return [...via.slice(0, before), one, ...via.slice(before)];
} // oxfmt-ignore

/** What the layout does to the water, and the tubes it asks for. */
export function WhatFollows({ layout }: { layout: OnThePage }): ReactElement {
  const { view, approved, record } = useJob();
  const scheme = useComputedColorScheme('light');
  const tubes = new Map(tubesOf(layout.system).map((t) => [t.id, t]));
  const n = (v: number): string => formatNumber(v, 2);
  const figures = approved?.judged.figures;
  const worst = view?.worst;
  const service = layout.clashes.filter((c) => c.weight === 'costs').length;
  const same = (a: number, b: number): string => (Math.abs(a - b) < 0.005 * Math.max(1, b) ? 'as approved' : `approved ${n(b)}`);
  /** as it was cut, where somebody wrote that down */
  const lengthOf = (r: Run): number => record.runs[r.link]?.lengthM ?? cutM(r);
  const total = layout.runs.reduce((m, r) => m + lengthOf(r), 0);
  return (
    <>
      <h2 className="zone-title">What follows</h2>
      {layout.proposed.size > 0 && <p className="small">Worked out once the layout is taken; until then as approved.</p>}
      <dl className="follows">
        {worst && figures && (
          <>
            <dt>tap, coldest water</dt>
            <dd>{n(worst.tapFlowLMin)} L/min, {same(worst.tapFlowLMin, figures.tapFlowLMin)}</dd>
            {ofWork(layout.system, 'stores').length > 0 && (
              <>
                <dt>usable of a full tank</dt>
                <dd>{n(worst.usableL)} L</dd>
              </>
            )}
          </>
        )}
        <dt>service</dt>
        <dd>{service === 0 ? 'every cartridge drops, the tank comes out with nothing else moved' : `${String(service)} ${service === 1 ? 'thing makes' : 'things make'} it harder, told beside the drawing`}</dd>
      </dl>
      <h2 className="zone-title">Tubes, cut</h2>
      <ol className="cuts">
        {layout.runs.map((r) => {
          const t = tubes.get(r.link);
          if (!t) return null;
          return (
            <li key={r.link}>
              <svg className="cupboard-tube" data-role={t.branch} width={22} height={8} aria-hidden>
                <path d="M0 4H22" stroke={salinityColour(view?.profileToday.passing[r.link]?.tdsMgL ?? 0, scheme)} />
              </svg>
              <b>{t.number}</b>
              <span>
                {ROLE[t.branch]}, {t.from.slot} to {t.to.slot}
                {record.runs[r.link] && <small> as it was cut</small>}
                {r.noWay && !record.runs[r.link] && <small className="no-way"> no way found: measure it</small>}
                {r.elbows > 0 && <small> {r.elbows === 1 ? 'an elbow' : `${String(r.elbows)} elbows`}</small>}
  {r.ways.length > 0 && !record.runs[r.link] && layout.proposed.size === 0 && <Lead layout={layout} run={r} number={t.number} />}
              </span>
              <b>{lengthOf(r).toFixed(2)} m</b>
            </li>
          );
        })}
      </ol>
      <p className="cuts-sum">
        <span>{layout.runs.length} cuts, with what goes into the fittings and slack to pull it out</span> <b>{total.toFixed(2)} m</b>
      </p>
    </>
  );
} // oxfmt-ignore
