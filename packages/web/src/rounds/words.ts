import { dayWords, localDate, momentIn, clockIn, type Bar, type RoundsRelief } from '@bichroma/core/rounds'
import { barSentences } from '@bichroma/core/rounds'
import { runKinds } from '@bichroma/core/runs'
import type { Visit, Week } from '@bichroma/contract'

/** What a visit does, in two words. */
export const doesWords = (v: Pick<Visit, 'kind'>): string => runKinds[v.kind].label.toLowerCase()

const dueWords: Readonly<Record<Visit['dueBy'], string>> = {
  'never judged': 'it was never judged',
  outside: 'it was outside when it was last judged',
  calendar: 'its calendar',
  forecast: 'its forecast',
  day: 'a day that matters',
  asked: 'somebody said that it looks wrong',
  light: 'the light that its aim follows is another',
  set: 'its peer set, which is read together',
}

/** What is due at once, and not on a day. */
const isDueNow: readonly Visit['dueBy'][] = ['never judged', 'outside', 'asked', 'light']

/** Why it falls due, and when. */
export const dueSentence = (v: Visit, zone: string): string =>
  isDueNow.includes(v.dueBy)
    ? `Due now: ${dueWords[v.dueBy]}.`
    : `Due ${dayWords(localDate(v.dueAt, zone))} by ${dueWords[v.dueBy]}.`

/** Why then. */
export function thenSentence(v: Visit): string {
  switch (v.whyThen) {
    case 'pinned':
      return 'Pinned there.'
    case 'told':
      return 'As people were told.'
    case 'late':
      return 'Nothing sooner was free.'
    case 'together':
      return `Together with ${v.besides} ${v.besides === 1 ? 'other' : 'others'} in ${v.display.room}.`
    case 'due':
      return 'The first time that suits.'
    default:
      return ''
  }
}

/** Why with that instrument. */
export function instrumentSentence(v: Visit, optionSets: Week['optionSets']): string {
  switch (v.whyInstrument) {
    case 'only':
      return v.peerSet && (optionSets[v.optionSet]?.length ?? 0) > 1
        ? `All of peer set “${v.peerSet}” are read with one.`
        : 'No other fits.'
    case 'there':
      return `On the same tour it reads ${v.sharing} more.`
    case 'free':
      return `Of ${optionSets[v.optionSet]?.length ?? 0} that fit, it is free.`
    default:
      return ''
  }
}

/** What would have helped, by name. */
function reliefWords(relief: RoundsRelief, instruments: readonly { id: number; name: string }[]): string {
  switch (relief.kind) {
    case 'hours':
      return 'two hours more a day'
    case 'person':
      return 'one person more'
    case 'windows':
      return 'its workstation at any time'
    case 'certificate':
      return 'a certificate that holds'
    case 'instrument':
      return `one more like ${instruments.find((i) => i.id === relief.likeId)?.name ?? 'its instrument'}`
  }
}

/** Why no plan could hold it, and what would. */
export function unplannedSentence(v: Visit, instruments: readonly { id: number; name: string }[]): string {
  if (v.whyNot === 'no instrument fits')
    return 'No instrument fits: make a correction for this model, or bring a spectroradiometer.'
  if (v.whyNot === 'no time') return 'Its workstation may not be used for as long as it takes.'
  if (!v.reliefs.length) return 'No single thing more would make room for it.'
  return `Room for it with ${v.reliefs.map((r) => reliefWords(r, instruments)).join(', or ')}.`
}

/** From when to when, and with whom. */
export const whenWords = (v: Visit, zone: string): string =>
  v.at === null ? 'not planned' : `${momentIn(v.at, zone)}–${clockIn(v.endsAt!, zone)}`

/** What a move comes to, for the pointer and for those who listen. */
export function moveSentence(
  week: Week,
  { at, person, bar, displaced }: { at: number; person: string | null; bar: Bar | null; displaced: readonly number[] },
): string {
  const where = `${momentIn(at, week.hours.zone)}${person ? `, ${person}` : ''}`
  if (bar) return `${where}. ${barSentences[bar]}`
  const names = displaced.map((id) => week.visits.find((v) => v.id === id)?.display.name ?? 'another')
  if (!names.length) return `${where}. Nothing is in its way.`
  const [first, ...rest] = names
  return `${where}. ${rest.length > 1 ? `${first} and ${rest.length} more make` : names.length === 2 ? `${first} and ${rest[0]} make` : `${first} makes`} way.`
}
