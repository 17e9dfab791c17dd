import { storeFault } from './storeFault'

/** Writes down what nobody foresaw, with what was being done; a fault of the disk in one line, as it is told elsewhere. */
export function logFault(doing: string, error: unknown): void {
  const fault = storeFault(error)
  if (fault) console.error(`${doing}: ${fault.sentence}`)
  else console.error(`${doing}:`, error)
}
