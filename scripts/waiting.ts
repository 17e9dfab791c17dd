/** Waits so long, ms; gives false, so that it can race what gives true. */
export const wait = (ms: number) => new Promise<false>((resolve) => setTimeout(() => resolve(false), ms))

/**
 * Looks again and again until something is so, less often the longer it takes: looking takes from what is waited for. Fails
 * with what was waited for.
 */
export async function until(condition: () => Promise<boolean>, what: string, withinMs = 120_000): Promise<void> {
  const deadline = Date.now() + withinMs
  for (let pause = 2; !(await condition()); pause = Math.min(30, pause * 1.5)) {
    if (Date.now() > deadline) throw new Error(`Waited in vain until ${what}.`)
    await wait(pause)
  }
}
