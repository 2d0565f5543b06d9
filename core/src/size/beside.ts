import type { Decision } from './decide.ts';
import { provisionalFor, remediesFor, type Provisional, type Remedy } from './explain/remedies.ts';
import { softeningFor, type SofteningAdvice } from './explain/softening.ts';
import { bandsOf, type Bands } from './judge/bands.ts';
import { studyDesign, type DesignStudy } from './judge/study.ts';
import { turnsOf, type Turns } from './judge/turns.ts';
import type { SizeInput } from './kinds/candidates.ts';
import { ventedBeside, worthOf, type Vented } from './kinds/vented.ts';

/** What is told beside a decision and takes longer than the decision itself; left out what its kind does not ask. */
export interface ToldBeside {
  /** which reading would change it and where; null where the house is not known */
  readonly study?: DesignStudy | null;
  /** what nobody has asked yet and would change it */
  readonly turns?: Turns;
  readonly bands?: Bands | null;
  /** null where the water is soft */
  readonly softening?: SofteningAdvice | null;
  /** what would do stored otherwise; null where nothing would */
  readonly vented?: Vented | null;
  /** what would make something fit */
  readonly remedies?: readonly Remedy[];
  /** what would do if a water that is referred comes back clean */
  readonly provisional?: Provisional | null;
}

/**
 * Works out what is told beside a decision: what it hangs on, and what else would do.
 * @param input the house as it was decided
 * @param errors what its instruments say of theirs, for what is told of single readings
 */
export function tellBeside(input: SizeInput, d: Decision, errors = input.errors): ToldBeside {
  const read = { ...input, errors };
  switch (d.kind) {
    case 'recommendation': {
      const { design } = d.chosen;
      return {
        study: studyDesign(read, design, d.contenders, d.risk),
        turns: turnsOf(input, design, d.contenders, d.risk),
        bands: bandsOf(read, design),
        softening: softeningFor(input, design),
        vented: ventedBeside(input, design, worthOf(d)),
      };
    }
    case 'nothing-fits':
      return { turns: turnsOf(input, null), remedies: remediesFor(read, d.because) };
    case 'referral':
      return { provisional: provisionalFor(read) };
    default:
      return {};
  }
}
