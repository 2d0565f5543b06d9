import { formatNumber, type Decision, type DesignStudy, type Draw } from '@katharos/core';
import { SegmentedControl } from '@mantine/core';
import { useDeferredValue, useState, type ReactElement } from 'react';
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  XAxis,
  YAxis,
} from 'recharts';
import { Drawn } from './Drawn.tsx';
import { useJob } from '../../job/useJob.ts';
import { DayOfDraws } from '../../job/day/DayOfDraws.tsx';
import { useDay } from '../../job/day/useDay.ts';
import { houseKey } from '../../data/coreWorkers.ts';
import { useCore } from '../../data/useCore.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;
const axis = { stroke: 'var(--k-line)', tick: { fill: 'var(--k-second)', fontSize: 12 } } as const;
const label = { fill: 'var(--k-second)', fontSize: 12 } as const;
const margin = { top: 20, right: 16, bottom: 22, left: 4 } as const;
const still = { isAnimationActive: false } as const;

/** The day through its draws, the year by month, and the output against the water's temperature. */
export default function SizeCharts({
  study,
  decision: d,
}: {
  study: DesignStudy;
  decision: Recommendation;
}): ReactElement {
  return (
    <div className="charts">
      <Day decision={d} />
      <Year decision={d} />
      <ByTemperature study={study} decision={d} />
    </div>
  );
}

/** What they use, across a chart of what is made. */
const wantedLine = (y: number, direct: boolean): ReactElement => (
  <ReferenceLine
    y={y}
    stroke="var(--k-ink)"
    strokeDasharray="3 3"
    label={{ value: `${direct ? 'wanted' : 'they use'} ${formatNumber(y, 2)}`, position: 'insideTopRight', ...label }}
  />
);

const SEASONS = ['coldest', 'today', 'warmest'] as const;
type Season = (typeof SEASONS)[number];

function Day({ decision: d }: { decision: Recommendation }): ReactElement {
  const { view, known, record, parts, rules } = useJob();
  const [season, setSeason] = useState<Season>('coldest');
  const site = view?.site;
  const their = useDay();
  const [moved, setMoved] = useState<readonly Draw[] | null>(null);
  const draws = moved ?? their.draws ?? [];
  const temperatureC = !site ? 10 : season === 'coldest' ? Math.min(site.coldestC, site.todayC) : season === 'today' ? site.todayC : site.warmestC; // oxfmt-ignore
  const key = houseKey(parts, rules, record.placed);
  const answer = useCore('day', site ? [key, known, d.chosen.design, draws, temperatureC] : null).value;
  const day = useDeferredValue(answer);
  const n = formatNumber;
  const direct = d.chosen.design.tankId === null;
  const waits = day?.draws.filter((x) => x.waitMin > 1) ?? [];
  const short = day?.draws.reduce((s, x) => s + x.shortL, 0) ?? 0;
  const dots = day?.draws.map((x) => ({ minute: x.minute, tdsMgL: x.tdsMgL })) ?? [];
  return (
    <figure className="chart-wide">
      <figcaption className="zone-title chart-head">
        {direct
          ? 'A day of draws: what each glass carries'
          : 'A day of draws: litres in the tank, and what each draw carries'}
        <SegmentedControl
          size="xs"
          className="no-print"
          aria-label="Which day"
          value={season}
          onChange={(v) => {
            setSeason(SEASONS.find((s) => s === v) ?? 'coldest');
          }}
          data={[
            { value: 'coldest', label: 'coldest day' },
            { value: 'today', label: 'today’s water' },
            { value: 'warmest', label: 'warmest day' },
          ]}
        />
      </figcaption>
      <Drawn of={day ? [day, direct] : null} height={180}>
        {() => (
          <ResponsiveContainer width="100%" height={180}>
            <ComposedChart margin={{ ...margin, right: 8, bottom: 2 }}>
              <CartesianGrid stroke="var(--k-hair)" vertical={false} />
              <XAxis
                dataKey="minute"
                type="number"
                domain={[0, 1440]}
                ticks={[0, 360, 720, 1080, 1440]}
                tick={false}
                height={6}
                allowDuplicatedCategory={false}
                stroke="var(--k-line)"
              />
              {!direct && (
                <YAxis
                  yAxisId="l"
                  {...axis}
                  width={46}
                  label={{ value: 'L in the tank', position: 'top', offset: 8, dx: 22, ...label }}
                />
              )}
              <YAxis
                yAxisId="mg"
                orientation={direct ? 'left' : 'right'}
                {...axis}
                width={46}
                domain={[0, 'auto']}
                label={{ value: 'mg/L drunk', position: 'top', offset: 8, dx: direct ? 14 : -14, ...label }}
              />
              {day && !direct && (
                <Area
                  yAxisId="l"
                  data={[...day.points]}
                  dataKey="contentL"
                  type="linear"
                  stroke="var(--k-ink)"
                  strokeWidth={1.5}
                  fill="var(--k-water)"
                  fillOpacity={0.4}
                  {...still}
                />
              )}
              {day && day.emptyL > 0.05 && (
                <ReferenceLine
                  yAxisId="l"
                  y={day.emptyL}
                  stroke="var(--k-red)"
                  strokeDasharray="5 3"
                  label={{ value: `slow tap below ${n(day.emptyL, 2)} L`, position: 'insideBottomRight', ...label }}
                />
              )}
              <Scatter yAxisId="mg" data={dots} dataKey="tdsMgL" fill="var(--k-amber)" {...still} />
            </ComposedChart>
          </ResponsiveContainer>
        )}
      </Drawn>
      {their.draws && (
        <DayOfDraws
          draws={their.draws}
          drawn={their.drawn}
          onTry={(d2) => {
            setMoved(d2);
            their.onTry(d2);
          }}
          onKeep={their.onKeep}
          left={50}
          right={direct ? 8 : 54}
        />
      )}
      {day && (
        <p className="small">
          {day.draws.length} draws,{' '}
          {n(
            day.draws.reduce((s, x) => s + x.litres, 0),
            2,
          )}{' '}
          L; amber dots: mg/L as drunk, {n(day.tdsMgL, 2)} on the mean.{' '}
          {direct
            ? `The longest draw takes ${n(Math.max(0, ...day.draws.map((x) => x.waitMin)), 2)} min at the tap.`
            : short > 0.05
              ? `${n(short, 2)} L are not there within the hour.`
              : waits.length === 0
                ? 'Nobody waits.'
                : `${waits.length === 1 ? '1 draw waits' : `${String(waits.length)} draws wait, the longest`} ${n(Math.max(...waits.map((x) => x.waitMin)), 2)} min.`}{' '}
          {n(day.wasteL, 2)} L to the drain, {day.starts} {day.starts === 1 ? 'start' : 'starts'}.
        </p>
      )}
    </figure>
  );
}

function Year({ decision: d }: { decision: Recommendation }): ReactElement {
  const { view, known, record, parts, rules } = useJob();
  const key = houseKey(parts, rules, record.placed);
  const points = useDeferredValue(useCore('seasons', [key, known, d.chosen.design]).value);
  const direct = d.chosen.design.tankId === null;
  const per = direct ? 1440 : 1;
  const wanted = direct ? (view?.site.wantedTapFlowLMin ?? 0) : (view?.site.litresADay ?? 0);
  const data = points?.map((p) => ({ month: p.month.slice(0, 3), made: p.litresADay / per, band: [p.lowLDay / per, p.highLDay / per] })); // oxfmt-ignore
  return (
    <figure>
      <figcaption className="zone-title">
        {direct ? 'The year: L/min at the tap by month' : 'The year: litres a day by month'} (band: elements vary by 15
        %)
      </figcaption>
      <Drawn of={points ? [points, per, wanted, direct] : null} height={200}>
        {() => (
          <ResponsiveContainer width="100%" height={200}>
            <ComposedChart data={data ?? []} margin={margin}>
              <CartesianGrid stroke="var(--k-hair)" vertical={false} />
              <XAxis dataKey="month" {...axis} interval={1} />
              <YAxis
                {...axis}
                width={46}
                domain={[0, 'auto']}
                label={{ value: direct ? 'L/min' : 'L/day', position: 'top', offset: 8, ...label }}
              />
              <Area dataKey="band" stroke="none" fill="var(--k-water)" fillOpacity={0.45} {...still} />
              <Line dataKey="made" stroke="var(--k-ink)" strokeWidth={2} dot={false} {...still} />
              {wantedLine(wanted, direct)}
            </ComposedChart>
          </ResponsiveContainer>
        )}
      </Drawn>
      <p className="small">At the ordinary pressure, twelve months between the coldest and the warmest water.</p>
    </figure>
  );
}

function ByTemperature({ study, decision: d }: { study: DesignStudy; decision: Recommendation }): ReactElement {
  const { view } = useJob();
  const site = view?.site;
  const direct = d.chosen.design.tankId === null;
  const per = direct ? 1440 : 1;
  const data = study.byTemperature.map((p) => ({
    temperatureC: p.temperatureC,
    made: p.litresADay / per,
    band: [p.lowLDay / per, p.highLDay / per],
    bare: p.withoutPumpLDay === null ? null : p.withoutPumpLDay / per,
  }));
  const need = direct ? (site?.wantedTapFlowLMin ?? 0) : (site?.litresADay ?? 0);
  const pumped = d.chosen.design.pumpId !== null;
  return (
    <figure>
      <figcaption className="zone-title">
        {direct ? 'L/min at the tap' : 'Litres a day'} by water temperature, at the worst hour’s pressure
      </figcaption>
      <Drawn of={[study.byTemperature, per, need, direct, pumped, site?.coldestC, site?.todayC]} height={200}>
        {() => (
          <ResponsiveContainer width="100%" height={200}>
            <ComposedChart data={data} margin={margin}>
              <CartesianGrid stroke="var(--k-hair)" vertical={false} />
              <XAxis
                dataKey="temperatureC"
                type="number"
                domain={[0, 26]}
                ticks={[0, 5, 10, 15, 20, 25]}
                {...axis}
                label={{ value: 'water, °C', position: 'insideBottom', offset: -12, ...label }}
              />
              <YAxis
                {...axis}
                width={46}
                domain={[0, 'auto']}
                label={{ value: direct ? 'L/min' : 'L/day', position: 'top', offset: 8, ...label }}
              />
              <Area dataKey="band" stroke="none" fill="var(--k-water)" fillOpacity={0.45} {...still} />
              <Line dataKey="made" stroke="var(--k-ink)" strokeWidth={2} dot={false} {...still} />
              {pumped && (
                <Line
                  dataKey="bare"
                  stroke="var(--k-red)"
                  strokeWidth={1.5}
                  strokeDasharray="5 3"
                  dot={false}
                  {...still}
                />
              )}
              {wantedLine(need, direct)}
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
        )}
      </Drawn>
      <p className="small">
        Whole line: this design.{' '}
        {pumped && 'Red dashes: the same parts without their pump; where it touches zero the drain would never stop.'}
      </p>
    </figure>
  );
}
