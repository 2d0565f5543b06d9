import { fileURLToPath } from 'node:url';

const file = (name) => fileURLToPath(new URL(`scripts/jest/${name}`, import.meta.url));
const base = {
  globalSetup: file('bundle.js'),
  testEnvironment: file('environment.js'),
  setupFiles: [file('properties.js')],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '\\.tsx?$': file('transform.js') },
  testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'],
};

/** @type {import('jest').Config} */
export default {
  // a project's own is not heeded
  testTimeout: 60_000,
  maxWorkers: 2,
  workerIdleMemoryLimit: '1400MB',
  projects: [
    ...['core', 'contract', 'demo', 'server', 'cli'].map((name) => ({
      ...base,
      displayName: name,
      rootDir: name,
      setupFiles: [],
      testRunner: file('native.js'),
    })),
    {
      ...base,
      displayName: 'web',
      rootDir: 'web',
      testEnvironment: '<rootDir>/test/env.js',
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
