/** Text as it is searched for: whatever its case and accents. */
export const folded = (text: string): string =>
  // Most text is plain, and whole lists are looked through.
  plain.test(text) ? text.toLowerCase() : text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

// eslint-disable-next-line no-control-regex -- all of ASCII
const plain = /^[\x00-\x7f]*$/
