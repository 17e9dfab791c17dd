const base = require('./jest.config.cjs')

// What mutants are tried against: the tests that stand beside the mutated code. Each mistake loads all of these anew.
module.exports = {
  ...base,
  // Stryker puts its own around this one, and takes none by its path.
  testEnvironment: 'node',
  setupFilesAfterEnv: ['<rootDir>/tests/withoutLong.cjs'],
  testMatch: [`**/core/src/${process.env.MUTANTS_OF ?? '{aims,drift,rollout}'}/**/*.test.ts`],
}
