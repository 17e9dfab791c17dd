import { notReserved } from '../basics/fileName'

/** What a profile is named after. */
export interface ProfileSubject {
  readonly display: string
  readonly slot: number
  /** The aim's name. */
  readonly aim: string
  /** cd/m² */
  readonly luminance: number
  /** ms since 1970, UTC. */
  readonly at: number
}

/** What a template of names may hold in braces, and what each becomes. */
const parts: Readonly<Record<string, (subject: ProfileSubject) => string>> = {
  display: (s) => s.display,
  slot: (s) => String(s.slot),
  aim: (s) => s.aim,
  luminance: (s) => String(Math.round(s.luminance)),
  date: (s) => new Date(s.at).toISOString().slice(0, 10),
}

/** Characters of a file name, without its ending, that every system takes. */
const longestName = 180

const inBraces = /\{([^{}]*)\}/g

/** What is wrong with a template of profile names, to follow its name in a sentence; null when nothing is. */
export function profileNameProblem(template: string): string | null {
  const used = [...template.matchAll(inBraces)].map((m) => m[1])
  const unknown = used.find((name) => !Object.hasOwn(parts, name))
  const known = Object.keys(parts)
    .map((p) => `{${p}}`)
    .join(', ')
  if (unknown !== undefined) return `holds {${unknown}}, which stands for nothing. What may stand in braces: ${known}.`
  if (/[{}]/.test(template.replace(inBraces, '')))
    return `has a brace without its partner. What may stand in braces: ${known}.`
  if (!used.includes('display')) return 'must hold {display}, for two displays never share a profile.'
  return null
}

/** The name inside a profile, by a template as {@link profileNameProblem} accepts it. */
export const profileDescription = (template: string, subject: ProfileSubject): string =>
  template.replace(inBraces, (whole, name: string) => parts[name]?.(subject) ?? whole)

/** A file name that every system accepts: letters, digits, hyphens and points. `undated` leaves the date out. */
export function profileFileName(template: string, subject: ProfileSubject, undated = false): string {
  const used = undated ? template.replaceAll('{date}', '') : template
  const name = profileDescription(used, subject)
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9.-]+/g, '-')
    .slice(0, longestName)
    .replace(/^[-.]+|[-.]+$/g, '')
  return `${notReserved(name || 'profile')}.icc`
}
