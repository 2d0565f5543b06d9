export * from './api.ts';
export * from './problem.ts';
