const base = require('./jest.config.cjs')

// What mutants are tried against (scripts/mutants.mjs). Each mistake loads all of these anew.
module.exports = {
  ...base,
  // Stryker puts its own around this one, and takes none by its path.
  testEnvironment: 'node',
  setupFilesAfterEnv: process.env.MUTANTS_LONG ? [] : ['<rootDir>/tests/withoutLong.cjs'],
  testMatch: (process.env.MUTANTS_TESTS ?? 'packages/core/src/**/*.test.ts')
    .split(',')
    .map((tests) => `<rootDir>/${tests}`),
  // The workspace's packages are links out of the sandbox, to code without mistakes.
  moduleNameMapper: {
    ...base.moduleNameMapper,
    '^@bichroma/(\\w+)$': '<rootDir>/packages/$1/src/index.ts',
    '^@bichroma/core/(\\w+)$': '<rootDir>/packages/core/src/$1/index.ts',
  },
}
