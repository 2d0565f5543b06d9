import { agreedStep, gaugeField, holesInWords, templateOf, type ChoiceField, type SystemView } from '@katharos/core';
import { Button } from '@mantine/core';
import { IconDownload } from '../../ui/icons.ts';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { download } from '../../ui/download.ts';
import { Agreed } from './Agreed.tsx';

/** Every hole with its bit, its speed, what is behind it, and what can go wrong; a template to lay on. */
export function Holes({ view }: { view: SystemView }): ReactElement {
  const { household, record } = useJob();
  const material = record.known.worktop;
  const worktop = typeof material === 'string' ? (gaugeField('worktop') as ChoiceField).options[material] : undefined;
  const agreed = holesInWords(view.holes, worktop ?? 'a worktop of unknown material', record.placed.tap ?? null);
  return (
    <section aria-label="Holes">
      <p className="hole-head no-print">
        <Button
          size="xs"
          variant="default"
          leftSection={<IconDownload size={14} />}
          onClick={() => {
            download('template.svg', templateOf(view.holes, household.name).svg, 'image/svg+xml');
          }}
        >
          Template, one to one
        </Button>
        <small>The printed sheets hold it too.</small>
      </p>
      {agreed !== '' && (
        <>
          <p className="hole-agreed">
            Before the first hole the household agrees to where it comes and how large it is: <b>{agreed}</b>.
          </p>
          <Agreed step={agreedStep('holes')} what={agreed} label="The household agreed" />
        </>
      )}
      {view.holes.map((h) => (
        <section key={h.key} className="hole">
          <h2>
            {String(h.diameterMm)} mm, {h.where}
          </h2>
          <dl className="hole-facts">
            <dt>Bit</dt>
            <dd>{h.bit}{h.pilotMm === null ? '' : `, ${String(h.pilotMm)} mm pilot first`}</dd>
            <dt>Tool</dt>
            <dd>{h.tool === 'none' ? 'none' : `${h.tool}, ${h.speed}`}</dd>
            <dt>Behind it</dt>
            <dd>{h.under}</dd>
          </dl>
          <p>{h.how}</p>
          <p className="caution">{h.caution}</p>
        </section>
      ))}
    </section>
  );
} // oxfmt-ignore
