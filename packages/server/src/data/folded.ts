/** Text as it is searched for: whatever its case and accents. */
export const folded = (text: string): string =>
  // Most text is plain, and whole lists are looked through.
  plain.test(text) ? text.toLowerCase() : text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

// oxlint-disable-next-line no-control-regex -- all of ASCII
const plain = /^[\x00-\x7f]*$/

let split: { readonly words: string; readonly each: readonly string[] } = { words: '', each: [] }

/** Whether a text holds each of some folded words, which blanks part: one look at the text, however many they are. */
export function holdsAll(text: string, words: string): boolean {
  if (split.words !== words) split = { words, each: words.split(' ') }
  const here = folded(text)
  return split.each.every((word) => here.includes(word))
}
