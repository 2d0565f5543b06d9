import {
  CHLORINE_BORNE,
  chlorineMet,
  formatNumber,
  judgeProof,
  LEAST_FLOW,
  ofOneElement,
  ofWork,
  plainReadings,
  trendOf,
  VERDICT_LIMITS,
  visitMs,
  type Trend as Line_,
} from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactElement, ReactNode } from 'react';
import {
  Area,
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
import { nowMs } from '../../ui/clock.ts';

const axis = { stroke: 'var(--k-line)', tick: { fill: 'var(--k-second)', fontSize: 12 } } as const;
/** More points than these are drawn without their figures: they would lie on each other. */
const MOST_LABELLED = 8;
const label = { fill: 'var(--k-second)', fontSize: 12 } as const;

interface Point {
  readonly at: number;
  /** read of the element that stands there now, and not of a fault that was mended */
  readonly counts: boolean;
  readonly flow: number;
  readonly passage: number | null;
  readonly temperatureC: number;
  /** as the jug had it, L/min */
  readonly readLMin: number | null;
  /** the same, % of the first that was read */
  readonly asRead: number | null;
}

/** Every proof by the figures of its own verdict, the same as in Prove; one kept without a verdict is judged now, by the system it was read on. */
function usePoints(): Point[] {
  const { record, view, rules, designs } = useJob();
  if (!view) return [];
  const membranes = ofWork(view.system, 'separates').map((c) => c.id);
  const counted = new Set(ofOneElement(record.proofs, record.visits, membranes).map((p) => p.id));
  const first = record.proofs.flatMap((p) => p.readings.productFlowLMin?.value ?? [])[0];
  return record.proofs.flatMap((p) => {
    const readings = plainReadings(p.readings);
    const system = designs.find((d) => d.id === p.design)?.system ?? view.system;
    const r = p.judged
      ? { ok: true as const, verdict: p.judged }
      : judgeProof(readings, system, view.site, rules.meterError);
    return r.ok
      ? [
          {
            at: Date.parse(p.at),
            counts: counted.has(p.id),
            flow: 100 * r.verdict.flowAgainstNew,
            passage: r.verdict.passageAgainstNew,
            temperatureC: readings.temperatureC ?? 0,
            readLMin: readings.productFlowLMin ?? null,
            asRead:
              first !== undefined && readings.productFlowLMin !== undefined
                ? (100 * readings.productFlowLMin) / first
                : null,
          },
        ]
      : [];
  });
}

/** Readings whose water differs by less than this say nothing of the cold, °C. */
const COLD_APART_C = 4;

/** What the cold alone makes of the flow, so that a cold week is not taken for a fault; null where all were read alike. */
function coldWords(points: readonly Point[]): string | null {
  const read = points.filter((p) => p.readLMin !== null).sort((a, b) => a.temperatureC - b.temperatureC);
  const [cold, warm] = [read[0], read.at(-1)];
  if (!cold || !warm || warm.temperatureC - cold.temperatureC < COLD_APART_C) return null;
  const one = (p: Point): string =>
    `${formatNumber(p.readLMin ?? 0, 2)} L/min at ${formatNumber(p.temperatureC, 2)} °C (${dayjs(p.at).format('MMM YYYY')})`;
  return `Thin: as it was read, of the first. ${one(cold)} and ${one(warm)} are ${formatNumber(cold.flow, 3)} and ${formatNumber(warm.flow, 3)} % of a new element at the same temperature: cold water passes slower, and that is no fault.`;
}

/** What was done that a figure may turn at. */
interface Mark {
  readonly at: number;
  /** said on the drawing; '' for what only wears */
  readonly word: string;
}

/** Changes and repairs on record. */
function useMarks(): Mark[] {
  const { record, view } = useJob();
  const membranes = new Set(view ? ofWork(view.system, 'separates').map((c) => c.id) : []);
  return [
    ...record.visits.flatMap((v) => (v.changed.length > 0 ? [{ at: visitMs(v), word: v.changed.some((c) => membranes.has(c)) ? 'new membrane' : '' }] : [])),
    ...record.proofs.flatMap((p) => (p.mended ? [{ at: Date.parse(p.at), word: 'mended' }] : [])),
  ];
} // oxfmt-ignore

/** Chlorine the membrane has met, by every strip behind the carbon since it went in; null where none was read, or there is no membrane. */
function useChlorine(): string | null {
  const { record, view, built } = useJob();
  const [membrane] = view ? ofWork(view.system, 'separates') : [];
  const began = membrane ? built?.startedMs(membrane.id) : null;
  if (!view || !membrane || typeof began !== 'number') return null;
  const renewed = record.visits.filter((v) => v.changed.includes(membrane.id)).map(visitMs);
  const reads = [
    ...record.proofs.flatMap((p) => (p.readings.chlorineMgL ? [{ atMs: Date.parse(p.at), mgL: p.readings.chlorineMgL.value }] : [])),
    // before a change it is what the membrane had met, after it what it will
    ...Object.values(record.ticks).flatMap((t) => (t.done && t.read !== undefined && /:chlorine-(before|after)$/.test(t.step) ? [{ atMs: Date.parse(t.at), mgL: t.read }] : [])),
  ];
  const { site, today } = view;
  const hoursADay = Math.min(24, (24 * site.litresADay) / Math.max(1, today.litresADay));
  const met = chlorineMet(reads, Math.max(began, ...renewed), nowMs(), hoursADay);
  if (!met) return null;
  const n = (x: number): string => formatNumber(x, 2);
  const what = site.disinfectant === 'chloramine' ? 'Chloramine' : 'Chlorine';
  const bears = site.disinfectant === 'chloramine'
    ? 'A membrane bears it hundreds of times as long as free chlorine, unless iron or copper help it: it counts once years of it are on record.'
    : `A membrane bears ${String(CHLORINE_BORNE.low)} to ${String(CHLORINE_BORNE.high)}.`;
  return `${what} the membrane has met: between ${n(met.low)} and ${n(met.high)} mg/L-hours, by ${met.readings === 1 ? 'one reading' : `${String(met.readings)} readings`} at ${n(hoursADay)} hours a day. ${bears}`;
} // oxfmt-ignore

/** Flow and salt passage against a new element at each reading's own conditions: a cold week does not show as a fault. */
export default function Trend(): ReactElement | null {
  const { view } = useJob();
  const points = usePoints();
  const marks = useMarks();
  const chlorine = useChlorine();
  if (!view) return null;
  const last = points.at(-1);
  const cold = coldWords(points);
  const filters = ofWork(view.system, 'separates').length === 0;
  const salted = points.flatMap((p) => (p.passage === null ? [] : [p.passage]));
  const passage = salted.at(-1);
  const counted = filters ? [] : points.filter((p) => p.counts);
  const flowLine = trendOf(
    counted.map((p) => ({ atMs: p.at, value: p.flow / 100 })),
    LEAST_FLOW,
  );
  const saltLine = trendOf(
    counted.flatMap((p) => (p.passage === null ? [] : [{ atMs: p.at, value: p.passage }])),
    VERDICT_LIMITS.passageWatch,
  );
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
        line={flowLine}
        said={flowLine && goesWords(flowLine, 'Flow', `${String(100 * LEAST_FLOW)} % of new`)}
        times={100}
        of="flow"
        unit="%"
        range={around(points.flatMap((p) => [p.flow, p.asRead ?? p.flow]))}
        asRead={cold !== null}
      >
        <ReferenceArea y1={85} y2={115} fill="var(--k-water)" fillOpacity={0.3} />
        {markLines(marks, points)}
      </Curve>
      {!filters && (
        <Curve
          title="Salt passage, times a new element’s"
          now={passage === undefined ? null : formatNumber(passage, 2)}
          points={points}
          line={saltLine}
          said={
            saltLine &&
            goesWords(saltLine, 'Salt passage', `${String(VERDICT_LIMITS.passageWatch)} times a new element’s`)
          }
          times={1}
          of="passage"
          unit="times"
          range={[0, Math.max(3, ...salted.map((p) => Math.ceil(p + 0.5)))]}
        >
          <Limit at={1.5} word="watch" stroke="var(--k-amber)" />
          <Limit at={2.5} word="act" stroke="var(--k-red)" />
          {markLines(marks, points)}
        </Curve>
      )}
      {cold !== null && <p className="small trend-note">{cold}</p>}
      {marks.length > 0 && points.length > 1 && (
        <p className="small trend-note">Dotted upright: something was changed.</p>
      )}
      {chlorine !== null && <p className="small trend-note">{chlorine}</p>}
    </div>
  );
}

/** What a share of new is drawn between: 50 to 120 %, wider where a reading lies outside. */
const around = (values: readonly number[]): readonly [number, number] => [
  Math.min(50, ...values.map((v) => 10 * Math.floor(v / 10))),
  Math.max(120, ...values.map((v) => 10 * Math.ceil(v / 10))),
];

/** Uprights where something was changed or mended, within what is drawn. */
function markLines(marks: readonly Mark[], points: readonly Point[]): ReactElement[] {
  const [from, to] = [points[0]?.at ?? 0, points.at(-1)?.at ?? 0];
  return marks
    .filter((m) => m.at >= from && m.at <= to)
    .map((m) => (
      <ReferenceLine
        key={`${String(m.at)}${m.word}`}
        x={m.at}
        stroke="var(--k-second)"
        strokeDasharray="1 3"
        {...(m.word === '' ? {} : { label: { value: m.word, position: 'insideTopLeft', ...label } })}
      />
    ));
}

const month = (ms: number): string => dayjs(ms).format('MMM YYYY');

/** How a figure goes, when it meets its limit, and what is done then. */
function goesWords({ aYear, meets }: Line_, what: string, limit: string): string {
  const pace = `${what} ${aYear < 0 ? 'falls' : 'grows'} by ${formatNumber(100 * Math.abs(aYear), 2)} % a year`;
  if (meets.atMs === null) return `${pace}${meets.earlyMs === null ? '' : `; ${limit} not before ${month(meets.earlyMs)}`}.`;
  const late = meets.lateMs === null ? 'or never at this pace' : `to ${month(meets.lateMs)}`;
  const band = meets.earlyMs === null ? '' : ` (${month(meets.earlyMs)} ${late}, in nine of ten)`;
  return `${pace}: ${limit} about ${month(meets.atMs)}${band}. Then a new membrane, and the chlorine before it read first.`;
} // oxfmt-ignore

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
  /** the line through them, drawn so many times as large */
  readonly line: Line_ | null;
  readonly times: number;
  /** what follows of it */
  readonly said: string | null;
  readonly unit: string;
  readonly range: readonly [number, number];
  /** what was read stands beside what it comes to */
  readonly asRead?: boolean;
  readonly children: ReactNode;
}

/** One figure over the years, its limits drawn behind it. */
function Curve({ title, now, points, of, line, times, said, unit, range, asRead, children }: CurveProps): ReactElement {
  const data = points.map((p) => {
    const on = p.counts ? line?.at(p.at) : undefined;
    return { ...p, ...(on && { line: times * on.value, band: [times * on.low, times * on.high] }) };
  });
  return (
    <figure>
      <figcaption className="zone-title">
        {title}
        {now === null ? '' : ` (now ${now})`}
      </figcaption>
      <ResponsiveContainer width="100%" height={180}>
        <ComposedChart data={data} margin={{ top: 16, right: 16, bottom: 4, left: 0 }}>
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
          {line && (
            <Area dataKey="band" stroke="none" fill="var(--k-second)" fillOpacity={0.16} isAnimationActive={false} />
          )}
          {line && (
            <Line
              dataKey="line"
              stroke="var(--k-second)"
              strokeWidth={1.5}
              strokeDasharray="6 4"
              dot={false}
              isAnimationActive={false}
            />
          )}
          {asRead === true && (
            <Line
              dataKey="asRead"
              stroke="var(--k-second)"
              strokeWidth={1}
              strokeDasharray="1 2"
              dot={false}
              isAnimationActive={false}
              connectNulls
            />
          )}
          <Line
            dataKey={of}
            stroke="var(--k-ink)"
            strokeWidth={2}
            isAnimationActive={false}
            label={
              points.length > MOST_LABELLED
                ? false
                : { position: 'top', formatter: (v: unknown) => formatNumber(Number(v), 2), ...label }
            }
          />
        </ComposedChart>
      </ResponsiveContainer>
      {said !== null && <p className="small">{said}</p>}
    </figure>
  );
}
