/** What is said of whether a household may drink. */
export const DRINK_ANSWERS = ['yes', 'not-yet', 'unknown', 'no'] as const;
export type DrinkAnswer = (typeof DRINK_ANSWERS)[number];

/**
 * What they drink until then. `own`: the house's water as it came before the system, which is boiled or replaced by bottled
 * water where that water itself may not be drunk.
 */
export type Meanwhile = 'own' | 'boil' | 'bottled';

/** One thing that stands against drinking. */
interface CauseRow {
  readonly answer: Exclude<DrinkAnswer, 'yes'>;
  /** when it holds, and what ends it, for the documentation's table */
  readonly when: string;
  readonly ends: string;
  /** what is so, as firm and household read it; `{}` stands for what it is about */
  readonly is: string;
  /** what must come first, or who finds out */
  readonly first: string;
  readonly meanwhile: Meanwhile;
}

/** Everything that stands against drinking, the gravest first. */
export const DRINK_CAUSES = {
  'taken-out': {
    answer: 'no',
    when: 'the system was taken out, or the work of taking it out is begun',
    ends: 'a later version is put in; or the work is closed before its end, and the system is read again',
    is: 'The system was taken out, or is being taken out.',
    first: 'Another system is put in, or this one is put back and read.',
    meanwhile: 'own',
  },
  'boil-notice': {
    answer: 'no',
    when: 'a boil-water notice holds, for the house or its district',
    ends: 'the notice is lifted, and somebody was there since',
    is: 'A boil-water notice holds. A membrane does not disinfect, and a lamp is no way round the notice.',
    first: 'The notice is lifted, and we have sanitised the system since.',
    meanwhile: 'boil',
  },
  'microbes-found': {
    answer: 'no',
    when: 'a laboratory found microbes, in the raw water or at the tap',
    ends: 'a later sample of the same water, or of the water at the tap, is clean',
    is: 'The laboratory found microbes in the {}.',
    first: 'A later sample at this tap is found clean. Whoever is ill asks a doctor.',
    meanwhile: 'boil',
  },
  'limit-exceeded': {
    answer: 'no',
    when: 'a laboratory found something dissolved above its limit, in the raw water or at the tap',
    ends: 'a later sample of the same water, or of the water at the tap, is clean',
    is: 'The laboratory found too much in the {}.',
    first: 'A later sample at this tap is found clean. A household with a well tells its health authority.',
    meanwhile: 'bottled',
  },
  'not-disinfected': {
    answer: 'no',
    when: 'a private source with microbes in its report, and no lamp in the system',
    ends: 'a lamp is put in, or a later report of the source is clean',
    is: 'Microbes were found in this source, and nothing here disinfects.',
    first: 'The water is disinfected, and a sample after that is found clean.',
    meanwhile: 'boil',
  },
  'lead-pipe': {
    answer: 'no',
    when: 'the cold pipe is lead',
    ends: 'the pipe is replaced and the reading changed',
    is: 'The cold pipe is lead.',
    first: 'The waterworks or a plumber replaces the pipe, and a sample at this tap is read.',
    meanwhile: 'bottled',
  },
  'lamp-dark': {
    answer: 'no',
    when: 'the lamp was off or lost its power, or did not burn when it was last tried',
    ends: 'somebody was there since; for a lamp that was tried, a later proof finds it burning',
    is: 'The lamp is off, or was off.',
    first: 'The lamp burns and is warm, the tap is disinfected and run, and we have looked at it.',
    meanwhile: 'boil',
  },
  'lamp-spent': {
    answer: 'no',
    when: 'the lamp is past the hours or the date of its sheet',
    ends: 'the lamp is changed',
    is: 'The lamp is past its hours: its light may be too weak.',
    first: 'A new lamp, lit and warm.',
    meanwhile: 'boil',
  },
  'proof-failed': {
    answer: 'no',
    when: 'the last readings found too much salt let through, chlorine behind the carbon, hot feed, or too little time in carbon or light',
    ends: 'a later proof reads the same figure well',
    is: 'The last readings were not good: {}.',
    first: 'It is put right and read again, and the readings are good.',
    meanwhile: 'own',
  },
  'tastes-call': {
    answer: 'no',
    when: 'they called because it tastes or smells',
    ends: 'a proof is read after the call',
    is: 'The household called: it tastes or smells.',
    first: 'We have read it, and the readings are good.',
    meanwhile: 'own',
  },
  'leak-call': {
    answer: 'no',
    when: 'they called because of a leak: its valve is shut',
    ends: 'a proof is read after the call',
    is: 'The household called about a leak: the valve is shut.',
    first: 'We have mended it and read it.',
    meanwhile: 'own',
  },
  'no-report': {
    answer: 'unknown',
    when: 'a private source without a laboratory report',
    ends: 'a report is entered',
    is: 'No laboratory has looked at this private source.',
    first: 'A laboratory reads the raw water: microbes, nitrate, metals.',
    meanwhile: 'bottled',
  },
  adopted: {
    answer: 'unknown',
    when: 'somebody else put it in, and it was not proved since',
    ends: 'a proof is read',
    is: 'Somebody else put this in, and nobody has read what it holds back.',
    first: 'We read it: the first proof says what it does.',
    meanwhile: 'own',
  },
  'sample-old': {
    answer: 'unknown',
    when: 'the yearly sample behind the lamp is more than three months late',
    ends: 'a sample of the water at the tap is found clean',
    is: 'The last clean sample behind the lamp is more than fifteen months old.',
    first: 'A laboratory reads a new sample at this tap.',
    meanwhile: 'boil',
  },
  bleach: {
    answer: 'not-yet',
    when: 'bleach went in, and no strip has proved the rinse',
    ends: 'the strip reads no more than the feed itself, and none behind the carbon; or a later proof reads no chlorine',
    is: 'Bleach went through the system, and no strip has shown that it is out.',
    first: 'It is rinsed until a strip at the tap reads no more than the feed itself.',
    meanwhile: 'own',
  },
  work: {
    answer: 'not-yet',
    when: 'a first flush, a new version’s work or a change is in hand, with its fills and discards',
    ends: 'every step before the first glass is done and its time is over',
    is: 'Work is in hand.',
    first: 'Every step before the first glass is done.',
    meanwhile: 'own',
  },
  'left-open': {
    answer: 'not-yet',
    when: 'a change was closed with steps before the first glass left open',
    ends: 'a later change is done to its end, or a proof is read',
    is: 'The last visit was closed with steps open: {}.',
    first: 'The steps are done, or we have read it.',
    meanwhile: 'own',
  },
  frost: {
    answer: 'not-yet',
    when: 'it froze',
    ends: 'a proof is read',
    is: 'It froze: bowls crack and membranes split.',
    first: 'Every joint is looked at under pressure, and it is read again.',
    meanwhile: 'own',
  },
  'notice-lifted': {
    answer: 'not-yet',
    when: 'a boil-water notice was lifted, and nobody was there since',
    ends: 'a visit is made',
    is: 'The boil-water notice is lifted, but what came before still stands in filters and tank.',
    first: 'We change the pre-filters, sanitise the system and pour the tank away.',
    meanwhile: 'boil',
  },
  stood: {
    answer: 'not-yet',
    when: 'it stood for more than four weeks while they were away',
    ends: 'a visit is made after that',
    is: 'It stood for more than four weeks.',
    first: 'We sanitise it and change the pre-filters.',
    meanwhile: 'own',
  },
  'lamp-unsampled': {
    answer: 'not-yet',
    when: 'a lamp stands in the system, and no sample at the tap was taken since it was put in',
    ends: 'a sample at the tap is found clean',
    is: 'No sample behind the lamp has gone to a laboratory.',
    first: 'A sample at this tap is taken, and the laboratory finds it clean.',
    meanwhile: 'boil',
  },
  'lamp-awaited': {
    answer: 'not-yet',
    when: 'the sample behind the lamp was taken, and the laboratory has not answered',
    ends: 'the laboratory finds it clean',
    is: 'The sample behind the lamp is at the laboratory.',
    first: 'The laboratory answers that it is clean.',
    meanwhile: 'boil',
  },
  'feed-unproved': {
    answer: 'not-yet',
    when: 'the feed’s nitrate is above the guideline of 50 mg/L, and the system was not proved',
    ends: 'a proof is read',
    is: 'The feed holds more nitrate than the guideline, and nobody has read what the system holds back.',
    first: 'We read it, and a laboratory reads the nitrate at this tap.',
    meanwhile: 'bottled',
  },
  'not-put-in': {
    answer: 'not-yet',
    when: 'nothing stands there yet: no design is approved, or its first flush is not begun',
    ends: 'the first flush is done',
    is: 'The system is not put in yet.',
    first: 'It is put in and flushed.',
    meanwhile: 'own',
  },
} as const satisfies Record<string, CauseRow>;

export type DrinkCause = keyof typeof DRINK_CAUSES;
export const DRINK_CAUSE_CODES = Object.keys(DRINK_CAUSES) as readonly DrinkCause[];
/** The row of a cause. */
export const drinkCauseRow = (code: DrinkCause): CauseRow => DRINK_CAUSES[code];
