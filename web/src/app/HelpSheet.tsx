import { Kbd, Modal } from '@mantine/core';
import type { ReactElement } from 'react';

const KEYS: readonly [string, string][] = [
  ['1 to 6', 'Gauge, Size, Plumb, Flush, Prove, Keep'],
  ['N, or Alt N while typing', 'In Gauge: to the next reading'],
  ['← →', 'walk the Line, once an element on it is chosen'],
  ['Esc', 'close the card of an element'],
  ['Enter', 'take in what is typed in a field'],
  ['?', 'this sheet'],
];

/** Keys, and what the drawing says. */
export function HelpSheet({ opened, onClose }: { opened: boolean; onClose: () => void }): ReactElement {
  return (
    <Modal opened={opened} onClose={onClose} title="Help" size="lg">
      <p>
        A job goes through six parts: <b>Gauge</b> the house, <b>Size</b> the system, <b>Plumb</b> it in, <b>Flush</b>{' '}
        it wet, <b>Prove</b> it works, <b>Keep</b> it for years. The drawing on top is the same system in all of them.
      </p>
      <table className="quiet-table">
        <caption className="quiet-caption">Keys</caption>
        <tbody>
          {KEYS.map(([k, what]) => (
            <tr key={k}>
              <td>
                <Kbd>{k}</Kbd>
              </td>
              <td>{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h3 className="zone-title">The Line</h3>
      <p>
        The width of a stroke is flow, its colour salinity from salty brown to fresh blue-green, with the figure beside
        it. Whole stroke: feed and product. Long dashes: concentrate on its way to the drain. Short dots: tank and
        fridge. The thin curve is the pressure; red dashes are limits. Dashed boxes are proposed and not yet approved.
        It shows the tank half full and the tap open.
      </p>
      <h3 className="zone-title">Typing figures</h3>
      <p>
        Any unit will do: 45 psi, 3,1 bar, 11 °dH, 12 gpg, 52 °F, 3/8 in. A bare number is taken in the unit beside the
        field. What you typed is kept on this device until it is taken in.
      </p>
    </Modal>
  );
}
