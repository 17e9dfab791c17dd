const Sequencer = require('@jest/test-sequencer').default

/** By name, as the groups were written. */
module.exports = class InTurn extends Sequencer {
  sort(tests) {
    return [...tests].sort((a, b) => a.path.localeCompare(b.path))
  }
}
