import { branchOf, formatNumber, type Profile, type System } from '@katharos/core';
import { useComputedColorScheme } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { Fragment, memo, useRef, type KeyboardEvent, type ReactElement } from 'react';
import { flowWidth, salinityColour } from '../ui/salinity.ts';
import { BAND, curveY, layoutLine, topOfScale, type Layout, type Placed } from './layout.ts';
import { elementWords } from './words.ts';
import './line.css';

export interface LineProps {
  readonly line: System;
  readonly profile: Profile | null;
  /** how the current lens marks each element: a word under its name */
  readonly marks: Readonly<Record<string, string>>;
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly proposed: boolean;
}

/** The Line across the top of a job: width is flow, colour is salinity, the curve above is pressure. */
export const LineDrawing = memo(function LineDrawing(props: LineProps): ReactElement {
  const { line, profile, chosen, onChoose, marks, proposed } = props;
  const { ref, width } = useElementSize();
  const scheme = useComputedColorScheme('light');
  const list = useRef<HTMLOListElement>(null);
  const layout = layoutLine(line, profile, Math.max(760, width));
  const walk = (e: KeyboardEvent): void => {
    const move =
      e.key === 'ArrowRight' || e.key === 'ArrowDown' ? 1 : e.key === 'ArrowLeft' || e.key === 'ArrowUp' ? -1 : 0;
    if (move === 0) return;
    e.preventDefault();
    const at = layout.all.findIndex((p) => p.element.id === chosen);
    const next = layout.all[(at + move + layout.all.length) % layout.all.length];
    if (!next) return;
    onChoose(next.element.id);
    list.current?.querySelector<HTMLButtonElement>(`[data-element="${next.element.id}"]`)?.focus();
  };
  return (
    <div ref={ref} className="line-band" data-proposed={proposed} data-figures={profile !== null}>
      {width > 0 && (
        <>
          <svg width={Math.max(760, width)} height={BAND.height} aria-hidden="true" className="line-svg">
            {profile && <PressureCurve layout={layout} profile={profile} width={Math.max(760, width)} />}
            <Strokes layout={layout} profile={profile} scheme={scheme} />
            {profile && <Figures layout={layout} profile={profile} scheme={scheme} />}
          </svg>
          <ol ref={list} className="line-elements" aria-label="The Line, in flow order" onKeyDown={walk}>
            {layout.all.map((p) => (
              <ElementButton
                key={p.element.id}
                placed={p}
                chosen={chosen}
                onChoose={onChoose}
                mark={marks[p.element.id]}
                first={layout.all[0] === p}
              />
            ))}
          </ol>
        </>
      )}
    </div>
  );
});

function ElementButton(props: {
  placed: Placed;
  chosen: string | null;
  onChoose: (id: string | null) => void;
  mark: string | undefined;
  first: boolean;
}): ReactElement {
  const { placed, chosen, onChoose, mark, first } = props;
  const { element } = placed;
  const isChosen = chosen === element.id;
  return (
    <li
      style={{ left: placed.x, top: placed.y }}
      data-branch={branchOf(element)}
      data-kind={element.kind}
      data-mark={mark}
    >
      <button
        type="button"
        data-element={element.id}
        tabIndex={isChosen || (chosen === null && first) ? 0 : -1}
        aria-pressed={isChosen}
        aria-label={elementWords(element, placed.point, mark)}
        onClick={() => {
          onChoose(isChosen ? null : element.id);
        }}
      >
        <span className="line-node" />
        <span className="line-name">
          {element.slot}
          {mark !== undefined && <span className="line-mark">{mark}</span>}
        </span>
      </button>
    </li>
  );
}

function Strokes({
  layout,
  profile,
  scheme,
}: {
  layout: Layout;
  profile: Profile | null;
  scheme: 'light' | 'dark';
}): ReactElement {
  // a stretch is drawn with what passes its tube
  const membrane = layout.main.findLast((p) => p.element.kind === 'membrane');
  const colour = (p: Placed | undefined): string => (p?.into ? salinityColour(p.into.tdsMgL, scheme) : 'var(--k-line)');
  const width = (p: Placed | undefined): number => (p?.into ? flowWidth(Math.abs(p.into.flowLMin)) : 1.5);
  const dash = profile ? undefined : '3 5';
  const [restrictor, drain] = layout.concentrate;
  const tee = layout.main.find((p) => p.element.kind === 'tank-tee');
  return (
    <g fill="none" strokeLinecap="butt">
      {layout.main.slice(1).map((p, i) => {
        const from = layout.main[i];
        if (!from) return null;
        return (
          <line
            key={p.element.id}
            x1={from.x}
            y1={from.y}
            x2={p.x}
            y2={p.y}
            stroke={colour(p)}
            strokeWidth={width(p)}
            strokeDasharray={dash}
          />
        );
      })}
      {layout.tank && tee && (
        <line
          x1={tee.x}
          y1={tee.y}
          x2={layout.tank.x}
          y2={layout.tank.y}
          stroke={colour(layout.tank)}
          strokeWidth={Math.max(2, width(layout.tank))}
          strokeDasharray={dash ?? '2 2'}
        />
      )}
      {layout.branch.map((p) => {
        const from = layout.all.find((x) => x.element.id === p.from);
        return (
          from && (
            <line
              key={p.element.id}
              x1={from.x}
              y1={from.y}
              x2={p.x}
              y2={p.y}
              stroke={colour(p)}
              strokeWidth={Math.max(2, width(p))}
              strokeDasharray={dash ?? '1 3'}
            />
          )
        );
      })}
      {membrane && restrictor && drain && (
        <path
          d={`M ${String(membrane.x)} ${String(membrane.y)} C ${String(membrane.x)} ${String(BAND.branchY)}, ${String(membrane.x)} ${String(BAND.branchY)}, ${String(restrictor.x)} ${String(BAND.branchY)} L ${String(drain.x)} ${String(BAND.branchY)}`}
          stroke={colour(restrictor)}
          strokeWidth={width(restrictor)}
          strokeDasharray={dash ?? '9 3'}
        />
      )}
    </g>
  );
}

function PressureCurve({ layout, profile, width }: { layout: Layout; profile: Profile; width: number }): ReactElement {
  const top = topOfScale(profile);
  const points = layout.main.flatMap((p) =>
    p.point ? [{ x: p.x, bar: p.point.pressureBar, kind: p.element.kind, branch: branchOf(p.element) }] : [],
  );
  const feed = points.filter((p) => p.branch === 'feed');
  const product = points.filter((p) => p.branch === 'product');
  const path = (list: typeof points): string =>
    list.map((p, i) => `${i === 0 ? 'M' : 'L'} ${String(p.x)} ${curveY(p.bar, top).toFixed(1)}`).join(' ');
  const last = feed.at(-1);
  const firstProduct = product[0];
  const tee = layout.main.find((p) => p.element.kind === 'tank-tee');
  const membrane = layout.main.some((p) => p.element.kind === 'membrane');
  const ticks = [0, Math.round(top / 2), top];
  const label = (p: { x: number; bar: number } | undefined, text: string, dx = 0): ReactElement | null =>
    p ? (
      <text x={p.x + dx} y={curveY(p.bar, top) - 6} textAnchor="middle" className="line-figure">
        {text}
      </text>
    ) : null;
  return (
    <g>
      {ticks.map((t) => (
        <Fragment key={t}>
          <line x1={BAND.padLeft - 14} x2={width - 16} y1={curveY(t, top)} y2={curveY(t, top)} className="line-grid" />
          <text x={BAND.padLeft - 20} y={curveY(t, top) + 4} textAnchor="end" className="line-axis">
            {t}
          </text>
        </Fragment>
      ))}
      <text x={8} y={12} className="line-axis">
        bar
      </text>
      <path d={path(feed)} className="line-curve" />
      <path d={path(product)} className="line-curve" />
      {last && firstProduct && (
        <line
          x1={last.x}
          y1={curveY(last.bar, top)}
          x2={firstProduct.x}
          y2={curveY(firstProduct.bar, top)}
          className={membrane ? 'line-drop' : 'line-curve'}
        />
      )}
      {last && membrane && (
        <g>
          <line
            x1={last.x - 60}
            x2={last.x - 32}
            y1={curveY(profile.osmoticBar, top)}
            y2={curveY(profile.osmoticBar, top)}
            className="line-limit"
          />
          <text x={last.x - 64} y={curveY(profile.osmoticBar, top) + 4} textAnchor="end" className="line-limit-text">
            osmotic {formatNumber(profile.osmoticBar, 2)}
          </text>
        </g>
      )}
      {tee && (
        <g>
          <line
            x1={tee.x - 40}
            x2={tee.x + 120}
            y1={curveY(profile.closeBar, top)}
            y2={curveY(profile.closeBar, top)}
            className="line-limit"
          />
          <text x={tee.x + 124} y={curveY(profile.closeBar, top) + 4} className="line-limit-text">
            shuts at {formatNumber(profile.closeBar, 2)}
          </text>
        </g>
      )}
      <text x={BAND.padLeft + 40} y={12} className="line-limit-text">
        housings bear {formatNumber(profile.limitBar, 2)}
      </text>
      {label(feed[0], formatNumber(feed[0]?.bar ?? 0, 2))}
      {label(last, formatNumber(last?.bar ?? 0, 2))}
      {label(
        points.find((p) => p.kind === 'tank-tee'),
        formatNumber(points.find((p) => p.kind === 'tank-tee')?.bar ?? 0, 2),
        -58,
      )}
    </g>
  );
}

function Figures({
  layout,
  profile,
  scheme,
}: {
  layout: Layout;
  profile: Profile;
  scheme: 'light' | 'dark';
}): ReactElement {
  const at = (kind: string): Placed | undefined => layout.all.find((p) => p.element.kind === kind);
  const feed = at('sediment');
  const tap = at('tap');
  const drain = at('drain');
  const product = at('sample');
  const { tank } = layout;
  const vented = at('vented-tank');
  const n = formatNumber;
  const text = (
    x: number,
    y: number,
    tds: number,
    words: string,
    anchor: 'start' | 'middle' | 'end' = 'middle',
  ): ReactElement => (
    <text x={x} y={y} textAnchor={anchor} className="line-tds" fill={salinityColour(tds, scheme)}>
      {words}
    </text>
  );
  return (
    <g>
      {feed?.point &&
        text(
          feed.x,
          BAND.lineY - 16,
          feed.point.tdsMgL,
          `feed ${n(feed.point.tdsMgL)} mg/L, ${n(feed.point.flowLMin, 2)} L/min`,
        )}
      {product?.point &&
        text(product.x - 14, BAND.lineY - 16, product.point.tdsMgL, `product ${n(product.point.tdsMgL, 2)} mg/L`)}
      {tap?.point && (
        <>
          {text(tap.x + 18, BAND.lineY - 3, tap.point.tdsMgL, `${n(tap.point.flowLMin, 2)} L/min`, 'start')}
          {text(tap.x + 18, BAND.lineY + 12, tap.point.tdsMgL, `${n(tap.point.tdsMgL, 2)} mg/L`, 'start')}
        </>
      )}
      {drain?.point &&
        text(
          drain.x - 20,
          BAND.branchY + 4,
          drain.point.tdsMgL,
          `to drain ${n(drain.point.flowLMin, 2)} L/min, ${n(drain.point.tdsMgL)} mg/L`,
          'end',
        )}
      {vented && (
        <text x={vented.x} y={BAND.branchY + 4} textAnchor="middle" className="line-axis">
          {`${n(profile.tankL, 2)} of ${n(profile.tankFullL, 2)} L, tap open`}
        </text>
      )}
      {tank?.point && (
        <>
          {text(
            tank.x + 30,
            BAND.branchY + 4,
            tank.point.tdsMgL,
            `${n(profile.tankL, 2)} of ${n(profile.tankFullL, 2)} L`,
            'start',
          )}
          <text x={tank.x + 30} y={BAND.branchY + 18} className="line-axis">
            half full, tap open
          </text>
        </>
      )}
    </g>
  );
}
