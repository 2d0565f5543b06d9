import { restrictorFlowLDay } from '../hydraulics/restrictor.ts';
import type { Part } from './catalogue.ts';

/** Kinds whose ports the kind itself knows. */
const ANY_PORTS: ReadonlySet<Part['kind']> = new Set(['shut-off', 'permeate-pump']);

/**
 * What of a part's figures does not sit well, in words; an empty list says nothing contradicts. Limits are those of
 * common household parts: elements of 0.3 to 1 m2 make 20 to 60 L/(m2 h) at their test, tanks are charged to 0.3 to 1 bar.
 */
export function partDoubts(part: Part): string[] {
  const out: string[] = [];
  if (part.maxPressureBar < 2 && part.kind !== 'tap')
    out.push(`bears only ${String(part.maxPressureBar)} bar: hardly any house stays below`);
  for (const name of new Set(part.ports.map((p) => p.name)))
    if (!ANY_PORTS.has(part.kind) && part.ports.filter((p) => p.name === name).length > 1)
      out.push(`has two ports called ${name}: one tube would lead to both`);
  if (part.price !== undefined && part.price > 2000) out.push('a price of over 2000: another currency, or a slip?');
  switch (part.kind) {
    case 'element': {
      const { rating } = part;
      if (rating.rejection < 0.85)
        out.push(
          `holds back only ${String(Math.round(100 * rating.rejection))} % of the salt: a percentage as a share?`,
        );
      if (rating.permeateLDay / rating.test.pressureBar > 900)
        out.push('makes more for its pressure than any household element: a unit slip?');
      if (part.maxTdsMgL < 300) out.push('made for less salt than most mains carry');
      break;
    }
    case 'tank':
      if (part.airChargeBar > 1.2) out.push('charged above 1.2 bar: little water goes in');
      if (part.size && (part.size.widthMm * part.size.depthMm * part.size.heightMm) / 1e6 < part.volumeL)
        out.push('holds more than its own measures would');
      break;
    case 'restrictor': {
      const at3 = restrictorFlowLDay(part.flow, 3, 15);
      if (at3 < 60 || at3 > 6000) out.push(`lets out ${String(Math.round(at3))} L/day at 3 bar: a unit slip?`);
      break;
    }
    case 'pump':
      if (part.reopenBar >= part.closeBar) out.push('starts again above the pressure it stops at: the two are swapped');
      if (part.closeBar > part.curve.maxBoostBar) out.push('its switch stops it above what it can boost');
      break;
    case 'shut-off':
    case 'permeate-pump':
      if (part.reopenRatio >= part.closeRatio) out.push('reopens above where it closes: the two are swapped');
      break;
    default:
  }
  if (part.life?.months !== undefined && part.life.months > 120) out.push('a life of over ten years');
  return out;
}
