require('./compiledOnce.cjs')

module.exports = require('jest-environment-node').TestEnvironment
