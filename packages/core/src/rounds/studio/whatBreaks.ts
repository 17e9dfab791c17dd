import type { Span } from './useTimes'

/** A visit as a week shows it; times in ms since 1970. */
export interface WeekVisit {
  readonly id: number
  readonly roomId: number
  readonly personId: number | null
  readonly instrumentId: number | null
  readonly at: number | null
  readonly endsAt: number | null
  readonly takeDownAt: number | null
  readonly attended: boolean
  /** Instruments that fit, with the minutes of a run by each. */
  readonly options: readonly { readonly instrumentId: number; readonly run: number }[]
  /** When its workstation may be used, in the days that are shown. */
  readonly windows: readonly Span[]
  readonly pinned: boolean
}

/** What a move is held against. */
export interface WeekHouse {
  readonly now: number
  readonly minutes: { readonly seat: number; readonly takeDown: number; readonly warm: number }
  readonly people: readonly { readonly id: number; readonly hours: readonly Span[]; readonly carries: number }[]
  readonly instruments: readonly {
    readonly id: number
    readonly validUntil: number | null
    readonly carrierId: number | null
    readonly hangsAt: number | null
  }[]
  readonly visits: readonly WeekVisit[]
  /** Days as they are in the studio’s zone. */
  readonly days: readonly Span[]
  /** Minutes from room to room. */
  readonly walk: (a: number, b: number) => number
}

/** Somewhere else for a visit. */
export interface VisitMove {
  readonly personId: number | null
  readonly instrumentId: number
  readonly at: number
}

/** What stands against a move: nobody can make it so. */
export type Bar =
  | 'past'
  | 'unknown person'
  | 'unknown instrument'
  | 'fit'
  | 'certificate'
  | 'carrier'
  | 'carries'
  | 'window'
  | 'hours'
  | 'pinned'

export interface Breaks {
  /** Null where nothing stands against it. */
  readonly bar: Bar | null
  /** Visits that are in its way and would be planned anew. */
  readonly displaced: readonly number[]
}

const minute = 60_000

/** What a move of a visit breaks: what stands against it, or which other visits have to make way. */
export function whatBreaks(house: WeekHouse, visit: WeekVisit, move: VisitMove): Breaks {
  const against = (bar: Bar): Breaks => ({ bar, displaced: [] })
  const { minutes } = house
  const option = visit.options.find((o) => o.instrumentId === move.instrumentId)
  const instrument = house.instruments.find((i) => i.id === move.instrumentId)
  if (!instrument) return against('unknown instrument')
  if (!option) return against('fit')
  const hangs = instrument.hangsAt !== null
  const person = hangs ? null : house.people.find((p) => p.id === move.personId)
  if (person === undefined || (hangs && move.personId !== null)) return against('unknown person')
  const { at } = move
  const seated = at + minutes.seat * minute
  const readyAt = seated + option.run * minute
  const endsAt = readyAt + minutes.takeDown * minute
  if (at - minutes.warm * minute < house.now) return against('past')
  if (instrument.validUntil !== null && readyAt > instrument.validUntil) return against('certificate')
  if (person && instrument.carrierId !== null && instrument.carrierId !== person.id) return against('carrier')
  const lies = (from: number, to: number) => (s: Span) => s.from <= from && s.to >= to
  if (!visit.windows.some(lies(at, endsAt))) return against('window')
  if (person) {
    const isThere = visit.attended
      ? person.hours.some(lies(at, endsAt))
      : person.hours.some(lies(at, seated)) && person.hours.some(lies(readyAt, endsAt))
    if (!isThere) return against('hours')
  }
  const hands = (v: { at: number; readyAt: number; endsAt: number }, attended: boolean): Span[] =>
    attended
      ? [{ from: v.at, to: v.endsAt }]
      : [
          { from: v.at, to: v.at + minutes.seat * minute },
          { from: v.readyAt, to: v.endsAt },
        ]
  const today = house.days.find((d) => at >= d.from && at < d.to)
  const isToday = (other: WeekVisit) => Boolean(today && other.at! < today.to && other.endsAt! > today.from)
  const own = hands({ at, readyAt, endsAt }, visit.attended)
  const displaced = house.visits.filter((other) => {
    if (other.id === visit.id || other.at === null || other.endsAt === null) return false
    const way = house.walk(visit.roomId, other.roomId) * minute
    const meets = (a: Span, b: Span) => a.from < b.to + way && b.from < a.to + way
    if (
      other.instrumentId === move.instrumentId &&
      meets({ from: at, to: endsAt }, { from: other.at, to: other.endsAt })
    )
      return true
    // Whoever has an instrument has it for the day.
    if (other.instrumentId === move.instrumentId && person && other.personId !== person.id && isToday(other))
      return true
    if (!person || other.personId !== person.id) return false
    const theirs = hands({ at: other.at, readyAt: other.takeDownAt!, endsAt: other.endsAt }, other.attended)
    return own.some((a) => theirs.some((b) => meets(a, b)))
  })
  if (displaced.some((v) => v.pinned)) return against('pinned')
  if (person) {
    const stay = house.visits.filter(
      (v) => v.id !== visit.id && v.at !== null && v.personId === person.id && isToday(v) && !displaced.includes(v),
    )
    if (new Set([...stay.map((v) => v.instrumentId), move.instrumentId]).size > person.carries)
      return against('carries')
  }
  return { bar: null, displaced: displaced.map((v) => v.id) }
}

/** What stands against a move, in a sentence. */
export const barSentences: Readonly<Record<Bar, string>> = {
  past: 'That is too soon: the display would not be warm.',
  'unknown person': 'Nobody of that name goes to displays.',
  'unknown instrument': 'There is no such instrument in use.',
  fit: 'This instrument does not fit the display.',
  certificate: 'The instrument’s certificate has run out by then.',
  carrier: 'Somebody else carries this instrument.',
  carries: 'They carry as many instruments as they can on that day.',
  window: 'The workstation may not be used then.',
  hours: 'They do not work then, or not long enough.',
  pinned: 'A pinned visit is in its way.',
}
