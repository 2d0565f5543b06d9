import { RAW_TRANSMITTANCE, type LampCondition } from '../treatment/lamp.ts';
import type { MetalAfter } from '../treatment/minerals.ts';

/** What a water fails of what a lamp asks, in words. */
export function lampConditionWords({ code, value }: LampCondition): string {
  switch (code) {
    case 'iron':
      return `iron ${String(value)} mg/L is above 0.3: it stains the sleeve`;
    case 'hardness':
      return `hardness ${String(Math.round(value))} mg/L is above 120: it scales the sleeve`;
    case 'turbidity':
      return `turbidity ${String(value)} NTU is above 1: particles give shade`;
    case 'transmittance':
      return `transmittance ${String(value)} % is below ${String(RAW_TRANSMITTANCE)}: the light does not reach the wall`;
  }
}

/** Why metal may follow, or may not, in words. */
export function metalAfterWords(m: MetalAfter): string {
  const f = (v: number): string => String(Math.round(10 * v) / 10);
  switch (m.code) {
    case 'acid':
      return `pH ${f(m.pH)} is below 7: it dissolves copper and brass`;
    case 'unbuffered':
      return `alkalinity ${f(m.alkalinityMgL)} mg/L as CaCO3 is below 60: hardly a buffer`;
    case 'no-film':
      return `calcite index ${f(m.calciteSaturationIndex ?? 0)}: far from a protecting film`;
    case 'borne':
      return `pH ${f(m.pH)} and alkalinity ${f(m.alkalinityMgL)} mg/L as CaCO3 are borne by copper`;
  }
}
