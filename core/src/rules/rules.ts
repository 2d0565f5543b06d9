import * as z from 'zod';
import { text } from '../words/stored.ts';

/** The firm's choices where practice differs, each read from shelf/house-rules.json. */
export const HouseRulesSchema = z.object({
  firm: text(120).min(1),
  /** where the firm is reached, on all that is printed */
  firmPhone: text(60).default(''),
  /** drinking and cooking for one person, L/day */
  litresPerPersonDay: z.number().min(0.5).max(20),
  /** daily output wanted as a multiple of the need, in the worst season */
  spareCapacity: z.number().min(1).max(5),
  /** a limiting valve goes in where the highest pressure exceeds this or a part's own limit, bar */
  limiterAboveBar: z.number().min(3).max(8),
  /** without a pump nothing is put in below this pressure at the worst hour; 0 leaves it to the computation, bar */
  unpumpedMinBar: z.number().min(0).max(5).default(0),
  /** whether water is stored in a tank or made while it is drawn */
  store: z.enum(['either', 'tank', 'direct']).default('either'),
  /** flow at the tap below which a tank counts as empty, and which a system without a tank must give, L/min */
  wantedTapFlowLMin: z.number().min(0.2).max(4),
  /** product in the tank above this is not accepted, mg/L */
  productTdsMaxMgL: z.number().min(20).max(600),
  /** tanks poured away before drinking */
  discards: z.number().int().min(1).max(3),
  overnightStand: z.boolean(),
  sanitise: z.boolean(),
  bleachDoseMgL: z.number().min(20).max(200),
  bleachStrengthPercent: z.number().min(1).max(15),
  tankValveAtStart: z.enum(['shut', 'open']),
  flushPreFilters: z.enum(['stage', 'together']),
  flushStageMinutes: z.number().min(1).max(30),
  feedConnection: z.enum(['tee', 'clamp']),
  drainRun: z.enum(['vertical', 'horizontal']),
  /** whether the dishwasher’s spigot on the trap may take the drain */
  drainSpigot: z.boolean().default(false),
  /** a valve against backflow on the feed, as the local code asks */
  backflow: z.boolean().default(false),
  /** the hole in the waste pipe: drilled first, or through the clamp once it is on */
  drainDrill: z.enum(['first', 'through-clamp']).default('first'),
  /** ultraviolet lamp: powered once it stands full of water, or before */
  lampPowered: z.enum(['full', 'before']).default('full'),
  /** carbon is flushed this long after a change of cartridge, min */
  changeFlushMinutes: z.number().min(2).max(30).default(5),
  tapeTurns: z.number().int().min(2).max(15),
  /** calcite index borne in the concentrate at the wall; see treatment/scaling.ts */
  calciteIndexMax: z.number().min(0).max(2).default(1),
  /** what the firm leans to where several designs do; see size/judge/weights.ts */
  worth: z.enum(['even', 'sparing', 'plain', 'quick', 'small']).default('even'),
  /** points within which one design is as good as another */
  indifference: z.number().min(0).max(10).default(2),
  /** feed and waste water together, the firm's money per m3 */
  waterPerM3: z.number().min(0).max(100).default(3.6),
  powerPerKWh: z.number().min(0).max(5).default(0.32),
  currency: text(12).min(1).default('crowns'),
  /** meter error taken where an instrument states none, share of the reading */
  meterError: z.number().min(0.005).max(0.2),
  /** an hour of work or of driving, the firm's money; 0 leaves time off the bills */
  hourPrice: z.number().min(0).max(10000).default(0),
  /** a device that the server has not heard for so long forgets the firm */
  deviceDays: z.number().int().min(1).max(120).default(30),
});
export type HouseRules = z.infer<typeof HouseRulesSchema>;
