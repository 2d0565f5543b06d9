import {
  buildSystem,
  choiceOfDesign,
  designFigures,
  designInWords,
  formatMinutes,
  formatNumber,
  moneyOf,
  pointsOf,
  RULE_TEXTS,
  sameParts,
  siteFrom,
  sumOf,
  weightsOf,
  type Decision,
  type Design,
  type DesignFigures,
  type Evaluation,
  type Points,
  type Site,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useTrial } from '../../job/useTrial.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

interface Row {
  readonly name: string;
  /** what the household would care for most, where that is one of its choices */
  readonly care?: string;
  readonly of: (f: DesignFigures) => number;
  readonly words: (f: DesignFigures, currency: string) => string;
  readonly small?: (f: DesignFigures) => string;
}

/** Tube lengths do not tell parts apart. */
const MEASURES = { tapLengthM: 1, tapRiseM: 0 };

const n = formatNumber;
const litres = (r: NonNullable<DesignFigures['roomMm']>): number => (r.widthMm * r.depthMm * r.heightMm) / 1e6;

/** What designs are compared on; less is better in each. */
const ROWS: readonly Row[] = [
  {
    name: 'Room',
    care: 'room',
    of: (f) => (f.roomMm ? litres(f.roomMm) : 0),
    words: (f) => (f.roomMm ? `${n(litres(f.roomMm), 2)} L of room` : 'not stated'),
    small: (f) =>
      f.roomMm ? `${n(f.roomMm.widthMm, 3)} × ${n(f.roomMm.depthMm, 3)} mm, ${n(f.roomMm.heightMm, 3)} high` : '',
  },
  {
    name: 'Electricity',
    care: 'electricity',
    of: (f) => f.powerW,
    words: (f) => (f.powerW === 0 ? 'none' : `${n(f.powerW, 2)} W`),
    small: (f) => (f.powerW === 0 ? '' : `${n(f.energyKWhYear, 2)} kWh a year`),
  },
  {
    name: 'Wait',
    care: 'wait',
    of: (f) => f.refillMin + f.glassS / 60,
    words: (f) => (f.storeL === 0 ? 'no refill' : `${formatMinutes(f.refillMin)} to refill`),
    small: (f) => `${f.storeL === 0 ? 'no store' : `${n(f.storeL, 2)} L in store`}, a glass in ${n(f.glassS, 2)} s`,
  },
  {
    name: 'To the drain',
    care: 'waste',
    of: (f) => f.wasteRatio,
    words: (f) => `${n(f.wasteRatio, 2)} L a litre`,
    small: (f) => `makes ${n(f.makesLDay, 2)} L a day when coldest`,
  },
  {
    name: 'Cost',
    care: 'cost',
    of: (f) => f.costYear ?? Infinity,
    words: (f, currency) => (f.costYear === null ? 'not worked out' : `${n(f.costYear, 3)} ${currency} a year`),
  },
  {
    name: 'Taste',
    care: 'purity',
    of: (f) => f.tdsMgL,
    words: (f) => `${n(f.tdsMgL, 2)} mg/L`,
    small: (f) =>
      [
        f.firstGlassMgL === null ? '' : `first glass ${n(f.firstGlassMgL, 2)}`,
        f.minerals ? 'then minerals' : 'no minerals added',
      ]
        .filter(Boolean)
        .join(', '),
  },
  {
    name: 'Upkeep',
    of: (f) => f.visitsYear,
    words: (f) => `${n(f.visitsYear, 2)} visits a year`,
    small: (f) => `${n(f.changesYear, 2)} parts changed`,
  },
];

/** The others that do, side by side with the recommended one; what the household cares for most puts them in order. */
export function Alternatives({
  decision: d,
  onTake,
}: {
  decision: Recommendation;
  onTake: (design: Design) => void;
}): ReactElement {
  const { parts, rules, built, known } = useJob();
  const { scrub } = useTrial();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  const columns = useMemo(() => {
    if (!site.ok) return [];
    const all = [
      { title: 'Recommended', why: '', evaluation: d.chosen },
      ...d.alternatives.map((a) => ({ title: a.title, why: a.winsOn, evaluation: a.evaluation })),
    ];
    return all.map((c) => ({ ...c, figures: designFigures(c.evaluation, parts, site.site) }));
  }, [d, parts, site]);
  const cares = site.ok ? site.site.caresMost : 'balanced';
  return (
    <>
      <h2 className="zone-title" id="alternatives-title">
        Others that do, side by side
      </h2>
      <p className="small no-print">
        Choose what the household cares for most: the order changes with it
        {cares === 'balanced' ? '.' : ', or '}
        {cares !== 'balanced' && (
          <button
            type="button"
            className="quiet-link"
            onClick={() => {
              scrub('caresMost', 'balanced');
            }}
          >
            a bit of everything again.
          </button>
        )}
      </p>
      <div className="alternatives-scroll">
        <table className="quiet-table alternatives" aria-labelledby="alternatives-title">
          <thead>
            <tr>
              <td />
              {columns.map((c, i) => (
                <th key={JSON.stringify(c.evaluation.design)} scope="col" data-chosen={i === 0}>
                  {c.title}
                  <small>{c.why}</small>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ROWS.map((row) => {
              const { care } = row;
              const values = columns.map((c) => row.of(c.figures));
              const least = Math.min(...values);
              // where all are alike none is best
              const limit = Math.max(...values) <= least * 1.005 ? -Infinity : least * 1.005 + 1e-9;
              return (
                <tr key={row.name} data-cares={care === cares}>
                  <th scope="row">
                    {care === undefined ? (
                      row.name
                    ) : (
                      <button
                        type="button"
                        className="quiet-link"
                        aria-pressed={care === cares}
                        title={`Care most about: ${row.name.toLowerCase()}`}
                        onClick={() => {
                          scrub('caresMost', care);
                        }}
                      >
                        {row.name}
                      </button>
                    )}
                  </th>
                  {columns.map((c, i) => (
                    <td
                      key={JSON.stringify(c.evaluation.design)}
                      data-chosen={i === 0}
                      data-best={row.of(c.figures) <= limit}
                    >
                      <span className="alternatives-figure">{row.words(c.figures, rules.currency)}</span>
                      {row.small && <small>{row.small(c.figures)}</small>}
                    </td>
                  ))}
                </tr>
              );
            })}
            <tr>
              <th scope="row">Parts</th>
              {columns.map((c, i) => {
                const { design } = c.evaluation;
                return (
                  <td key={JSON.stringify(design)} data-chosen={i === 0}>
                    <small>{designInWords(design, parts)}</small>
                    {i > 0 && (
                      <Button
                        size="compact-sm"
                        mt={6}
                        variant="default"
                        aria-label={`Take this: ${c.title}`}
                        disabled={
                          built !== null &&
                          sameParts(built.system, buildSystem(choiceOfDesign(design, parts), parts, MEASURES))
                        }
                        onClick={() => {
                          onTake(design);
                        }}
                      >
                        Take this
                      </Button>
                    )}
                  </td>
                );
              })}
            </tr>
          </tbody>
        </table>
      </div>
      <p className="small">
        Bold: the best of each line. Wait and store in the worst season, the rest over a mean year.
      </p>
      {site.ok && <Worth columns={columns} site={site.site} />}
    </>
  );
}

/** What points are for, in the words of the comparison. */
const WORTH: readonly (readonly [keyof Points, string])[] = [
  ['drain', 'To the drain'],
  ['devices', 'Devices to look after'],
  ['room', 'Room'],
  ['wait', 'Wait'],
  ['purity', 'Taste'],
  ['money', 'Running cost'],
  ['scale', 'Nearness to scale'],
  ['missed', 'Short of what was guessed'],
  ['spare', 'Output to spare'],
];

/** Where each design's worth comes from, in the firm's money a year: less is better. */
function Worth({
  columns,
  site,
}: {
  columns: readonly { readonly title: string; readonly evaluation: Evaluation }[];
  site: Site;
}): ReactElement {
  const { parts, rules } = useJob();
  const weights = weightsOf(rules);
  const all = columns.map(({ title, evaluation: e }) => {
    const points = pointsOf(e.design, parts, e.worst, { recovery: e.warmRecovery }, site, rules, e.year);
    return { title, points };
  });
  const money = (points: number): string => formatNumber(moneyOf(points, weights), 2);
  const each = (points: number): string => `${money(points)} ${rules.currency}`;
  return (
    <details className="worth">
      <summary>Where their worth comes from</summary>
      <p className="small">
        Counted as money a year, the least first. By the house rule (
        {RULE_TEXTS.worth.options?.[rules.worth] ?? rules.worth}) a booster pump counts {each(weights.pump)}, a permeate
        pump {each(weights.permeatePump)}, a litre to the drain for each made {each(weights.perWasteLitre)}, an hour of
        refill {each(weights.perRefillHour)}, a litre of tank {each(weights.perTankLitre)}
        {site.caresMost === 'balanced' ? '' : '; what this household cares for most counts four times'}. What may not do
        is set aside by how often it does not, besides.
      </p>
      <table className="quiet-table alternatives" aria-label="Where their worth comes from">
        <thead>
          <tr>
            <td />
            {all.map((c, i) => (
              <th key={c.title} scope="col" data-chosen={i === 0}>
                {c.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {WORTH.filter(([k]) => all.some((c) => Math.abs(c.points[k]) > 0.05)).map(([k, words]) => (
            <tr key={k}>
              <th scope="row">{words}</th>
              {all.map((c, i) => (
                <td key={c.title} data-chosen={i === 0}>
                  {money(c.points[k])}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row">Together, {rules.currency} a year</th>
            {all.map((c, i) => (
              <td key={c.title} data-chosen={i === 0}>
                <b>{money(sumOf(c.points))}</b>
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </details>
  );
}
