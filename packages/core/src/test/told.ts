/** Prints the largest deviation that a test found, so that the documents can quote it. */
export const told = (what: string, deviation: number): void => {
  process.stdout.write(`largest deviation, ${what}: ${deviation === 0 ? '0' : deviation.toPrecision(2)}\n`)
}
