import { DRINK_CAUSE_CODES, drinkCauseRow, MEANWHILE_WORDS, type DrinkAnswer } from '@katharos/core';

const ANSWERS: Readonly<Record<Exclude<DrinkAnswer, 'yes'>, string>> = {
  no: 'no',
  unknown: 'unknown',
  'not-yet': 'not yet',
};
const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** Every case of the judgement of drinking as the table of the documentation, the gravest first. */
export const drinkingTable = (): string =>
  [
    '| When | Answer | What they read | What must come first | Until then | Ended by |',
    '| --- | --- | --- | --- | --- | --- |',
    ...DRINK_CAUSE_CODES.map((code) => {
      const { when, answer, is, first, meanwhile, ends } = drinkCauseRow(code);
      return `| ${[capital(when), ANSWERS[answer], is.replace('{}', '…'), first, MEANWHILE_WORDS[meanwhile].replace('Until then: ', ''), capital(ends)].join(' | ')} |`;
    }),
    '| Nothing of the above | yes | You may drink it now. | | | Any of the above |',
  ].join('\n'); // oxfmt-ignore

const BEGIN = '<!-- table of cases: npm run examples -->';
const END = '<!-- end of the table -->';

/** The page of the documentation with the table as it is now. @param page as it stands */
export function drinkingPage(page: string): string {
  const [before = ''] = page.split(BEGIN);
  const [, after = ''] = page.split(END);
  return `${before}${BEGIN}\n\n${drinkingTable()}\n\n${END}${after}`;
}
