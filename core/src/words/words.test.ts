import { describe, expect, test } from '@jest/globals';
import { assumedFigureWords, lampConditionWords, metalAfter, metalAfterWords, waterDoubtWords } from '../index.ts';

describe('what physics returns as codes', () => {
  test('is said with its figures, rounded as a person reads them', () => {
    expect(lampConditionWords({ code: 'hardness', value: 199.6 })).toBe(
      'hardness 200 mg/L is above 120: it scales the sleeve',
    );
    expect(metalAfterWords(metalAfter({ pH: 7.8, alkalinityMgL: 40, calciteSaturationIndex: -0.5 }))).toContain(
      '40 mg/L as CaCO3 is below 60',
    );
    expect(metalAfterWords(metalAfter({ pH: 6.21, alkalinityMgL: 80, calciteSaturationIndex: 0 }))).toContain(
      'pH 6.2 is below 7',
    );
    expect(waterDoubtWords({ code: 'imbalance', percent: 7.1234, closed: false })).toContain('differ by 7.12 %');
    expect(waterDoubtWords({ code: 'much-co2', pH: 5.5, co2MgL: 212.4 })).toContain('212 mg/L CO2');
  });
  test('a pH nobody read names the source it is usual in, other figures do not', () => {
    expect(assumedFigureWords({ field: 'pH', value: 7.6, why: 'usual-in-source' }, 'mains')).toBe(
      'usual in such a source (mains)',
    );
    expect(assumedFigureWords({ field: 'SiO2', value: 8, why: 'usual-in-source' }, 'mains')).toBe(
      'usual in such a source',
    );
  });
});
