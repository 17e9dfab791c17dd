import { Piscina } from 'piscina'
import { solverTasks, type SolverTask } from '@bichroma/core/runs'
import { threadArgs } from '../data/threadArgs'

/** Runs the heavy fits of core somewhere. */
export interface Solver {
  run<T extends SolverTask>(
    task: T,
    ...args: Parameters<(typeof solverTasks)[T]>
  ): Promise<ReturnType<(typeof solverTasks)[T]>>
  close(): Promise<void>
}

/** In the calling thread; for tests and for making history. */
export const inlineSolver: Solver = {
  run: async (task, ...args) => (solverTasks[task] as (...a: unknown[]) => never)(...args),
  close: async () => {},
}

/** In worker threads, so that the request loop stays free. `workerFile`: URL of solverWorker. */
export function threadedSolver(workerFile: string, threads = 1): Solver {
  const pool = new Piscina({
    filename: workerFile,
    minThreads: 0,
    maxThreads: threads,
    idleTimeout: 30_000,
    execArgv: threadArgs(workerFile),
  })
  return {
    run: (task, ...args) => pool.run({ task, args }),
    close: () => pool.destroy(),
  }
}
