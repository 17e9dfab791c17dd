// Unit tests stand beside what they test, those over several packages in tests/. swc strips the types, tsc checks them.
const swc = (tsx) => [
  '@swc/jest',
  {
    jsc: { parser: { syntax: 'typescript', tsx }, target: 'es2022', transform: { react: { runtime: 'automatic' } } },
    module: { type: 'commonjs' },
  },
]

// Servers that tests start make backups where a test asks for them.
process.env.BICHROMA_BACKUP_HOURS ??= '0'

module.exports = {
  testEnvironment: '<rootDir>/tests/nodeEnvironment.cjs',
  roots: ['<rootDir>/packages', '<rootDir>/tests'],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  transform: { '^.+\\.[jt]s$': swc(false), '^.+\\.tsx$': swc(true) },
  transformIgnorePatterns: ['/node_modules/(?!(@noble|@seriousme|culori|plist|react-hotkeys-hook)/)'],
  moduleNameMapper: {
    '\\.css$': '<rootDir>/tests/noStyles.cjs',
    // The icons ask for these modules by their folder.
    '^@ant-design/colors/es/(.*)$': '<rootDir>/node_modules/@ant-design/colors/lib/$1',
    // It has an entry for imports only.
    '^plist$': '<rootDir>/node_modules/plist/dist/index.js',
  },
  // Looked up once and not at every use: the sandbox makes that several times slower.
  sandboxInjectedGlobals: ['Math', 'Number', 'Float64Array'],
  // A seventh of a test is waiting.
  maxWorkers: 3,
  globalSetup: '<rootDir>/tests/shelf.cjs',
  globalTeardown: '<rootDir>/tests/clearShelf.cjs',
  testSequencer: '<rootDir>/tests/longFirst.cjs',
  testTimeout: 300000,
}
