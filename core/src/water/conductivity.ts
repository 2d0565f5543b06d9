import { scaled, type Composition } from './composition.ts';
import { sumAmounts } from './species.ts';

const { abs, sqrt } = Math;

/**
 * Conductivity at 25 C from the ions: Kohlrausch's limiting conductances, each lowered as Onsager's law with an ion-size
 * term has it: l = l0 - (0.2289 |z| w l0 + 30.16 |z|) I^0.5 / (1 + 1.3 I^0.5), w the mean charge of the other sign
 * (Robinson & Stokes 1959, ch. 7). KCl 0.01 mol/L gives 1413, NaCl 1000 mg/L 1990 uS/cm.
 * @param water ionic strength up to 0.1 mol/L within 3 %
 * @returns uS/cm
 */
export function conductivityUSCm(water: Composition): number {
  const root = sqrt(water.ionicStrengthMolL);
  const damp = root / (1 + 1.3 * root);
  const mean = (sign: 1 | -1): number => {
    const charge = sumAmounts(water.molL, (c, x) => (x.charge * sign > 0 ? c * x.charge ** 2 : 0));
    const number = sumAmounts(water.molL, (c, x) => (x.charge * sign > 0 ? c * abs(x.charge) : 0));
    return number > 0 ? charge / number : 1;
  };
  const cation = mean(1);
  const anion = mean(-1);
  return sumAmounts(water.molL, (c, x) => {
    const z = abs(x.charge);
    if (z === 0) return 0;
    const w = x.charge > 0 ? anion : cation;
    const l = x.conductance - (0.2289 * z * w * x.conductance + 30.16 * z) * damp;
    return c * z * Math.max(0, l) * 1000;
  });
}

/**
 * TDS of a water of this make-up that shows a conductivity at 25 C: the make-up is thinned or thickened until it does.
 * @param makeUp any amount of it, not empty
 * @param uSCm 0 to 60 000
 * @returns mg/L
 */
export function tdsFromConductivity(makeUp: Composition, uSCm: number): number {
  let factor = uSCm / Math.max(1e-9, conductivityUSCm(makeUp));
  for (let n = 0; n < 60; n++) {
    const is = conductivityUSCm(scaled(makeUp, factor));
    const next = factor * (is > 0 ? uSCm / is : 1);
    const done = abs(next - factor) <= 1e-12 * factor;
    factor = next;
    if (done) break;
  }
  return makeUp.tdsMgL * factor;
}
