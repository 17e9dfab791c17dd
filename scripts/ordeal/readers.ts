import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { readReadings } from '@bichroma/core/formats'
import { largeTexts } from './largeTexts'

const megabyte = 1_000_000

setFlagsFromString('--expose-gc')
const tidy = runInNewContext('gc') as () => void

/** Best of five, ms, each in a tidy heap: what a busy machine adds is no fault of the reader. */
function time(text: string): number {
  let best = Infinity
  for (let n = 0; n < 5; n++) {
    tidy()
    const started = performance.now()
    try {
      readReadings(text)
    } catch {
      // Most are refused; what counts is how soon.
    }
    best = Math.min(best, performance.now() - started)
  }
  return best
}

/** How long the reader of readings takes for files of one, two and four megabytes. */
export const readerTimes = () =>
  Object.entries(largeTexts).map(([what, make]) => ({
    what,
    onceMs: time(make(megabyte)),
    twiceMs: time(make(2 * megabyte)),
    fullMs: time(make(4 * megabyte)),
  }))
