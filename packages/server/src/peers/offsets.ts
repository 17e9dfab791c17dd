import type { DataSource } from 'typeorm'
import { formatSigned } from '@bichroma/core/aims'
import {
  validate,
  weighOffsetSchema,
  type FleetDrift,
  type InstrumentOffsetTold,
  type RingResult,
} from '@bichroma/contract'
import { atomically, changesMade, insertion, written } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import {
  instrumentEntity,
  instrumentOffsetEntity,
  type InstrumentOffsetRow,
  type InstrumentRow,
} from '../register/entities'
import { ringEntity } from './entities'
import { lackingOf, type OffsetKeeper } from './offsetKeeper'

interface OffsetServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly keeper: OffsetKeeper
  readonly now: () => number
  /** What ordinary checks tell of instruments. */
  readonly fleetDrift: (now: number) => Promise<FleetDrift>
  readonly changed: () => void
}

/** Validations that one offset may have to do with: each is kept both ways. */
const mostRuns = 5000
/** Offsets that are told: those that stand, and the newest of those that have ended. */
const newest = 20

type Figures = Pick<InstrumentOffsetRow, 'since' | 'luminance' | 'u' | 'v' | 'within' | 'withinUv'>

/** Offsets of instruments: what taking one into account would change, and that it is. */
export function offsetRoutes(api: Api, { data, ledger, keeper, now, fleetDrift, changed }: OffsetServices): void {
  const offsets = data.getRepository(instrumentOffsetEntity)
  const nameOf = ({ model, serial }: InstrumentRow) => `${model} ${serial}`
  const instrumentOf = (id: number) => data.getRepository(instrumentEntity).findOneBy({ id })
  const offsetOf = async (id: number) => {
    const row = await offsets.findOneBy({ id })
    if (!row) throw new Refusal('not-found', `There is no offset ${id}.`)
    return { row, instrument: (await instrumentOf(row.instrumentId))! }
  }

  api.on('GET /instrument-offsets', () => told(data))

  api.on('POST /instrument-offsets', async (request, response) => {
    const { instrumentId, source, ringId, since } = validate(weighOffsetSchema, request.body)
    const instrument = await instrumentOf(instrumentId)
    if (!instrument)
      throw new Refusal('invalid-input', `“Instrument” names ${instrumentId}, which is not there.`, 'instrumentId')
    const figures =
      source === 'ring'
        ? await byRing(data, instrument, ringId!, since!, now())
        : await byChecks(await fleetDrift(now()), instrument)
    const runs = await lackingOf(data, { ...figures, instrumentId, at: Math.round(now()) }, instrument)
    if (runs > mostRuns)
      throw new Refusal(
        'invalid-input',
        `That has to do with ${runs.toLocaleString('en')} validations; ${mostRuns.toLocaleString('en')} are the most. Choose a later “Since”.`,
        'since',
      )
    const id = oneAtATime(instrument, () =>
      atomically(data, (take) =>
        take(
          insertion(data.manager, instrumentOffsetEntity, {
            ...{ instrumentId, source, ringId, ...figures, at: Math.round(now()), by: request.account.name },
            ...{ state: 'weighing', takenAt: null, takenBy: null, endedAt: null, endedBy: null },
          }),
        ),
      ),
    )
    void keeper.soon()
    changed()
    response.status(201)
    return { id }
  })

  api.on('POST /instrument-offsets/:id/take', async (request) => {
    const { row, instrument } = await offsetOf(idOf(request))
    if (row.state === 'weighing')
      throw new Refusal(
        'conflict',
        'What it would change is still being worked out. Wait for it, and look at it first.',
      )
    if (row.state !== 'weighed') throw new Refusal('conflict', `This offset is ${stateWords[row.state]} already.`)
    const [{ others, runs }] = await countsOf(data, [row.id])
    ledger.change(
      request.account,
      (take) => {
        take(
          written(
            `UPDATE instrument_offset SET state = 'taking', taken_at = ?, taken_by = ? WHERE id = ? AND state = 'weighed'`,
            [Math.round(now()), request.account.name, row.id],
          ),
        )
        if (changesMade(data) === 0)
          throw new Refusal('conflict', 'This offset has changed since you looked. Look at it again.')
      },
      () => ({
        ...{ act: 'changed', thing: 'instrument', id: instrument.id, name: nameOf(instrument) },
        changes: [{ field: 'taken into account', to: offsetWords(row) }],
        evidence: { since: row.since, validations: runs, 'other verdicts': others },
      }),
    )
    void keeper.soon()
    changed()
    return {}
  })

  api.on('POST /instrument-offsets/:id/end', async (request) => {
    const { row, instrument } = await offsetOf(idOf(request))
    if (row.state === 'ending' || row.state === 'ended')
      throw new Refusal('conflict', 'This offset counts no longer already.')
    const wasTaken = row.state === 'taking' || row.state === 'taken'
    ledger.change(
      request.account,
      (take) =>
        take(
          written(`UPDATE instrument_offset SET state = 'ending', ended_at = ?, ended_by = ? WHERE id = ?`, [
            Math.round(now()),
            request.account.name,
            row.id,
          ]),
        ),
      () => ({
        ...{ act: wasTaken ? 'changed' : 'dropped', thing: 'instrument', id: instrument.id, name: nameOf(instrument) },
        changes: [{ field: wasTaken ? 'taken into account' : 'offset weighed', from: offsetWords(row) }],
      }),
    )
    void keeper.soon()
    changed()
    return {}
  })

  /** One offset of an instrument at a time, as the store knows. */
  function oneAtATime(instrument: InstrumentRow, add: () => number): number {
    try {
      return add()
    } catch (error) {
      if (!(error as Error).message.includes('instrument_offset.instrument_id')) throw error
      throw new Refusal(
        'conflict',
        `An offset of ${nameOf(instrument)} is weighed or taken into account already. Put it away first.`,
        'instrumentId',
      )
    }
  }
}

const stateWords: Readonly<Record<InstrumentOffsetRow['state'], string>> = {
  weighing: 'being weighed',
  weighed: 'weighed',
  taking: 'being taken into account',
  taken: 'taken into account',
  ending: 'being put away',
  ended: 'put away',
}

const offsetWords = ({ luminance, u, v }: Pick<InstrumentOffsetRow, 'luminance' | 'u' | 'v'>) =>
  `${formatSigned(100 * luminance, 2)} %, u′ ${formatSigned(u, 4)}, v′ ${formatSigned(v, 4)}`

/** What a ring tells of an instrument, on all of its displays. */
async function byRing(
  data: DataSource,
  { id, model, serial, certifiedAt }: InstrumentRow,
  ringId: number,
  since: number,
  now: number,
): Promise<Figures> {
  const ring = await data.getRepository(ringEntity).findOneBy({ id: ringId })
  if (!ring) throw new Refusal('invalid-input', `“Ring” names ${ringId}, which is not there.`, 'ringId')
  const all = ring.result?.find((r: RingResult) => r.panelKind === null)?.offsets
  const found = all?.find((o) => o.instrument === id)
  if (!found) throw new Refusal('conflict', `That ring does not tell what ${model} ${serial} reads more.`, 'ringId')
  if (ring.referenceId === id)
    throw new Refusal(
      'conflict',
      `${model} ${serial} is what the others of that ring were held against.`,
      'instrumentId',
    )
  if (certifiedAt !== null && certifiedAt > ring.startedAt)
    throw new Refusal(
      'conflict',
      `${model} ${serial} was certified after that ring: it says nothing of what it reads now.`,
      'ringId',
    )
  if (since > now) throw new Refusal('invalid-input', '“Since” must be a day that has been.', 'since')
  return {
    since,
    luminance: found.luminance.value,
    u: found.u.value,
    v: found.v.value,
    within: found.luminance.within,
    withinUv: Math.max(found.u.within, found.v.within),
  }
}

/** What ordinary checks tell of an instrument that has changed: its luminance, and since when. */
async function byChecks({ changes }: FleetDrift, { id, model, serial }: InstrumentRow): Promise<Figures> {
  const turn = changes.find((c) => c.instrumentId === id)
  if (!turn)
    throw new Refusal('conflict', `Checks do not tell that ${model} ${serial} reads otherwise.`, 'instrumentId')
  const { since, luminance, within } = turn
  return { since: Math.round(since), luminance, within, u: 0, v: 0, withinUv: 0 }
}

const countsOf = (data: DataSource, ids: readonly number[]) =>
  data.query<{ offsetId: number; runs: number; judged: number; others: number }[]>(
    `SELECT instrument_offset.id AS offsetId, COUNT(run_anew.id) AS runs, COALESCE(SUM(swapped), 0) AS judged,
       COALESCE(SUM(was <> becomes), 0) AS others
     FROM instrument_offset LEFT JOIN run_anew ON offset_id = instrument_offset.id
     WHERE instrument_offset.id IN (${ids.map(() => '?').join(', ')}) GROUP BY instrument_offset.id`,
    ids as number[],
  )

/** Offsets that stand, then the newest that have ended. */
async function told(data: DataSource): Promise<InstrumentOffsetTold[]> {
  const rows = await data
    .getRepository(instrumentOffsetEntity)
    .createQueryBuilder('o')
    .orderBy(`o.state = 'ended'`)
    .addOrderBy('o.id', 'DESC')
    .take(newest)
    .getMany()
  const counts = new Map(
    (
      await countsOf(
        data,
        rows.map((r) => r.id),
      )
    ).map((c) => [c.offsetId, c]),
  )
  const instruments = new Map((await data.getRepository(instrumentEntity).find()).map((i) => [i.id, i]))
  return rows.map((row) => {
    const { runs, judged, others } = counts.get(row.id)!
    const { model, serial, certifiedAt } = instruments.get(row.instrumentId)!
    return {
      ...row,
      ...{ instrument: `${model} ${serial}`, runs, judged, others },
      renewedAt: certifiedAt !== null && certifiedAt > row.at ? certifiedAt : null,
    }
  })
}
