import { formatReading, type Part, type PartKind } from '@katharos/core';

/** Kinds of parts in the trade's words. */
export const KIND_WORDS: Readonly<Record<PartKind, string>> = {
  element: 'element',
  tank: 'tank',
  'vented-tank': 'vented tank',
  dispenser: 'dispenser',
  restrictor: 'restrictor',
  pump: 'booster pump',
  'permeate-pump': 'permeate pump',
  mineral: 'minerals',
  sediment: 'sediment',
  carbon: 'carbon',
  iron: 'iron cartridge',
  lamp: 'ultraviolet lamp',
  'delivery-pump': 'delivery pump',
  solenoid: 'electric valve',
  polish: 'polishing',
  'shut-off': 'shut-off',
  'non-return': 'non-return valve',
  limiter: 'limiting valve',
  feed: 'feed connection',
  drain: 'drain',
  tap: 'tap',
  tube: 'tube',
  frame: 'frame',
  transformer: 'transformer',
  housing: 'housing',
  sample: 'sample port',
  gauge: 'gauge point',
  'tank-tee': 'tank tee',
  branch: 'branch tee',
  'leak-valve': 'leak valve',
  backflow: 'backflow valve',
};

/** The figures that tell a part from others of its kind, with their conditions. */
export function summaryOf(p: Part): string {
  const n = formatReading;
  switch (p.kind) {
    case 'element': {
      const t = p.rating.test;
      return `${n(p.rating.permeateLDay, 4)} L/day, ${n(100 * p.rating.rejection, 3)} % at ${n(t.pressureBar, 2)} bar, ${n(t.temperatureC, 2)} °C, ${n(t.tdsMgL, 3)} mg/L`;
    }
    case 'tank':
      return `${n(p.volumeL, 3)} L, charged to ${n(p.airChargeBar, 2)} bar`;
    case 'vented-tank':
      return `${n(p.volumeL, 3)} L to its float, which opens ${n(p.floatDropL, 2)} L lower`;
    case 'dispenser':
      return `fills from ${n(p.minInletBar, 2)} bar at ${n(p.fillLMin, 2)} L/min, ${n(p.coldL, 2)} L cold, ${n(p.hotL, 2)} L hot, ${n(p.powerW, 3)} W`;
    case 'restrictor':
      return `${p.flow.kind}, ${n(p.flow.flowLDay, 4)} L/day at ${n(p.flow.atBar, 2)} bar, ${n(p.flow.atC, 2)} °C`;
    case 'pump':
      return `lifts ${n(p.curve.maxBoostBar, 2)} bar, up to ${n(p.curve.maxFlowLMin, 2)} L/min, stops at ${n(p.closeBar, 2)} bar, ${n(p.powerW, 2)} W`;
    case 'delivery-pump':
      return `lifts ${n(p.boostBar, 2)} bar, ${n(p.powerW, 2)} W`;
    case 'permeate-pump':
      return `${n(100 * p.backShare, 2)} % of the tank’s push left, closes at ${n(100 * p.closeRatio, 2)} %`;
    case 'shut-off':
      return `closes at ${n(100 * p.closeRatio, 2)} % of the line’s pressure, reopens at ${n(100 * p.reopenRatio, 2)} %`;
    case 'mineral':
      return `${p.contents}, ${n(p.barPerLMin, 2)} bar at 1 L/min`;
    case 'carbon':
      return `holds ${p.holds}${p.bed ? `, ${p.bed.form}, ${n(p.bed.litres, 2)} L` : ''}, ${n(p.barPerLMin, 2)} bar at 1 L/min`;
    case 'iron':
      return `up to ${n(p.maxIronMgL, 2)} mg/L, holds ${n(p.holdsIronMg / 1000, 2)} g`;
    case 'lamp':
      return `${n(p.lamp.ratedDoseMJcm2, 2)} mJ/cm² at ${n(p.lamp.ratedFlowLMin, 2)} L/min, ${n(p.powerW, 2)} W`;
    case 'sediment':
    case 'polish':
      return `${n(p.barPerLMin, 2)} bar at 1 L/min`;
    case 'limiter':
      return `set to ${n(p.setBar, 2)} bar`;
    case 'tube':
      return `bore ${n(p.boreMm, 2)} mm, outside ${n(p.outsideMm, 3)} mm`;
    case 'tap':
      return `${p.airGap ? 'with air gap, ' : ''}hole ${n(p.holeMm, 3)} mm`;
    case 'feed':
      return p.way;
    case 'drain':
      return `${{ clamp: 'clamp on the waste pipe', spigot: 'on the trap’s spigot', standpipe: 'into a stand-pipe, with an air gap' }[p.way ?? 'clamp']}, ${p.ports[0]?.size ?? ''}`;
    case 'transformer':
      return `${n(p.volts, 2)} V`;
    case 'backflow':
      return `takes ${n(p.barLoss, 2)} bar`;
    default:
      return p.fitting ?? '';
  }
}
