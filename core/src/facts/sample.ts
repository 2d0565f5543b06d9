/** Which water a sample is of. */
export const SAMPLED_WATERS = ['raw', 'product'] as const;
export type SampledWater = (typeof SAMPLED_WATERS)[number];

/** What a laboratory is asked for. */
export const SOUGHT = ['microbes', 'minerals', 'organics'] as const;
export type Sought = (typeof SOUGHT)[number];

/** What a laboratory found. */
export const FINDINGS = ['clean', 'not-clean'] as const;
export type Finding = (typeof FINDINGS)[number];

/** The step of a run sheet that takes the sample behind a lamp, by the end of its key. */
export const LAMP_SAMPLE_STEP = 'lamp-sample';
