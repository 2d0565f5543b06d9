import { alongTheWater, branchOf, formatNumber } from '@katharos/core';
import { useComputedColorScheme } from '@mantine/core';
import type { CSSProperties, ReactElement } from 'react';
import { flowWidth, salinityColour } from '../ui/salinity.ts';
import type { LineProps } from './LineDrawing.tsx';
import { elementWords } from './words.ts';
import './line.css';

/** The Line on a phone: a spine down the left edge, one bead an element. */
export function LineSpine({
  line,
  profile,
  marks,
  chosen,
  onChoose,
  wet,
}: LineProps & { wet: ReadonlySet<string> }): ReactElement {
  const scheme = useComputedColorScheme('light');
  return (
    <ol className="spine" aria-label="The Line, in flow order">
      {alongTheWater(line).map((e) => {
        const p = profile?.points.find((x) => x.id === e.id);
        const style = p
          ? ({ '--w': `${String(flowWidth(p.flowLMin))}px`, '--c': salinityColour(p.tdsMgL, scheme) } as CSSProperties)
          : undefined;
        const mark = marks[e.id] ?? (p ? `${formatNumber(p.pressureBar, 2)} bar` : '');
        return (
          <li key={e.id} style={style} data-branch={branchOf(e)} data-wet={wet.has(e.id)}>
            <button
              type="button"
              aria-pressed={chosen === e.id}
              aria-label={elementWords(e, p, marks[e.id])}
              onClick={() => {
                onChoose(chosen === e.id ? null : e.id);
              }}
            >
              <span className="bead" />
              {e.slot}
              {mark !== '' && <small>{mark}</small>}
            </button>
          </li>
        );
      })}
    </ol>
  );
}
