export type { DemoJob } from './job.ts';
export * from './build.ts';
export { HOUSES } from './houses.ts';
export { demoInstruments } from './instruments.ts';
export { demoDayTable } from './dayTable.ts';
export { demoStock } from './stock.ts';
export { shippedFirm } from './firm.ts';
