import { fileURLToPath } from 'node:url';

const swc = (tsx) => [
  '@swc/jest',
  {
    swcrc: false,
    jsc: {
      experimental: { keepImportAttributes: true },
      target: 'es2022',
      parser: { syntax: 'typescript', tsx },
      transform: { useDefineForClassFields: true, react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
  },
];
const base = {
  testEnvironment: 'node',
  setupFiles: [fileURLToPath(new URL('scripts/properties.js', import.meta.url))],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '^.+\\.ts$': swc(false), '^.+\\.tsx$': swc(true) },
  testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'],
};

/** @type {import('jest').Config} */
export default {
  // a project's own is not heeded
  testTimeout: 60_000,
  maxWorkers: 2,
  workerIdleMemoryLimit: '700MB',
  projects: [
    ...['core', 'contract', 'demo', 'server', 'cli'].map((name) => ({ ...base, displayName: name, rootDir: name })),
    {
      ...base,
      displayName: 'web',
      rootDir: 'web',
      testEnvironment: '<rootDir>/test/env.js',
      testEnvironmentOptions: { customExportConditions: ['browser'] },
      setupFiles: [...base.setupFiles, '<rootDir>/test/setup.js'],
      setupFilesAfterEnv: ['<rootDir>/test/waits.js'],
      moduleNameMapper: {
        '\\.css$': '<rootDir>/test/empty.js',
        // a package that comes as a module for browsers only
        '^nanoid$': '<rootDir>/../node_modules/nanoid/index.browser.cjs',
      },
    },
  ],
};
