import { foundHead } from './handScripts'

/** What a script printed of one workstation. */
export interface FoundByHand {
  readonly host: string
  readonly displays: readonly { readonly serial: string; readonly path: string | null; readonly hash: string | null }[]
}

/** Most displays that one workstation is told to have. */
const mostDisplays = 16
const longest = { text: 64 * 1024, word: 1000 }

/**
 * Reads what the scripts print: a head, the host, a line for each display, an end; fields are parted by tabs. Lines before
 * the head and after the end are passed over, so that whole terminals can be pasted. Throws RangeError with a sentence.
 */
export function readFoundText(text: string): FoundByHand {
  if (text.length > longest.text)
    throw new RangeError('This is longer than what the script prints. Paste what it printed only.')
  const lines = text.split(/\r?\n/).map((line) => line.replace(/\s+$/, ''))
  const head = lines.lastIndexOf(foundHead)
  if (head < 0) throw new RangeError(`There is no line “${foundHead}” in it. Paste everything that the script printed.`)
  const end = lines.indexOf('end', head)
  if (end < 0)
    throw new RangeError('It breaks off before its last line, “end”. Paste everything that the script printed.')
  const [hostLine = '', ...rest] = lines.slice(head + 1, end).filter(Boolean)
  const [word, host = '', ...more] = hostLine.split('\t')
  if (word !== 'host' || !host || more.length || host.length > 60)
    throw new RangeError('The line after the head must name the workstation, as in “host”, a tab, its name.')
  if (rest.length > mostDisplays) throw new RangeError(`One workstation has ${mostDisplays} displays at most.`)
  const seen = new Set<string>()
  const displays = rest.map((line) => {
    const [kind, serial = '', path = '', hash = '', ...extra] = line.split('\t')
    const fits =
      kind === 'display' &&
      serial &&
      path &&
      extra.length === 0 &&
      serial.length <= 60 &&
      path.length <= longest.word &&
      (hash === '-' || /^[0-9a-f]{64}$/.test(hash))
    if (!fits)
      throw new RangeError(
        `“${line.slice(0, 60)}” must be “display”, a serial number, a path or -, and a SHA-256 or -, parted by tabs.`,
      )
    if (seen.has(serial)) throw new RangeError(`The display ${serial} is there twice.`)
    seen.add(serial)
    return { serial, path: path === '-' ? null : path, hash: hash === '-' || path === '-' ? null : hash }
  })
  return { host, displays }
}
