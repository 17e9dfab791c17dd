/** Builds the programs that are missing or older than what they are made of. */
export function buildPrograms(): Promise<void>
