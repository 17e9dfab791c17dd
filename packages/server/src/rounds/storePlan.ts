import type { DataSource } from 'typeorm'
import type { RoundsPlanned } from '@bichroma/core/rounds'
import { atomically, insertion, written, type Take } from '../data/atomically'
import { patiently } from '../data/patiently'
import type { Ledger, Who } from '../ledger/ledger'
import { openVisits, roundPlanEntity, visitEntity, type VisitRow } from './entities'
import type { VisitPurpose } from './gather'
import type { MadeRounds } from './makeRounds'

interface StoreServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
  /** The server ends. */
  readonly ended: () => boolean
}

type Change = (take: Take) => void

/** Visits that are stored in one go. */
const atOnce = 50
/** Plans that are kept. */
const mostPlans = 200

/** Stores a plan; whether something of it has changed since it was begun. */
export async function storePlan(
  { data, ledger, now, ended }: StoreServices,
  made: MadeRounds,
  who: Who,
): Promise<boolean> {
  const rows = await data.getRepository(visitEntity).createQueryBuilder('v').where(`v.state IN ${openVisits}`).getMany()
  const open = new Map(rows.map((v) => [v.displayId, v]))
  const given = new Map(made.given.map((v) => [v.displayId, v]))
  const purposes = new Map(made.purposes.map((p) => [p.displayId, p]))
  let again = false
  /** What was begun, moved or told meanwhile stays as it is now. */
  const isAsGiven = (displayId: number) => {
    const row = open.get(displayId)
    const same = row ? isSame(row, given.get(displayId)) : !isKept(given.get(displayId))
    again ||= !same
    return same
  }
  const at = now()
  const put = (displayId: number, change: Partial<VisitRow>): Change[] => {
    if (!isAsGiven(displayId)) return []
    const row = open.get(displayId)
    if (row?.state === 'begun') return []
    const { dueAt, dueBy, kind, slot, label, options, attended } = purposes.get(displayId) as VisitPurpose
    const next = {
      ...nothing,
      dueAt,
      dueBy,
      kind,
      slot,
      label,
      options: options as VisitRow['options'],
      attended,
      ...change,
    }
    if (!row) return [(take) => take(inserted({ ...nobodyTold, ...next, displayId, madeAt: at } as VisitRow))]
    return differs(row, next) ? [(take) => take(updated(row, next))] : []
  }
  function* changes(): Generator<Change> {
    for (const v of made.planned) yield* put(v.displayId, { state: 'planned', ...timesOf(v) })
    for (const { displayId, why, reliefs } of made.unplanned)
      // What was pinned where it cannot be is pinned no longer.
      yield* put(displayId, { state: 'unplanned', pinned: false, whyNot: why, reliefs: [...reliefs] })
    for (const row of rows)
      if (!given.has(row.displayId) && row.state !== 'begun')
        yield (take) =>
          take(
            written(`UPDATE visit SET state = 'dropped', reason = NULL, ended_at = ? WHERE id = ? AND ${asItWas}`, [
              at,
              row.id,
              ...wasOf(row),
            ]),
          )
  }
  // A large plan in parts, so that others are answered in between: each visit is whole by itself, what changes meanwhile
  // stays, and one that is cut short is made anew when the server starts again.
  let part: Change[] = []
  for (const change of changes()) {
    if (part.length === atOnce) {
      const whole = part
      await patiently(() => atomically(data, (take) => whole.forEach((one) => one(take))))
      await new Promise((resolve) => setImmediate(resolve))
      if (ended()) return false
      part = []
    }
    part.push(change)
  }
  const { first, days, from, until, walk, load } = made
  const plan = {
    madeAt: at,
    by: who === 'Bichroma' ? who : who.name,
    first,
    days,
    fromAt: from,
    untilAt: until,
    walk: Math.round(walk),
    load,
  }
  const write = (take: Take) => {
    for (const change of part) change(take)
    const id = take(insertion(data.manager, roundPlanEntity, plan))
    take(written('DELETE FROM round_plan WHERE id <= ?', [id - mostPlans]))
    return id
  }
  // What follows by itself is told where it moves what people were told; who asked for a plan is told of in any case.
  if (who === 'Bichroma' && made.moved === 0) await patiently(() => atomically(data, write))
  else
    await patiently(() =>
      ledger.change(who, write, (id) => ({
        act: 'planned',
        thing: 'rounds',
        id,
        name: `${days} ${days === 1 ? 'day' : 'days'} from ${first}`,
        evidence: { planned: made.planned.length, unplanned: made.unplanned.length, moved: made.moved },
      })),
    )
  return again
}

/** What a visit has of a plan before it is planned. */
const nothing = {
  personId: null,
  instrumentId: null,
  wakeAt: null,
  at: null,
  readyAt: null,
  takeDownAt: null,
  endsAt: null,
  whyThen: null,
  whyInstrument: null,
  besides: 0,
  sharing: 0,
  late: 0,
  whyNot: null,
  reliefs: [],
} satisfies Partial<VisitRow>
const nobodyTold = {
  pinned: false,
  notBefore: null,
  toldPersonId: null,
  toldInstrumentId: null,
  toldAt: null,
  runId: null,
  reason: null,
  endedAt: null,
  sequence: 0,
  changedAt: 0,
  answer: null,
  answeredAt: null,
  wokenAt: null,
} satisfies Partial<VisitRow>

/** Columns of a visit by their names in the store; TypeORM’s builders would take a second for a large plan. */
const columnsOf = visitEntity.options.columns
/** Lists as they are stored: displays of one model share theirs. */
const texts = new WeakMap<object, string>()
function textOf(value: object): string {
  const text = texts.get(value) ?? JSON.stringify(value)
  texts.set(value, text)
  return text
}
const stored = (value: unknown) =>
  typeof value === 'boolean' ? Number(value) : value !== null && typeof value === 'object' ? textOf(value) : value
const nameOf = (field: string) => columnsOf[field as keyof VisitRow]!.name ?? field

const inserted = (row: Partial<VisitRow>) => {
  const fields = Object.keys(row)
  return written(
    `INSERT OR IGNORE INTO visit (${fields.map(nameOf).join(', ')}) VALUES (${fields.map(() => '?').join(', ')})`,
    fields.map((f) => stored(row[f as keyof VisitRow])),
  )
}
/** A visit that nobody has begun, moved or told since it was read. */
const asItWas = `state IN ('planned', 'unplanned') AND pinned = ? AND at IS ? AND told_at IS ?`
const wasOf = ({ pinned, at, toldAt }: VisitRow) => [Number(pinned), at, toldAt]

const updated = (row: VisitRow, change: Partial<VisitRow>) => {
  const fields = Object.keys(change)
  return written(`UPDATE visit SET ${fields.map((f) => `${nameOf(f)} = ?`).join(', ')} WHERE id = ? AND ${asItWas}`, [
    ...fields.map((f) => stored(change[f as keyof VisitRow])),
    row.id,
    ...wasOf(row),
  ])
}

const timesOf = ({ displayId: _, reliefs, ...planned }: RoundsPlanned) => ({ ...planned, reliefs: [...reliefs] })

const isKept = (given: MadeRounds['given'][number] | undefined) =>
  Boolean(given && (given.pinned || given.told || given.begun))

/** Whether a row still says what a plan was given of it. */
function isSame(row: VisitRow, given: MadeRounds['given'][number] | undefined): boolean {
  if (!given) return !row.pinned && row.toldAt === null && row.state !== 'begun'
  const isPinned = (row.pinned || row.state === 'begun') && row.at !== null
  return (
    (row.state === 'begun') === given.begun &&
    (isPinned ? row.at : null) === (given.pinned?.at ?? null) &&
    (isPinned ? row.personId : null) === (given.pinned?.personId ?? null) &&
    row.toldAt === (given.told?.at ?? null)
  )
}

const differs = (row: VisitRow, next: Partial<VisitRow>): boolean =>
  Object.entries(next).some(([field, value]) => stored(row[field as keyof VisitRow]) !== stored(value))
