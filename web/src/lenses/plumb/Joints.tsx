import { JOINT_NAMES, type SystemView } from '@katharos/core';
import type { ReactElement } from 'react';
import { BRANCH_WORD } from './branchWords.ts';

/** Every joint of the system. */
export function Joints({ view }: { view: SystemView }): ReactElement {
  return (
    <table className="quiet-table joints">
      <caption className="quiet-caption">Every joint, numbered along the water</caption>
      <thead>
        <tr>
          <th className="num">no.</th>
          <th>where</th>
          <th>kind</th>
          <th>how it is made</th>
          <th>what to look at</th>
        </tr>
      </thead>
      <tbody>
        {view.joints.map((j) => (
          <tr key={j.joint.number}>
            <td className="num">
              <b>{j.joint.number}</b>
            </td>
            <td>
              {j.where}
              <small>
                {BRANCH_WORD[j.joint.branch]}
                {j.joint.tube === null ? '' : `, tube ${String(j.joint.tube)}`}
              </small>
            </td>
            <td>
              {JOINT_NAMES[j.joint.kind]}
              <small>{j.joint.size}</small>
            </td>
            <td>{j.how}</td>
            <td>{j.look}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
