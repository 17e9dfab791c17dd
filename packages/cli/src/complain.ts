import { CommanderError } from 'commander'
import { BadInput, type CliIo } from './io'

/** Exit codes: fine, bad input, and a verdict that is outside. */
export const exitCodes = { fine: 0, badInput: 2, outside: 3 } as const

/** Commander's complaint as one plain line. */
const plainly = (message: string) => {
  const text = message.replace(/^error: /, '').split('\n')[0]
  return `${text[0].toUpperCase()}${text.slice(1)}${/[.!?]$/.test(text) ? '' : '.'}`
}

/** Tells what is wrong with what a person gave, in one line, and gives the exit code; other errors are thrown on. `help`: what commander had to say. */
export function complain(error: unknown, io: CliIo, help: string): number {
  if (error instanceof CommanderError) {
    if (error.exitCode === 0) return exitCodes.fine
    if (error.code === 'commander.help') {
      // No command at all, or a group without one of its own.
      io.complain(help.trimEnd())
      return exitCodes.badInput
    }
    io.complain(`bichroma: ${plainly(error.message)}`)
    return exitCodes.badInput
  }
  if (error instanceof BadInput || error instanceof RangeError) {
    io.complain(`bichroma: ${error.message}`)
    return exitCodes.badInput
  }
  throw error
}
