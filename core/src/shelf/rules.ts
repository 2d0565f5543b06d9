import { z } from 'zod';

/** The firm's choices where practice differs, each read from shelf/house-rules.json. */
export const HouseRulesSchema = z.object({
  firm: z.string().min(1).max(120),
  /** drinking and cooking for one person, L/day */
  litresPerPersonDay: z.number().min(0.5).max(20),
  /** daily output wanted as a multiple of the need, in the worst season */
  spareCapacity: z.number().min(1).max(5),
  /** a limiting valve goes in where the highest pressure exceeds this or a part's own limit, bar */
  limiterAboveBar: z.number().min(3).max(8),
  /** flow at the tap below which a tank counts as empty, L/min */
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
  tapeTurns: z.number().int().min(2).max(15),
  /** meter error taken where an instrument states none, share of the reading */
  meterError: z.number().min(0.005).max(0.2),
});
export type HouseRules = z.infer<typeof HouseRulesSchema>;
