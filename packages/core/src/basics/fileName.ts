/** Names that Windows keeps for devices, whatever ending follows them. */
const reserved = /^(con|prn|aux|nul|conin\$|conout\$|(com|lpt)[0-9¹²³])(\.|$)/i

/** A file name, without its ending, that no system keeps for itself. */
export const notReserved = (name: string): string => (reserved.test(name) ? `named-${name}` : name)

/** Characters of a file name, without its ending: some systems take 255 bytes, and a character has up to four. */
const longest = 60

/**
 * Words as a name for a file or folder that every system takes: letters, marks and digits of any script, joined by
 * hyphens. `otherwise` stands where the words hold none of these.
 */
export function fileNameOf(words: string, otherwise: string): string {
  const name = [...words.normalize('NFC').replace(/[^\p{L}\p{M}\p{N}]+/gu, '-')]
    .slice(0, longest)
    .join('')
    .replace(/^[-\p{M}]+|-+$/gu, '')
  return notReserved(name || otherwise)
}

/** Gives names that differ from all it gave before, on systems too that tell no capitals apart: the second “A” is “A-2”. */
export function distinctNames(): (name: string) => string {
  const given = new Set<string>()
  return (name) => {
    const folded = (n: string) => n.normalize('NFKC').toLowerCase()
    let found = name
    for (let n = 2; given.has(folded(found)); n++) found = `${name}-${n}`
    given.add(folded(found))
    return found
  }
}
