import { normalFrom, uniformFrom } from '@bichroma/core/basics'

/** A seed from words and numbers: FNV-1a over their text, so that each thing on the bench has numbers of its own. */
export function seedOf(...parts: readonly (string | number)[]): number {
  let hash = 0x811c9dc5
  for (const char of parts.join('\u0000')) hash = Math.imul(hash ^ char.codePointAt(0)!, 0x01000193) >>> 0
  return hash
}

/** One standard normal number that belongs to these words and numbers. */
export const normalOf = (...parts: readonly (string | number)[]): number => normalFrom(uniformFrom(seedOf(...parts)))()
