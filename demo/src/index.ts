export * from './build.ts';
export { HOUSES } from './houses.ts';
