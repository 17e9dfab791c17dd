const Sequencer = require('@jest/test-sequencer').default

/** Files that take longest, the longest first: begun last they would keep one worker waiting for the other. */
const long = [
  'runsInFull',
  'restart',
  'benchFaults',
  'kinds',
  'faults',
  'fullDisk',
  'crashes',
  'start',
  'everyWrite',
  'owned',
  'queue',
  'recipes',
  'api',
  'openapi',
  'cli',
  'hostile',
  'archive',
]

const placeOf = ({ path }) => {
  const place = long.findIndex((name) => path.endsWith(`/${name}.test.ts`))
  return place < 0 ? long.length : place
}

/** As Jest would, but for the longest, of which a fresh clone knows nothing. */
module.exports = class LongFirst extends Sequencer {
  sort(tests) {
    return [...super.sort(tests)].sort((a, b) => placeOf(a) - placeOf(b))
  }
}
