import {
  instrumentError,
  proofField,
  readsOf,
  type Instrument,
  type OwnErrors,
  type ProofKey,
  type ProofReadings,
  type SystemView,
} from '@katharos/core';

const PEN_READS: readonly ProofKey[] = ['feedTdsMgL', 'productTdsMgL', 'secondPenMgL', 'firstGlassMgL'];

/** Meters of the firm that answer over the wire and read a field; those named among the instruments in hand first. */
export function metersFor(key: ProofKey, instruments: readonly Instrument[], inHand: string): Instrument[] {
  const { kind } = proofField(key);
  const able = instruments.filter(
    (i) =>
      i.retired !== true &&
      i.address !== null &&
      readsOf(i, kind) !== undefined &&
      // of what is dissolved a pen shows the whole, of chlorine nothing
      (kind !== 'concentration' || (i.what === 'pen') === PEN_READS.includes(key)),
  );
  const named = able.filter((i) => inHand.toLowerCase().includes(i.name.toLowerCase()));
  // a second pen is one that is not in hand already
  if (key === 'secondPenMgL') return able.filter((i) => !named.includes(i));
  return named.length > 0 ? named : able;
}

/** What a field should read here, base unit: where a stand-in is held into. */
export function expectedFor(key: ProofKey, { today, site }: SystemView): number | null {
  const { out, inletBar } = today.middle;
  const at: Partial<Record<ProofKey, number>> = {
    feedTdsMgL: site.tdsMgL,
    productTdsMgL: out.permeateTdsMgL,
    temperatureC: site.todayC,
    membranePressureBar: inletBar,
    productFlowLMin: out.permeateLDay / 1440,
    concentrateFlowLMin: out.concentrateLDay / 1440,
    feedPressureBar: site.staticBar,
    tapFlowLMin: today.tapFlowLMin,
  };
  return at[key] ?? null;
}

/** The instruments in hand with one more. */
export function withMeter(inHand: string, name: string): string {
  if (inHand.toLowerCase().includes(name.toLowerCase())) return inHand;
  return inHand.trim() === '' ? name : `${inHand}, ${name}`;
}

/** Near what a product reads, mg/L: a pen's error as a share is told there. */
const TOLD_AT_MGL = 100;

/** A pen's own error as a share of what it reads, where one is named that the firm knows; else the house rule's. */
export function penError(instruments: readonly Instrument[], inHand: string, usual: number): number {
  const named = instruments.filter((i) => i.what === 'pen' && inHand.toLowerCase().includes(i.name.toLowerCase()));
  const errors = named.flatMap((i) => instrumentError(i, 'concentration', TOLD_AT_MGL) ?? []);
  return errors.length > 0 ? Math.max(...errors) / TOLD_AT_MGL : usual;
}

/** The errors readings are judged with: a pen's as a share, and of other readings those whose instrument is known, base units. */
export interface MeterErrors {
  readonly meterError: number;
  readonly own: OwnErrors;
}

/**
 * The errors of the instruments in hand at what they read: each that the firm knows brings its own, the coarsest of several.
 * @param usual a pen's error as a share where none is named
 */
export function meterErrors(
  instruments: readonly Instrument[],
  inHand: string,
  readings: ProofReadings,
  usual: number,
): MeterErrors {
  const named = instruments.filter((i) => i.what !== 'pen' && inHand.toLowerCase().includes(i.name.toLowerCase()));
  const own: OwnErrors = {};
  for (const [key, value] of Object.entries(readings) as [ProofKey, number][]) {
    const { kind } = proofField(key);
    const errors = PEN_READS.includes(key) ? [] : named.flatMap((i) => instrumentError(i, kind, value) ?? []);
    if (errors.length > 0) own[key] = Math.max(...errors);
  }
  return { meterError: penError(instruments, inHand, usual), own };
}
