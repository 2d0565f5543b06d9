import { baseUnit, formatNumber, type Diagnosis, type KeptVerdict, type ProofKey } from '@katharos/core';
import type { ReactElement } from 'react';
import { CompareScale } from './CompareScale.tsx';
import { Faults, nextSteps } from './Faults.tsx';

/** What readings say: the grade, expected beside read, what it means, what to do. */
export function VerdictSheet({
  verdict: v,
  told,
  onRead,
}: {
  readonly verdict: KeptVerdict;
  readonly told: Diagnosis | null;
  /** somebody goes to take a reading that is worth taking */
  readonly onRead?: ((key: ProofKey) => void) | undefined;
}): ReactElement {
  return (
    <>
      <p className="headline">
        <span className="grade" data-grade={v.grade}>
          {v.grade === 'good' ? 'Good.' : v.grade === 'watch' ? 'Watch.' : 'Act.'}
        </span>{' '}
        {v.sentence}
      </p>
      <SaltFigures verdict={v} />
      <div className="compares">
        {v.compared.map((c) => (
          <CompareScale key={c.key} compared={c} />
        ))}
      </div>
      {v.doubts.map((d) => (
        <p key={d} className="note">
          {d}
        </p>
      ))}
      <h2 className="zone-title">What it means</h2>
      <ul className="plain-list">
        {v.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      <Faults told={told} onRead={onRead} />
      <h2 className="zone-title">What to do next</h2>
      <ul className="plain-list">
        {nextSteps(told, v.next).map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      <p className="small">
        {v.rejection === null
          ? 'Expected: these filters, half way through their life, at the pressure gauged and the temperature read.'
          : `Expected: a new element of this rating at the read pressure, temperature and feed (${baseUnit('pressure')}, °C, mg/L). Rejection is judged as sodium chloride; hard water is usually held back better. Recovery over a whole fill is another, lower figure: see Size. Water that is milky and clears from below is air, and harms nothing. The Line shows what was read over what was expected, where it was read.`}
      </p>
    </>
  );
}

/** What of the salt and of the feed is told in one figure each; nothing of filters, which hold back none. */
function SaltFigures({ verdict: v }: { verdict: KeptVerdict }): ReactElement | null {
  const n = formatNumber;
  if (v.rejection === null || v.momentaryRecovery === null || v.passageAgainstNew === null) return null;
  return (
    <dl className="figures proof-figures">
      <div>
        <dt>rejection, product against feed</dt>
        <dd>{n(100 * v.rejection, 3)} %</dd>
      </div>
      <div>
        <dt>recovery at this moment</dt>
        <dd>{n(100 * v.momentaryRecovery, 2)} %</dd>
      </div>
      <div>
        <dt>waste ratio at this moment</dt>
        <dd>{v.wasteRatio === null ? 'no product' : `${n(v.wasteRatio, 2)} L to drain for each litre`}</dd>
      </div>
      <div>
        <dt>salt passage against new</dt>
        <dd>{n(v.passageAgainstNew, 2)} times</dd>
      </div>
    </dl>
  );
}
