import { kindRow } from '../parts/kinds.ts';
import { alongTheWater, jointId, ofWork, portsOf, type System } from './system.ts';

/** What must come before what, wherever both are, and why. */
const ORDER: readonly (readonly [string, string, string])[] = [
  ['sediment', 'carbon', 'Sediment protects the carbon: it comes first.'],
  ['sediment', 'iron', 'Sediment protects the iron cartridge: it comes first.'],
  ['iron', 'carbon', 'Iron clogs the carbon: it is taken out before it.'],
  ['carbon', 'membrane', 'Carbon protects the membrane: it comes first.'],
  ['limiter', 'sediment', 'A limiting valve protects the housings: it comes first.'],
  ['gauge', 'membrane', 'The gauge point reads the pressure before the membrane.'],
  ['membrane', 'non-return', 'The non-return valve belongs on the product.'],
  ['non-return', 'tank-tee', 'The non-return valve keeps the tank’s push off the membrane: it comes before the tank.'],
  ['sample', 'mineral', 'The sample port comes before the minerals.'],
  ['vented-tank', 'tank-pump', 'The pump of a vented tank draws from it: it comes after.'],
  ['tank-pump', 'polish', 'The polishing carbon comes after the tank’s pump.'],
  ['tank-tee', 'polish', 'The polishing carbon comes after the tank.'],
  ['polish', 'mineral', 'Minerals come after the polishing carbon.'],
  ['membrane', 'lamp', 'A lamp wants clear, soft water: it comes after the membrane.'],
  ['carbon', 'lamp', 'A lamp wants clear water: it comes after the carbon.'],
  ['polish', 'lamp', 'The lamp comes last, so that nothing after it grows.'],
  ['lamp', 'branch', 'What goes to the fridge passes the lamp too.'],
];

/** What a system with a membrane must have, and why. */
const WITH_MEMBRANE: readonly (readonly [string, string])[] = [
  ['restrictor', 'Without a restrictor all water leaves by the drain.'],
  ['drain', 'The concentrate has nowhere to go.'],
  ['sample', 'Without a sample port before the minerals Prove reads the wrong water.'],
  ['gauge', 'Without a gauge point before the membrane Prove guesses the pressure.'],
];

/** What is not legal in a system, in words; an empty list says that it holds. */
export function systemFaults(system: System): string[] {
  const faults: string[] = [];
  const water = alongTheWater(system);
  const at = (kind: string): number => water.findIndex((c) => c.kind === kind);
  for (const [a, b, why] of ORDER) if (at(a) >= 0 && at(b) >= 0 && at(a) > at(b)) faults.push(why);
  if (at('vented-tank') >= 0 && at('tank-pump') < 0)
    faults.push('Nothing lifts the water out of a vented tank: it wants a pump of its own.');
  if (ofWork(system, 'opens').length === 0) faults.push('There is no tap.');
  if (ofWork(system, 'separates').length > 0) {
    for (const [kind, why] of WITH_MEMBRANE) if (at(kind) < 0) faults.push(why);
    if (ofWork(system, 'shuts').length + ofWork(system, 'switches').length === 0)
      faults.push('Nothing stops the water when no more is wanted.');
  }
  return [...faults, ...misplaced(system), ...loosePorts(system)];
}

/** Parts of another kind than their place wants, and places without the part they want. */
function misplaced(system: System): string[] {
  return system.components.flatMap((c) => {
    const { partKind, label } = kindRow(c.kind);
    const has = c.part?.kind ?? null;
    if (has === partKind) return [];
    return [
      has === null
        ? `The ${label} (${c.id}) has no part.`
        : `In the place of the ${label} (${c.id}) stands another kind of part.`,
    ];
  });
}

/** Ports that nothing reaches, links that lead nowhere, and ports that two links share. */
function loosePorts(system: System): string[] {
  const faults: string[] = [];
  const used = new Map<string, number>();
  const byId = new Map(system.components.map((c) => [c.id, c]));
  for (const l of system.links)
    for (const end of [l.from, l.to]) {
      const c = byId.get(end.component);
      const has = c && (portsOf(c).some((p) => p.name === end.port) || (c.kind === 'membrane' && end.port === 'out'));
      if (!has) faults.push(`A tube leads to ${end.component}, ${end.port}, which is not there.`);
      used.set(jointId(end), (used.get(jointId(end)) ?? 0) + 1);
    }
  for (const c of alongTheWater(system)) {
    const ports = portsOf(c).map((p) => jointId({ component: c.id, port: p.name }));
    if (kindRow(c.kind).chain !== 'stands' && c.kind !== 'stop-valve' && !ports.some((p) => used.has(p)))
      faults.push(`No tube reaches the ${c.slot}.`);
    if (ports.some((p) => (used.get(p) ?? 0) > 1)) faults.push(`Two tubes share a port of the ${c.slot}.`);
  }
  return faults;
}
