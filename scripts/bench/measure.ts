/** Work to be timed; what it gives back is kept so that it cannot be left out. */
type Work = () => unknown

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

let kept: unknown

function timed(work: Work): number {
  const started = performance.now()
  kept = work()
  return performance.now() - started
}

export interface Timing {
  /** Median, ms. */
  readonly ms: number
  /** Turn by turn, ms. */
  readonly turns: readonly number[]
}

/** How many times as long the one took as the other, median over the turns: a slow spell hits both of a turn. */
export const timesAsLong = (slow: Timing, fast: Timing): number => median(slow.turns.map((ms, i) => ms / fast.turns[i]))

/**
 * Times rivals turn by turn, so that a slow spell of the machine hits all of them, and gives the median of each in ms.
 * One turn before those that count warms everything up.
 */
export function race(rivals: Readonly<Record<string, Work>>, rounds = 7): Record<string, Timing> {
  const names = Object.keys(rivals)
  const times = Object.fromEntries(names.map((n) => [n, [] as number[]]))
  for (let round = -1; round < rounds; round++)
    for (const name of names) {
      const ms = timed(rivals[name])
      if (round >= 0) times[name].push(ms)
    }
  if (kept === times) throw new Error('never')
  return Object.fromEntries(names.map((n) => [n, { ms: median(times[n]), turns: times[n] }]))
}

/** Largest difference of two rows of numbers. */
export function largestDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let worst = 0
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]))
  return worst
}

const failures: string[] = []

/** Prints one line of the report, and remembers when a figure misses what was asked. */
export function report(what: string, figure: string, asked: string, met: boolean): void {
  console.log(`${met ? 'ok  ' : 'MISS'}  ${what.padEnd(64)} ${figure.padStart(26)}   asked: ${asked}`)
  if (!met) failures.push(what)
}

export const note = (text: string): void => console.log(`      ${text}`)

/** Ends the process with 1 when a figure was missed. */
export function finish(): void {
  console.log(failures.length ? `\nMissed: ${failures.join('; ')}` : '\nEvery figure is met.')
  process.exitCode = failures.length ? 1 : 0
}
