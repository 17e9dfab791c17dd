// The tests of jest.config.cjs, many files in one sandbox: each sandbox loads antd, Yup's schemas and Jest's own parts anew.
const base = require('./jest.config.cjs')

require('./tests/together.cjs')()

module.exports = {
  ...base,
  roots: [...base.roots, '<rootDir>/build/together'],
  testMatch: ['<rootDir>/build/together/*.test.cjs'],
  testSequencer: '<rootDir>/tests/inTurn.cjs',
  maxWorkers: 4,
}
