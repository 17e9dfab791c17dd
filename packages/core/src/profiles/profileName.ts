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

/** The name inside a profile: display, slot, aim, luminance, date. */
export const profileDescription = ({ display, slot, aim, luminance, at }: ProfileSubject): string =>
  `${display}, slot ${slot}, ${aim}, ${Math.round(luminance)} cd, ${new Date(at).toISOString().slice(0, 10)}`

/** The file name of a profile: its description in letters, digits, hyphens and points that every system accepts. */
export const profileFileName = (subject: ProfileSubject): string =>
  `${profileDescription(subject)
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9.-]+/g, '-')
    .replace(/^[-.]+|-+$/g, '')}.icc`
