import { Piscina } from 'piscina'
import { threadArgs } from '../data/threadArgs'
import { Refusal } from './problem'

/** Work that may take its time: a function by its name among the thread's tasks, of and to what can be copied. */
type Task<A extends readonly unknown[], R> = (...args: A) => R | Promise<R>

/** Carries out what takes over 20 ms, so that the request loop stays free. */
export interface Threads {
  /** Throws what the task throws; Refusal when it takes too long, too much memory, or too many wait already. */
  run<A extends readonly unknown[], R>(task: Task<A, R>, ...args: A): Promise<R>
  close(): Promise<void>
}

/** In the calling thread; for tests and for making history. */
export const inlineThreads: Threads = {
  run: async (task, ...args) => task(...args),
  close: async () => {},
}

/** Tasks that may wait while one is carried out. */
const mostWaiting = 64
/** Wall time that one task may take, and wait for its turn, ms, unless it is given; and memory, MB. */
const usualMs = 120_000
const mostMemory = 1024

/** What of a thread's end is nobody's fault here, as people are told it. */
function refusalOf(error: unknown): Refusal | null {
  const { code, name } = error as { code?: string; name?: string }
  if (name === 'AbortError' || name === 'TimeoutError')
    return new Refusal('too-large', 'That would take longer than two minutes. Ask for less at once.')
  if (code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new Refusal('too-large', 'That would take more memory than there is for it. Ask for less at once.')
  return null
}

/** In one thread beside the request loop. `workerFile`: URL of threadWorker; `longestMs` may be Infinity. */
export function workerThreads(workerFile: string, { longestMs = usualMs } = {}): Threads {
  const pool = new Piscina({
    filename: workerFile,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: mostMemory },
    execArgv: threadArgs(workerFile),
  })
  let closing = false
  const stopped = () =>
    new Refusal(
      'unavailable',
      'The server is being stopped, and what was asked for with it. Ask again once it is back.',
    )
  const tooMuch = () =>
    new Refusal('too-many', 'Too much is being worked out at this moment. Wait a minute and try again.')
  /** One after another: the pool’s own line has no end for tasks that may be broken off. */
  let last: Promise<unknown> = Promise.resolve()
  let asked = 0
  const carryOut = async (task: string, args: readonly unknown[], askedAt: number) => {
    if (closing) throw stopped()
    // Whoever asked has most likely left.
    if (performance.now() - askedAt > longestMs) throw tooMuch()
    try {
      return await pool.run({ task, args }, longestMs < Infinity ? { signal: AbortSignal.timeout(longestMs) } : {})
    } catch (error) {
      throw closing ? stopped() : (refusalOf(error) ?? error)
    }
  }
  return {
    run: async (task, ...args) => {
      if (closing) throw stopped()
      if (asked > mostWaiting) throw tooMuch()
      asked++
      const askedAt = performance.now()
      const done = last.then(() => carryOut(task.name, args, askedAt)).finally(() => asked--)
      last = done.catch(() => null)
      return done
    },
    close: () => {
      closing = true
      return pool.destroy()
    },
  }
}
