import { isDeepStrictEqual } from 'node:util'

/** Expects large things to be equal; what differs is looked for only where something does, for that takes seconds. */
export function expectSame(found: unknown, wanted: unknown): void {
  if (!isDeepStrictEqual(found, wanted)) expect(found).toEqual(wanted)
}
