// Unit tests: core by tables and properties, stores on a real embedded database.
export default {
  testMatch: [
    '<rootDir>/packages/*/src/**/*.test.ts',
    '<rootDir>/apps/*/src/**/*.test.ts',
    '<rootDir>/apps/web/src/**/*.test.tsx',
  ],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        swcrc: false,
        jsc: {
          parser: { syntax: 'typescript', decorators: true, tsx: true },
          transform: {
            legacyDecorator: true,
            decoratorMetadata: true,
            react: { runtime: 'automatic' },
          },
          target: 'es2022',
          keepClassNames: true,
        },
        module: { type: 'es6' },
      },
    ],
  },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  // The database runs in a child process of its own, which is started from what was built.
  moduleNameMapper: {
    '^@palabra/embedded-postgres$': '<rootDir>/packages/embedded-postgres/dist/index.js',
    // A package's `.json.js` is what it says.
    '^(\\.{1,2}/.*(?<!\\.json))\\.js$': '$1',
    // Style sheets are looked at in the browser.
    '\\.css$': '<rootDir>/apps/web/src/testing/css.ts',
  },
  testEnvironmentOptions: { customExportConditions: ['@palabra/source', 'node'] },
  transformIgnorePatterns: ['/node_modules/', '/dist/'],
  setupFiles: ['reflect-metadata'],
  maxWorkers: 2,
  // What test files leave behind in a worker is gone through again and again by the garbage collector.
  workerIdleMemoryLimit: '600MB',
  testTimeout: 120_000,
};
