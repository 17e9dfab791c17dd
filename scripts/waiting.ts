/** Waits so long, ms; gives false, so that it can race what gives true. */
export const wait = (ms: number) => new Promise<false>((resolve) => setTimeout(() => resolve(false), ms))

/** Looks again and again until something is so; fails with what was waited for after 20 seconds. */
export async function until(condition: () => Promise<boolean>, what: string): Promise<void> {
  const deadline = Date.now() + 20_000
  while (!(await condition())) {
    if (Date.now() > deadline) throw new Error(`Waited for 20 seconds in vain until ${what}.`)
    await wait(2)
  }
}
