// What mutants are tried against: the tests that stand beside the mutated code, and of the server those of rollout.
const base = require('./jest.config.cjs')

module.exports = {
  ...base,
  // Stryker puts its own around this one, and takes none by its path.
  testEnvironment: 'node',
  testMatch: ['**/core/src/{aims,drift,rollout,review}/**/*.test.ts', '**/tests/places.test.ts'],
}
