import { peerFigureOf, type Apart, type GroundMove, type PairForecast, type PeerFigure } from '@bichroma/core/peers'
import type { LookState, PeerMember, PeerSetDetail } from '@bichroma/contract'

import { formatDay } from '../parts/times'

/** Names in a row, the last by “and”. */
export const listed = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`

export const moveWords: Readonly<Record<GroundMove, string>> = {
  'less light': 'there is less light than was adopted',
  'less gamut': 'the gamut that all share has shrunk',
  'more black': 'one cannot show the black that was adopted any more',
  'more light': 'there would be more light',
  'more gamut': 'there would be a larger gamut',
  none: 'there is no common ground any more',
}

export const figureWords: Readonly<Record<PeerFigure, string>> = {
  average: 'average ΔE',
  white: 'white Δu′v′',
  luminance: 'luminance',
}

/** A figure of a pair with the digits that it deserves. */
export const shownFigure: Readonly<Record<PeerFigure, (value: number) => string>> = {
  average: (v) => v.toFixed(2),
  white: (v) => v.toFixed(4),
  luminance: (v) => `${v.toFixed(1)} %`,
}

export const lookWords: Readonly<Record<LookState, string>> = {
  'under way': 'under way',
  judged: 'judged',
  'broken off': 'broken off',
}

/** Differences of white by which nobody sees a direction. */
const leastUv = 0.0003
const leastLight = 0.003

/** How a white lies beside another, in words: which way in u′v′, and whether it is brighter. */
export function directionWords({ u, v, luminance }: Apart): string {
  const hues = [
    Math.abs(u) >= leastUv && Math.abs(u) > Math.abs(v) / 2 && (u > 0 ? 'redder' : 'greener'),
    Math.abs(v) >= leastUv && Math.abs(v) > Math.abs(u) / 2 && (v > 0 ? 'yellower' : 'bluer'),
    Math.abs(luminance) >= leastLight && (luminance > 0 ? 'brighter' : 'darker'),
  ].filter((w) => w !== false)
  return hues.length ? listed(hues) : 'alike'
}

const lackSentences: Readonly<Record<NonNullable<Standing['lack']>['why'], (who: string, many: boolean) => string>> = {
  unknown: (who, many) =>
    `Nobody knows how bright ${who} can be: ${many ? 'they were' : 'it was'} never read at the highest setting. A baseline of each takes a minute.`,
  'cannot mix': (who) => `${who} cannot mix the white of this set. Choose a white nearer to what all have.`,
  'too few': () => 'Fewer than two of its members are in use.',
  'share nothing': () => 'The gamuts of these displays share no triangle around the white of this set.',
}
type Standing = NonNullable<PeerSetDetail['standing']>

/** Whether a set asks for another white, tone response or black than the aim that was made of its ground has. */
export function asksOther({ aim, white, toneResponse, black }: PeerSetDetail): boolean {
  if (!aim) return false
  const differs = (a: unknown, b: unknown) => JSON.stringify(a) !== JSON.stringify(b)
  const isLifted = aim.aim.black?.kind === 'fixed'
  return differs(aim.aim.white, white) || differs(aim.aim.toneResponse, toneResponse) || (black === 'own' && isLifted)
}

/** Why there is no common ground; nothing where there is one. */
export function lackSentence({ standing, members }: PeerSetDetail): string | null {
  if (!standing?.lack) return null
  const { why, members: ids } = standing.lack
  return lackSentences[why](listed(ids.map((id) => nameIn(members, id))), ids.length > 1)
}

/** What the slot of a member that is as it should be holds: the set's aim, or its own by eye. */
export const aimNameFor = ({ aim, matches }: PeerSetDetail, displayId: number): string | null =>
  matches.find((m) => m.displayId === displayId && m.state === 'in force')?.aim?.name ?? aim?.name ?? null

export const nameIn = (members: readonly PeerMember[], id: number): string =>
  members.find((m) => m.displayId === id)?.name ?? `display ${id}`

/** What a set's page says first. */
export function headSentence(set: PeerSetDetail): string {
  const { standing, members } = set
  const alike = standing?.alike
  const lack = lackSentence(set)
  const unread = standing?.unread ?? []
  if (alike) return alikeSentence(set, alike)
  if (lack) return lack
  if (unread.length)
    return `${listed(unread.map((id) => nameIn(members, id)))} ${unread.length > 1 ? 'were' : 'was'} never validated in ${unread.length > 1 ? 'their slots' : 'its slot'}`
  return 'Nothing is known of this set yet'
}

/** How alike a set is: by the figure that decides. */
function alikeSentence({ members, limits }: PeerSetDetail, alike: NonNullable<Standing['alike']>): string {
  const { verdict, worst } = alike.verdict
  const pair = alike.pairs.find((p) => p.pair.join() === worst.pair.join())!
  const names = listed(worst.pair.map((id) => nameIn(members, id)))
  const of = (value: number) => shownFigure[worst.by](value)
  const value = of(peerFigureOf[worst.by](pair))
  if (verdict === 'untold') {
    const most = alike.doubts.find((d) => d.pair.join() === worst.pair.join())?.figures[worst.by].high
    return `${names}: ${figureWords[worst.by]} ${value} as it was read, and up to ${most === undefined ? 'any' : of(most)}, of ${of(limits[worst.by].hard)} allowed`
  }
  return `${verdict === 'outside' ? 'Not alike:' : 'Furthest apart:'} ${names}, ${figureWords[worst.by]} ${value} of ${of(limits[worst.by].hard)}`
}

/** When two will be told apart, in few words. */
export function apartWords(forecast: PairForecast): string {
  switch (forecast.kind) {
    case 'past':
      return 'by now, by their trends'
    case 'steady':
      return 'not within five years'
    case 'unknown':
      return 'after four checks of each'
    case 'crosses':
      return `about ${formatDay(forecast.at)}, by ${forecast.by}`
  }
}

/** The pair that will be told apart first, in a sentence; nothing where none will be. */
export function firstApart(alike: NonNullable<Standing['alike']>, members: readonly PeerMember[]): string | null {
  const crossing = alike.forecasts.flatMap((f, i) => (f.kind === 'crosses' ? [{ f, pair: alike.pairs[i].pair }] : []))
  if (!crossing.length) return null
  const first = crossing.reduce((a, b) => (b.f.at < a.f.at ? b : a))
  const { at, early, late, by } = first.f
  return `${listed(first.pair.map((id) => nameIn(members, id)))} about ${formatDay(at)}, by ${by}: between ${formatDay(early)} and ${late === null ? 'years from now' : formatDay(late)}`
}
