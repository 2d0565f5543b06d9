import {
  formatMinutes,
  formatNumber,
  intervalWords,
  NOT_JUDGED,
  ofWork,
  siteFrom,
  usedUpIn,
  type Decision,
  type SystemView,
} from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { Sheet } from '../../ui/Sheet.tsx';

/** One page for the household, on paper only: what, why, what to expect, upkeep, cautions. */
export function CustomerSheet({ decision: d }: { decision: Decision }): ReactElement | null {
  const { household, rules, known, view, approved, proposal } = useJob();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  if (!site.ok || !view) return null;
  const told = approved?.judged ?? (proposal && 'assembly' in proposal ? proposal.assembly : proposed(d));
  // an approved design is told by its own figures, a proposal by those of its year
  const year = !approved && d.kind === 'recommendation' ? d.chosen.year : null;
  const costYear = approved
    ? approved.judged.figures.costYear
    : proposal && 'assembly' in proposal
      ? proposal.assembly.costYear
      : (year?.cost ?? null);
  const n = formatNumber;
  const s = view.site;
  const cost = costYear === null ? '' : `about ${n(costYear, 2)} ${rules.currency} a year`;
  const names = [...new Set(view.system.components.flatMap((c) => c.part?.name ?? []))];
  const waste = year?.wasteRatio ?? view.worst.wasteRatio;
  const filters = ofWork(view.system, 'separates').length === 0;
  const upkeep = usedUpIn(view.system, s, s.litresADay, waste);
  return (
    <Sheet of={rules} title={`Drinking water for ${household.name}`} place={household.place}>
      <section>
        <h2>{approved ? 'What we put in' : 'What we propose'}</h2>
        <p className="sheet-lead">{told.sentence}</p>
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
        {filters ? <FromFilters view={view} cost={cost} /> : <FromMembrane view={view} year={year} cost={cost} />}
      </section>
      <section>
        <h2>Upkeep</h2>
        <table>
          <tbody>
            {upkeep.map((u) => (
              <tr key={u.component.id}>
                <td>{u.part.name}</td>
                <td>{intervalWords(u.days)}</td>
                <td>{u.price === 0 ? '' : `${n(u.price, 2)} ${rules.currency}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2>Please note</h2>
        <ul>
          {('safety' in d ? d.safety : []).map((x) => (
            <li key={x.code}>{x.text}</li>
          ))}
          <li>
            {filters
              ? 'It takes out neither salt nor microbes, unless a lamp stands in it. Infants and diets a doctor set: ask the doctor. Not for dialysis.'
              : 'Water of very low mineral content: for infants and diets a doctor set, ask the doctor. Not for dialysis.'}
          </li>
          <li>A notice to boil water holds for this water too. A leak: shut the feed valve, open the tap, call us.</li>
          <li>Not judged: {NOT_JUDGED.join('; ')}. Local codes and licensed trades come first.</li>
        </ul>
      </section>
    </Sheet>
  );
}

/** What a recommendation would say of itself; nothing is said of what is not recommended. */
const proposed = (d: Decision): { readonly sentence: string; readonly reasons: readonly string[] } =>
  d.kind === 'recommendation' ? d : { sentence: d.sentence, reasons: [] };

/** What a household may expect of a membrane. */
function FromMembrane({
  view,
  year,
  cost,
}: {
  view: SystemView;
  year: { readonly tdsMgL: number; readonly wasteRatio: number } | null;
  cost: string;
}): ReactElement {
  const n = formatNumber;
  const { worst, site } = view;
  return (
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
            about {n(year?.tdsMgL ?? worst.fill.tankTdsMgL, 2)} mg/L, from {n(site.tdsMgL, 3)}
          </td>
        </tr>
        <tr>
          <td>To the drain for each litre</td>
          <td>{n(year?.wasteRatio ?? worst.wasteRatio, 2)} L</td>
          <td>Water, cartridges and power</td>
          <td>{cost}</td>
        </tr>
      </tbody>
    </table>
  );
}

/** What a household may expect of filters alone. */
function FromFilters({ view, cost }: { view: SystemView; cost: string }): ReactElement {
  const n = formatNumber;
  return (
    <table>
      <tbody>
        <tr>
          <td>At the tap</td>
          <td>{n(view.today.tapFlowLMin, 2)} L/min</td>
          <td>Water, cartridges and power</td>
          <td>{cost}</td>
        </tr>
        <tr>
          <td>Dissolved, as drunk</td>
          <td>{n(view.site.tdsMgL, 3)} mg/L, as it comes</td>
          <td>To the drain</td>
          <td>nothing</td>
        </tr>
      </tbody>
    </table>
  );
}
