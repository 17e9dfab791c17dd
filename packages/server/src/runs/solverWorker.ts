import { solverTasks, type SolverTask } from '@bichroma/core/runs'

/** The far end of the threaded solver: one task by name. */
export default ({ task, args }: { task: SolverTask; args: unknown[] }): unknown =>
  (solverTasks[task] as (...a: unknown[]) => unknown)(...args)
