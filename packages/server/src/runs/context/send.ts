import type { CommandArgs, CommandName, CommandResult } from '@bichroma/contract'

/** Sends a command to the run's display or instrument. */
export type Send = <N extends CommandName>(
  name: N,
  args: Omit<CommandArgs<N>, 'serial'>,
  onProgress?: (done: number) => void,
) => Promise<CommandResult<N>>
