export * from './archive.ts';
export * from './api.ts';
export * from './problem.ts';
export * from './roles.ts';
export * from './signing.ts';
