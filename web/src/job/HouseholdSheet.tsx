import {
  commissionedAt,
  formatNumber,
  intervalWords,
  isDone,
  LATER_LOOKS,
  ofWork,
  usedUpIn,
  type SystemView,
} from '@katharos/core';
import dayjs from 'dayjs';
import { QRCodeSVG } from 'qrcode.react';
import type { ReactElement } from 'react';
import { nowMs } from '../ui/clock.ts';
import { Sheet } from '../ui/Sheet.tsx';
import { usePrinting } from '../ui/usePrinting.ts';
import { DrinkingTold } from './drinking/Drinking.tsx';
import { useDrinking } from './drinking/useDrinking.ts';
import { useJob } from './useJob.ts';

/** Across the code on the sheet, px. */
const CODE_PX = 96;

/** What a household is left with, on one sheet of paper: drawn only while it is printed. */
export function HouseholdSheet({ view }: { readonly view: SystemView }): ReactElement | null {
  const { rules, household } = useJob();
  if (!usePrinting()) return null;
  return (
    <Sheet of={rules} place={household.place} title={`Your drinking water, ${household.name}`}>
      <Drink />
      <h2>If something drips or runs</h2>
      <p>
        Shut the stop valve under the sink, right round. Open the tap of this water until nothing comes. Pull its plug
        with dry hands if it has one. Then call us{rules.firmPhone ? `, ${rules.firmPhone}` : ''}. If the floor is wet
        near a socket, switch the circuit off first.
      </p>
      <Stands view={view} />
      <Looks view={view} />
      <Signed />
    </Sheet>
  );
}

/** Whether they may drink, as the household reads it. */
function Drink(): ReactElement {
  const now = nowMs();
  return <DrinkingTold told={useDrinking(now)} reader="household" now={now} />;
}

/** What stands there, how often each part is changed here, and what it should do. */
function Stands({ view }: { readonly view: SystemView }): ReactElement {
  const n = formatNumber;
  const { today, site, worst } = view;
  const worn = usedUpIn(view.system, site, site.litresADay, worst.wasteRatio);
  const held = ofWork(view.system, 'separates').length > 0;
  return (
    <>
      <h2>What stands under your sink</h2>
      <table>
        <tbody>
          {worn.map((u) => (
            <tr key={u.component.id}>
              <td>{u.component.slot}</td>
              <td>{u.part.name}</td>
              <td>{u.component.kind === 'membrane' ? 'read every visit, changed by its readings' : intervalWords(u.days)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        It gives about {n(today.tapFlowLMin, 2)} L/min at the tap
        {held
          ? ` and about ${n(today.litresADay, 2)} L a day. It holds most of what is dissolved back. What no pocket meter sees, such as microbes or lead, only a laboratory’s sample tells.`
          : '. It takes taste and fines, and nothing that is dissolved.'}
      </p>
    </>
  );
} // oxfmt-ignore

/** When somebody looks at the joints again; nothing once that is past. */
function Looks({ view }: { readonly view: SystemView }): ReactElement | null {
  const { record } = useJob();
  const from = dayjs(commissionedAt(view.sheet, record) ?? nowMs());
  const to = LATER_LOOKS.map((l) => ({ ...l, day: from.add(l.days, 'day') })).filter(
    (l) => !isDone(record, l.key) && !l.day.isBefore(dayjs(nowMs()), 'day'),
  );
  if (to.length === 0) return null;
  return (
    <>
      <h2>Looked at again</h2>
      <p>A dry paper towel round each joint under the sink, by you or by us:</p>
      <ul>
        {to.map((l) => (
          <li key={l.key}>
            {l.day.format('dddd D MMMM')}: {l.days === 1 ? 'the next day' : 'after the first week'}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Signatures, and the code that opens this job in the application. */
function Signed(): ReactElement {
  const { id, household } = useJob();
  return (
    <div className="household-signed">
      <QRCodeSVG
        value={`${window.location.origin}/jobs/${id}/keep`}
        size={CODE_PX}
        title={`Opens the job of ${household.name}`}
      />
      <p>
        Handed over by
        <span />
      </p>
      <p>
        Received, shown how to shut it
        <span />
      </p>
    </div>
  );
}
