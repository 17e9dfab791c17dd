/** Where a program of this checkout lies once it is built; by its source, as `packages/server/src/app/main.ts`. */
export function builtProgram(source: string): string
/** What Node is told before a program. */
export const nodeFlags: readonly string[]
