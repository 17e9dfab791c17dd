import pino from 'pino'
import { storeFault } from './storeFault'

/** How much is written down. */
export const logLevels = ['silent', 'error', 'warn', 'info', 'debug'] as const
export type LogLevel = (typeof logLevels)[number]

/** The server's log: a line of JSON each on the error output, without secrets. Faults only, unless `main` says otherwise. */
export const log = pino({ level: 'error', base: null }, pino.destination({ fd: 2, sync: true }))

/** Writes down what nobody foresaw, with what was being done; a fault of the disk in one line, as it is told elsewhere. */
export function logFault(doing: string, error: unknown): void {
  const fault = storeFault(error)
  if (fault) log.error({ fault: fault.kind }, `${doing}: ${fault.sentence}`)
  else log.error({ err: error }, doing)
}
