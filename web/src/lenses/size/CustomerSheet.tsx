import { formatMinutes, formatNumber, lifeLitres, siteFrom, throughputLDay, type Decision } from '@katharos/core';
import dayjs from 'dayjs';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** One page for the household, on paper only: what, why, what to expect, upkeep, cautions. */
export function CustomerSheet({ decision: d }: { decision: Recommendation }): ReactElement | null {
  const { household, rules, known, view, approved } = useJob();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  if (!site.ok || !view) return null;
  const told = approved?.judged ?? { sentence: d.sentence, reasons: d.reasons };
  // an approved design is told by its own figures, a proposal by those of its year
  const { worst } = view;
  const year = approved ? null : d.chosen.year;
  const costYear = approved ? approved.judged.figures.costYear : (year?.cost ?? null);
  const n = formatNumber;
  const s = view.site;
  const components = view.system.components;
  const names = [...new Set(components.flatMap((c) => c.part?.name ?? []))];
  const waste = year?.wasteRatio ?? worst.wasteRatio;
  const upkeep = components.flatMap((e) => {
    const { part } = e;
    if (!part?.life) return [];
    const perDay = throughputLDay(e.kind, s.litresADay, waste);
    const byLitres = lifeLitres(part, s) / perDay / 30.44;
    const months = Math.min(part.life.months ?? Infinity, byLitres);
    return Number.isFinite(months) ? [{ key: e.id, name: part.name, months, price: part.price }] : [];
  });
  return (
    <article className="customer-sheet">
      <header>
        <p>{rules.firm}</p>
        <h1>Drinking water for {household.name}</h1>
        <p>
          {household.place}, {dayjs().format('D MMMM YYYY')}
        </p>
      </header>
      <section>
        <h2>{approved ? 'What we put in' : 'What we propose'}</h2>
        <p className="customer-lead">{told.sentence}</p>
        <p>{names.join(', ')}.</p>
      </section>
      <section>
        <h2>Why</h2>
        <ul>
          {told.reasons.slice(0, 5).map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      </section>
      <section>
        <h2>What to expect</h2>
        <table>
          <tbody>
            <tr>
              <td>Made in the coldest water</td>
              <td>{n(worst.litresADay, 2)} L a day</td>
              <td>At the tap</td>
              <td>{n(worst.tapFlowLMin, 2)} L/min</td>
            </tr>
            <tr>
              <td>{worst.direct ? 'First glass after a night' : 'Full again after it is emptied'}</td>
              <td>
                {worst.direct
                  ? `about ${n(worst.direct.firstGlassTdsMgL, 2)} mg/L: pour it away`
                  : formatMinutes(worst.fill.minutes)}
              </td>
              <td>Dissolved, as drunk</td>
              <td>
                about {n(year?.tdsMgL ?? worst.fill.tankTdsMgL, 2)} mg/L, from {n(s.tdsMgL, 3)}
              </td>
            </tr>
            <tr>
              <td>To the drain for each litre</td>
              <td>{n(waste, 2)} L</td>
              <td>Water, cartridges and power</td>
              <td>{costYear === null ? '' : `about ${n(costYear, 2)} ${rules.currency} a year`}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>Upkeep</h2>
        <table>
          <tbody>
            {upkeep.map((u) => (
              <tr key={u.key}>
                <td>{u.name}</td>
                <td>every {n(u.months, 2)} months</td>
                <td>{u.price === undefined ? '' : `${n(u.price, 2)} ${rules.currency}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2>Please note</h2>
        <ul>
          {d.safety.map((x) => (
            <li key={x.code}>{x.text}</li>
          ))}
          <li>
            Water of very low mineral content: for infants and diets a doctor set, ask the doctor. Not for dialysis.
          </li>
          <li>A notice to boil water holds for this water too. A leak: shut the feed valve, open the tap, call us.</li>
          <li>Not judged: {d.notJudged.join('; ')}. Local codes and licensed trades come first.</li>
        </ul>
      </section>
    </article>
  );
}
