import { deepestMessage } from '@bichroma/contract'

/** Numbers 0–1 from a seed. */
export type Uniform = () => number

export const pick = <T>(uniform: Uniform, from: readonly T[]): T => from[Math.floor(uniform() * from.length)]

/** A value nested so many deep. */
function nested(depth: number): unknown {
  let value: unknown = 1
  for (let i = 0; i < depth; i++) value = i % 2 ? { value } : [value]
  return value
}

/** The same as text, deeper than anything that calls itself can write. */
export const nestedText = (depth: number): string => `${'['.repeat(depth)}1${']'.repeat(depth)}`

const strings = [
  '',
  ' ',
  '..',
  '../../etc/passwd',
  '★★★',
  '\u202Elaer ton',
  '\uD800',
  'a\u0000b',
  "'; DROP TABLE run; --",
  '<script>alert(1)</script>',
  '__proto__',
  'CON',
  'x'.repeat(5000),
  '2026-02-31',
  '\u{1F41F}'.repeat(40),
]
const numbers = [0, -1, 1, 1.5, 8, 9, 1e308, -1e308, 5e-324, 2 ** 31, 2 ** 53, 2 ** 63, 8.64e15 + 1, -0]

/** A value that nobody wants, now and then a large or a deep one. */
export function strange(uniform: Uniform, depth = 0): unknown {
  const roll = uniform()
  if (roll < 0.3) return pick(uniform, strings)
  if (roll < 0.6) return pick(uniform, numbers)
  if (roll < 0.7) return pick(uniform, [null, true, false])
  if (roll < 0.72) return nested(pick(uniform, [2, deepestMessage, 200, 1500]))
  if (roll < 0.74) return Array.from({ length: pick(uniform, [10, 600, 6000]) }, () => pick(uniform, numbers))
  if (depth > 3) return 0
  if (roll < 0.86) return Array.from({ length: Math.floor(uniform() * 5) }, () => strange(uniform, depth + 1))
  return Object.fromEntries(
    Array.from({ length: Math.floor(uniform() * 5) }, () => [
      pick(uniform, ['kind', 'id', 'name', 'constructor', 'x', 'toString', 'rules', 'value']),
      strange(uniform, depth + 1),
    ]),
  )
}

/** A value like an example, with something of it changed, added, or left out. */
export function mutated(uniform: Uniform, example: unknown): unknown {
  if (uniform() < 0.12 || example === null || typeof example !== 'object')
    return uniform() < 0.5 ? strange(uniform) : example
  if (Array.isArray(example)) {
    if (uniform() < 0.2) return [...example, ...example, strange(uniform)]
    return example.map((v) => (uniform() < 0.4 ? mutated(uniform, v) : v))
  }
  const fields = Object.entries(example)
  const at = Math.floor(uniform() * fields.length)
  const changed = fields.flatMap(([key, value], i): [string, unknown][] => {
    if (i !== at) return [[key, value]]
    return uniform() < 0.25 ? [] : [[key, mutated(uniform, value)]]
  })
  if (uniform() < 0.1) changed.push([pick(uniform, ['extra', 'constructor', 'hasOwnProperty']), strange(uniform)])
  return Object.fromEntries(changed)
}
