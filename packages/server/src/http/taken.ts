import { Refusal } from './problem'

/** What columns that must be unique are called in a sentence. */
const columnWords: Readonly<Record<string, string>> = { name: 'name', serial: 'serial number', login: 'login' }

/** Turns the store's complaint about a second one of the same name into a refusal; other errors pass. */
const refuseTaken =
  (thing: string) =>
  (error: Error): never => {
    const column = /UNIQUE constraint failed: \w+\.(\w+)/.exec(error.message)?.[1]
    if (!column) throw error
    throw new Refusal(
      'conflict',
      `Another ${thing} has this ${columnWords[column] ?? column} already. Choose another.`,
      column,
    )
  }

/** Does something at once, with its complaint turned into a refusal. */
export async function refusingTaken<T>(thing: string, act: () => T | Promise<T>): Promise<T> {
  try {
    return await act()
  } catch (error) {
    return refuseTaken(thing)(error as Error)
  }
}
