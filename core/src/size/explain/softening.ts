import { siteFrom, type Site } from '../../gauge/site.ts';
import type { Known } from '../../gauge/fields.ts';
import { formatNumber, formatReading } from '../../quantity/format.ts';
import { sameKind, type Design } from '../../system/design.ts';
import { CACO3_PER_MEQ } from '../../water/species.ts';
import { chooseFor } from '../decide.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { evaluate, type Evaluation } from '../judge/evaluate.ts';
import { moneyOf, weightsOf } from '../judge/weights.ts';
import { titleOf } from './reasons.ts';

const { max } = Math;

/** Whether softening the feed before the membrane pays at a house, as advice: nothing of it is put in by this sizing. */
export interface SofteningAdvice {
  readonly pays: boolean;
  readonly sentence: string;
  readonly reasons: readonly string[];
}

/** Hardness from which it is worth a thought, mg/L as CaCO3 (moderately hard and up). */
const FROM_MGL = 100;
/** What a household softener leaves, mg/L as CaCO3. */
const LEFT_MGL = 20;
/** Salt for each equivalent of hardness taken out, kg: 58.4 g by the exchange itself, about twice that by practice. */
const SALT_KG_PER_EQ = 0.13;
/** Share of what it softens that a softener uses to regenerate itself. */
const REGENERATES = 0.06;
/** Sodium for calcium and magnesium adds to what is dissolved, mg for each meq. */
const HEAVIER_MG_PER_MEQ = 2.95;
/** SiO2. */
const SILICA_MG_PER_MOL = 60083;

/** A house's water with less hardness, mg/L as CaCO3: the rest stays what it was read or taken for. */
export function softenedTo(site: Site, hardnessMgL: number): Known {
  const { carbonate, composition } = site.water;
  return {
    hardnessMgL,
    alkalinityMgL: carbonate.alkalinity * 1000 * CACO3_PER_MEQ,
    pH: carbonate.pH,
    silicaMgL: (composition.molL.SiO2 ?? 0) * SILICA_MG_PER_MOL,
  };
}

/** The readings with the feed softened as a household's softener does it: sodium comes for hardness. */
function softened(known: Known, site: Site): Known {
  const meq = (site.hardnessMgL - LEFT_MGL) / CACO3_PER_MEQ;
  return { ...known, ...softenedTo(site, LEFT_MGL), feedTdsMgL: site.tdsMgL + HEAVIER_MG_PER_MEQ * meq };
}

/**
 * Sizes the house once more with its feed softened and compares: litres to the drain, money and points of a year against what
 * a softener takes (one more device to look after, salt, water to regenerate). One decision anew: for a worker.
 * @param design what is put in as the water is
 * @returns null where the water is soft or softened already, or where nothing would do with it softened either
 */
export function softeningFor(input: SizeInput, design: Design): SofteningAdvice | null {
  const r = siteFrom(input.known, input.rules, input.placed);
  if (!r.ok) return null;
  const { site } = r;
  if (site.source === 'softened-mains' || site.hardnessMgL < FROM_MGL) return null;
  const now = evaluate(design, input.catalogue, site, input.rules);
  const then = chooseFor({ ...input, known: softened(input.known, site) }, 'only-what-fits');
  if (!now.year || then.kind !== 'chosen' || !then.chosen.year) return null;
  return adviceOf(input, site, now, then.chosen, titleOf(then.chosen, then.site, input.catalogue));
}

function adviceOf(input: SizeInput, site: Site, now: Evaluation, then: Evaluation, title: string): SofteningAdvice {
  const n = formatNumber;
  const [before, after] = [now.year?.wasteRatio ?? 0, then.year?.wasteRatio ?? 0];
  const litres = 365 * site.litresADay;
  const feedL = litres * (1 + after);
  const saltKg = (SALT_KG_PER_EQ * feedL * (site.hardnessMgL - LEFT_MGL)) / CACO3_PER_MEQ / 1000;
  const savedM3 = (litres * (before - after) - REGENERATES * feedL) / 1000;
  const weights = weightsOf(input.rules);
  // one more thing to look after, as a permeate pump is
  const gain = now.score - then.score - weights.permeatePump - input.rules.indifference;
  const pays = gain > 0;
  const worth = moneyOf(now.score - then.score, weights);
  const hard = `${formatReading(site.hardnessMgL, 3)} mg/L`;
  const drain = `${n(before, 2)} L to the drain for each litre as it is, ${n(after, 2)} softened to ${String(LEFT_MGL)} mg/L`;
  return {
    pays,
    sentence: pays
      ? `Softening before the membrane pays here: ${drain}.`
      : `Softening before the membrane does not pay here: ${drain}.`,
    reasons: [
      sameKind(now.design, then.design) ? `Then: ${title}` : `Another kind of system would then do: ${title}`,
      `Worth ${n(max(0, worth), 2)} a year by the house rules, against ${n(moneyOf(weights.permeatePump, weights), 2)} for one more device to look after.`,
      `For the membrane’s feed alone it takes about ${n(saltKg, 2)} kg of salt a year from water of ${hard}, and ${savedM3 > 0 ? `saves ${n(savedM3, 2)}` : `costs ${n(-savedM3, 2)}`} m³ with what it uses to regenerate. For the whole house it is another decision, with its own reasons.`,
      'A softener gives sodium for hardness; the membrane holds most of that back. Where it drains to, and whether it may, is for the local code. This sizing puts none in: read again at this tap once one runs.',
    ],
  };
}
