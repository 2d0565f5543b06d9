import type { Add, RunStep } from '../facts/step.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Operating } from '../run/operate.ts';
import { ofKind, ofWork, partIn, type System } from '../system/system.ts';
import { ofChange, shutIt } from './changeSheet.ts';

/**
 * The run sheet of taking a system out for good: shut, emptied, every hole in the house's own pipes closed, what holds mercury or
 * water brought away. Its steps are called by the change, as those of any change are.
 * @param id of the change it belongs to
 */
export function takeOutSheet(id: string, system: System, rules: HouseRules, today: Operating): RunStep[] {
  const steps: RunStep[] = [];
  const add: Add = (s) => {
    const last = steps.at(-1);
    steps.push({ wets: [], of: [], needs: last ? [last.key] : [], ...s });
  };
  const step = (key: string, minutes: number, title: string, detail: string, caution?: string): void => {
    add({ key, phase: 'Change', kind: 'do', minutes, title, detail, ...(caution === undefined ? {} : { caution }) });
  };
  shutIt(add, { system, rules, today, changed: [], membranes: ofWork(system, 'separates'), feedSide: [], sanitise: false }, []);
  const tank = partIn(system, 'tank');
  if (tank)
    step('empty', 10, 'Empty the tank', 'Its valve open, the tap open until nothing comes; then its air let out at its own valve.', 'A tank holds pressure when it is empty of water: the air goes out before it is carried, and never opened.');
  if (ofKind(system, 'lamp').length > 0)
    step('lamp', 5, 'Lamp out and wrapped', 'Cooled for some minutes. Whole, in its box, to the collection point.', 'It holds mercury: never into the bin. Broken: window open, everybody out for a quarter of an hour.');
  step('out', 20, 'Tubes off, the unit out over a tray', 'Every bowl is full: it comes out upright. Tubes plugged as they come off.');
  step('feed', 10, 'Feed tee off, the stop valve as it was', 'The hose back on the stop valve with a new gasket. Where a clamp pierced the pipe: that length of pipe is cut out and joined, or a repair clamp goes over the hole.', 'A saddle clamp that is only shut leaks one day. House’s own valve shut while the pipe is open.');
  step('drain', 10, 'The hole in the drain closed', 'A plug or a repair clamp made for it, or that length of pipe replaced. Water run through the basin: dry all round.');
  step('tap', 10, 'Tap out, its hole plugged', 'A cover plate with a seal, or another tap: a hole in a worktop lets water into the cupboard.');
  add({ key: 'look', of: [], phase: 'Leave it right', kind: 'do', minutes: 10, title: 'Feed open, look at what was closed', detail: 'Stop valve open, ten minutes, dry paper towel round the hose, the plug in the drain and the tap’s hole.' });
  add({ key: 'leave', of: [], phase: 'Leave it right', kind: 'do', minutes: 10, title: 'Leave the cupboard dry, say what was done', detail: 'Cartridges and membrane are household waste where the place takes them so; housings and tubes plastic. The household looks again tomorrow and after a week.' });
  return ofChange(id, steps, []);
} // oxfmt-ignore
