import fc from 'fast-check'
import { ProfileError } from '../../profiles/icc/iccBytes'
import { told } from '../../test/told'
import { FormatError } from '../formatError'

/** One change to a file: where (a share of its length), what, and how much. */
interface Edit {
  readonly at: number
  readonly kind: 'set' | 'cut' | 'drop' | 'double' | 'insert' | 'word'
  readonly size: number
  readonly bytes: Uint8Array
}

const edit: fc.Arbitrary<Edit> = fc.record({
  // Not a double: those crowd towards 0, and every edit would fall on the file's head.
  at: fc.noBias(fc.integer({ min: 0, max: 999_999 })).map((v) => v / 1e6),
  kind: fc.constantFrom(...(['set', 'set', 'set', 'set', 'cut', 'drop', 'double', 'insert', 'word'] as const)),
  size: fc.integer({ min: 1, max: 64 }),
  bytes: fc.uint8Array({ minLength: 1, maxLength: 4 }),
})

/** Words that break readers: too large, not a number, opened and not closed. */
const nasty = ['999999999', '-1', '1e308', '1e-400', 'NaN', '"', '<', ']]>', '&#x0;', 'BEGIN_DATA', '#', '\0', '３']

function join(...parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((n, p) => n + p.length, 0))
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}

function applyEdit(file: Uint8Array, { at, kind, size, bytes }: Edit): Uint8Array {
  const from = Math.floor(at * file.length)
  const to = Math.min(file.length, from + size)
  switch (kind) {
    case 'set': {
      const changed = Uint8Array.from(file)
      bytes.forEach((b, i) => from + i < file.length && (changed[from + i] = b))
      return changed
    }
    case 'cut':
      return file.slice(0, from)
    case 'drop':
      return join(file.subarray(0, from), file.subarray(to))
    case 'double':
      return join(file.subarray(0, to), file.subarray(from))
    case 'insert':
      return join(file.subarray(0, from), bytes, file.subarray(from))
    case 'word':
      return join(
        file.subarray(0, from),
        new TextEncoder().encode(` ${nasty[size % nasty.length]} `),
        file.subarray(to),
      )
  }
}

/** The slowest that a single file may be, in ms. */
const slowest = 100

/**
 * Holds a reader against `count` files: good ones changed in one to three places, and plain noise. Each gives a value or a
 * clear sentence, soon. A file that seems slow is read again, so that a busy machine is not taken for a slow reader.
 */
export function expectSturdy(
  name: string,
  read: (bytes: Uint8Array) => unknown,
  samples: readonly Uint8Array[],
  count = 10_000,
): void {
  samples.forEach((sample) => read(sample))
  const tally = { read: 0, refused: 0 }
  let longest = 0
  const once = (file: Uint8Array) => {
    const started = performance.now()
    try {
      read(file)
      tally.read++
    } catch (error) {
      if (!(error instanceof FormatError || error instanceof ProfileError)) throw error
      if (!/^[A-Z“‘\d].{8,400}\.$/u.test(error.message)) throw new Error(`No clear sentence: ${error.message}`)
      tally.refused++
    }
    return performance.now() - started
  }
  const changed = fc
    .tuple(fc.constantFrom(...samples), fc.array(edit, { minLength: 1, maxLength: 3 }))
    .map(([sample, edits]) => edits.reduce(applyEdit, sample))
  const anything = fc.oneof(
    { weight: 9, arbitrary: changed },
    { weight: 1, arbitrary: fc.uint8Array({ maxLength: 400 }) },
  )
  fc.assert(
    fc.property(anything, (file) => {
      let took = once(file)
      for (let again = 0; took > slowest && again < 20; again++) took = Math.min(took, once(file))
      longest = Math.max(longest, took)
      return took <= slowest
    }),
    { numRuns: count, seed: 2026 },
  )
  told(`${name}, ${count} malformed files (${tally.read} read, ${tally.refused} refused), slowest, ms`, longest)
}
