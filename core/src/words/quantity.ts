import { PER_USCM_RANGE, type QuantityProblem } from '../quantity/parse.ts';
import { baseUnit, UNITS, type QuantityKind } from '../quantity/units.ts';

const KIND_WORD: Readonly<Record<QuantityKind, string>> = {
  pressure: 'a pressure',
  temperature: 'a temperature',
  volume: 'a volume',
  flow: 'a flow',
  dailyVolume: 'litres a day',
  concentration: 'a concentration',
  hardness: 'a hardness',
  length: 'a length',
  run: 'a length',
  duration: 'a time',
  acidity: 'a pH',
  turbidity: 'a turbidity',
  conductivity: 'a conductivity',
  count: 'a number',
};

/** What is wrong with a typed quantity and what would be right, in one sentence. */
export function quantityMessage(p: QuantityProblem): string {
  switch (p.code) {
    case 'empty':
      return 'Nothing typed yet.';
    case 'not-a-number':
      return `"${p.text}" does not read as a number. Write it like 3.2 or 3,2 or 3/8, then the unit.`;
    case 'ambiguous-comma':
      return `"${p.text}" could mean ${p.text.replace(',', '')} or ${p.text.replace(',', '.')}. Write one of these.`;
    case 'unknown-unit':
      return `"${p.unit}" is not a unit of ${KIND_WORD[p.kind].replace(/^an? /, '')}. Use ${unitList(p.kind)}.`;
    case 'wrong-kind':
      return `"${p.unit}" measures ${KIND_WORD[p.is]}; this field wants ${KIND_WORD[p.kind]} in ${unitList(p.kind)}.`;
    case 'no-such-factor':
      return `No meter turns µS/cm into mg/L by ${String(p.factor)}: factors lie between ${String(PER_USCM_RANGE.min)} and ${String(PER_USCM_RANGE.max)}.`;
    case 'out-of-range':
      return `Outside ${figure(p.min)} to ${figure(p.max)} ${baseUnit(p.kind)}: check the figure and its unit.`.replace(
        ' :',
        ':',
      );
  }
}

function unitList(kind: QuantityKind): string {
  const s = UNITS[kind].map((u) => u.symbol).filter(Boolean);
  return s.length === 0
    ? 'a plain number'
    : s.length === 1
      ? (s[0] ?? '')
      : `${s.slice(0, -1).join(', ')} or ${s.at(-1) ?? ''}`;
}

function figure(v: number): string {
  return String(Math.round(v * 100) / 100);
}
