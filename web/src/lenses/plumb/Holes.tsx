import { formatNumber, type SystemView } from '@katharos/core';
import type { ReactElement } from 'react';

/** Holes with bit and cautions. */
export function Holes({ view }: { view: SystemView }): ReactElement {
  return (
    <>
      {view.holes.map((h) => (
        <section key={h.where} className="hole">
          <h2>
            {formatNumber(h.diameterMm, 3)} mm, {h.where}
          </h2>
          <p>
            <b>Bit:</b> {h.bit}.
          </p>
          <p>{h.how}</p>
          <p className="caution">{h.caution}</p>
        </section>
      ))}
    </>
  );
}
