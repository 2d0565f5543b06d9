import {
  buildSystem,
  choiceFor,
  CORE_VERSION,
  siteFrom,
  sinceApproved,
  type DesignVersion,
  type Since,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { IconPrinter } from '../../ui/icons.ts';
import dayjs from 'dayjs';
import { useMemo, type ReactElement } from 'react';
import { usePrintForThem } from '../../job/givenSheets.ts';
import { useJob } from '../../job/useJob.ts';

/** What differs since the job's design was approved, what the readings lead to now with it; null while nothing is. */
export function useSince(): Since | null {
  const { built, parts, rules, record, proposal } = useJob();
  return useMemo(() => {
    if (!built) return null;
    const site = siteFrom(record.known, rules);
    const leadsTo = site.ok && proposal ? buildSystem(choiceFor(proposal, parts), parts, site.site) : null;
    return sinceApproved(built.version, built.system, leadsTo, record.known, parts, rules);
  }, [built, parts, rules, record.known, proposal]);
}

/** Which version stands, since when, by whom, and why where it was taken against the advice. */
export function ApprovedWhen({ since }: { since: Since | null }): ReactElement {
  const { approved, personName } = useJob();
  if (!approved) return <span className="small">Nothing is approved yet: the Line shows the proposal.</span>;
  const differs = since !== null && since.parts.length > 0;
  return (
    <span className="small">
      Version {approved.number} approved {dayjs(approved.at).format('D MMM YYYY, HH:mm')} by {personName(approved.by)}
      {approved.judged.coreVersion === CORE_VERSION
        ? ''
        : `, worked out by version ${approved.judged.coreVersion} of the computation`}
      {differs ? '. The readings now lead to another design.' : '.'}
      {takenInWords(approved)}
    </span>
  );
}

/** Said for as long as the version stands: what stands is preferred when it is sized anew, and is then the advice itself. */
function takenInWords({ reason, judged: { against } }: DesignVersion): string {
  if (reason === '') return '';
  return `${against === '' ? '' : ` Taken against the advice, which was: ${against}`} Why: ${reason}`;
}

/** What stands otherwise now than when the design was approved; none of it moves the design. */
export function Differences({
  since,
  approved,
  leadsTo,
}: {
  since: Since;
  approved: DesignVersion;
  /** what is decided from the readings now */
  leadsTo: string;
}): ReactElement {
  const { proposal } = useJob();
  const { number, judged } = approved;
  return (
    <div className="note">
      Version {number} is kept as approved.
      {judged.shelf === 'as at the change of version' &&
        ' Its parts are as the shelf had them when documents changed their version.'}
      {!proposal || since.parts.length > 0
        ? ` The readings now lead to another: ${leadsTo}`
        : ' Sized anew it would be the same parts.'}{' '}
      What differs since:
      <ul className="plain-list">
        {since.parts.map((x) => (
          <li key={x.what}>
            {x.what}: {x.from} in version {number}, {x.to} now
          </li>
        ))}
        {since.edits.map((e) => (
          <li key={e}>{e}</li>
        ))}
      </ul>
    </div>
  );
}

/** Prints the page for the household. */
export function PrintForHousehold(): ReactElement {
  const print = usePrintForThem();
  return (
    <Button variant="default" leftSection={<IconPrinter size={16} />} onClick={print}>
      Print for the household
    </Button>
  );
}
