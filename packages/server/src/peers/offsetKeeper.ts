import type { DataSource } from 'typeorm'
import type { JudgedVerdict, Limits, ResolvedAim, WhiteMove } from '@bichroma/core/aims'
import type { XYZ } from '@bichroma/core/color'
import type { PanelKind } from '@bichroma/core/register'
import { askForDrift } from '../drift/history'
import { atomically, changesMade, insertion, written } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import {
  instrumentEntity,
  instrumentOffsetEntity,
  type InstrumentOffsetRow,
  type InstrumentRow,
} from '../register/entities'
import { runAnewEntity, type RunRow } from '../runs/entities'
import { moveOf, watchedWhite } from '../runs/guardedReadings'
import { instrumentFacts } from '../runs/instrumentFacts'
import { contradictedIn } from '../runs/panelOwnColors'
import { judgeAnew, type JudgedOtherwise } from './judgeAnew'

interface OffsetKeeperServices {
  readonly data: DataSource
  readonly threads: Threads
  readonly now: () => number
  /** Trends of a slot are to be worked out anew. */
  readonly refreshDrift: (displayId: number, slot: number) => Promise<void>
  /** An offset stands otherwise. */
  readonly changed: () => void
  /** Runs came to something else. */
  readonly judgedAnew: () => void
}

/** Runs of which is dropped in one go what they would have come to. */
const droppedAtOnce = 5
/** Runs between two tellings of how far it has come. */
const tellEvery = 10

interface DueRun {
  id: number
  displayId: number
  panelKind: PanelKind
  at: number
  metrics: string
  aim: string
  limits: string
  correction: string | null
  verdict: JudgedVerdict
}

/**
 * Judges validations anew whose instrument's offset is weighed or taken into account, one after another and each in one
 * transaction; what was left by a server that ended in between is gone on with. Nothing that was read is changed, and what
 * a run came to before is kept beside what it comes to now.
 */
export class OffsetKeeper {
  private readonly judging = new WorkedOff('Runs are judged anew by an offset', () => this.work())

  constructor(private readonly services: OffsetKeeperServices) {}

  /** An offset stands otherwise, a run has ended, or the server has begun. What fails is written down and tried again. */
  soon(): Promise<void> {
    return this.judging.soon()
  }

  close = (): Promise<void> => this.judging.close()

  private async work(): Promise<void> {
    const { data } = this.services
    const open = await data.query<{ id: number }[]>(
      `SELECT id FROM instrument_offset WHERE state IN ('weighing', 'taking', 'taken', 'ending') ORDER BY id`,
    )
    for (const { id } of open) {
      if (this.judging.closed) return
      await this.carryOn(id)
    }
  }

  private async carryOn(id: number): Promise<void> {
    const offset = await this.offset(id)
    const { state } = offset
    if (state === 'ending') {
      await this.swapAll(offset, true)
      await this.dropAll(offset)
      if (!(await this.settle(offset, 'ending', 'ended'))) return
      this.services.judgedAnew()
      return
    }
    await this.weigh(offset)
    if (this.judging.closed) return
    if (state === 'weighing') await this.settle(offset, 'weighing', 'weighed')
    else {
      const swapped = await this.swapAll(offset, false)
      const settled = state === 'taking' && (await this.settle(offset, 'taking', 'taken'))
      if (swapped || settled) this.services.judgedAnew()
    }
  }

  private offset = (id: number): Promise<InstrumentOffsetRow> =>
    this.services.data.getRepository(instrumentOffsetEntity).findOneByOrFail({ id })

  /** An offset has come to the end of what was asked for, unless something else is asked for by now. */
  private async settle({ id }: InstrumentOffsetRow, from: string, to: string): Promise<boolean> {
    if (this.judging.closed) return false
    const settled = await patiently(() =>
      atomically(this.services.data, (take) => {
        take(written('UPDATE instrument_offset SET state = ? WHERE id = ? AND state = ?', [to, id, from]))
        return changesMade(this.services.data) > 0
      }),
    )
    this.services.changed()
    // What was asked for meanwhile comes next.
    if (!settled) void this.soon()
    return settled
  }

  /** Works out what runs come to that nobody has worked out yet. */
  private async weigh(offset: InstrumentOffsetRow): Promise<void> {
    const { data, threads, changed } = this.services
    const instrument = await data.getRepository(instrumentEntity).findOneByOrFail({ id: offset.instrumentId })
    for (let n = 0; !this.judging.closed; n++) {
      const [run] = await data.query<DueRun[]>(
        `SELECT run.id AS id, run.display_id AS displayId, panel_kind AS panelKind, validation.at AS at, validation.verdict AS verdict,
           metrics, resolved_aim AS aim, limits, correction
         ${dueRuns} ORDER BY validation.at DESC LIMIT 1`,
        dueFor(offset, instrument),
      )
      // What it is to be is asked for again each time: it may have been thrown away.
      if (!run || (await this.offset(offset.id)).state !== offset.state) return
      const otherwise = await this.otherwiseOrAsIs(run, offset, instrument, threads)
      await patiently(() => atomically(data, (take) => take(this.kept(run, offset, otherwise))))
      if (n % tellEvery === tellEvery - 1) changed()
    }
  }

  /** One that cannot be judged anew stays as it is, and stands in no other's way. */
  private async otherwiseOrAsIs(
    run: DueRun,
    offset: InstrumentOffsetRow,
    instrument: InstrumentRow,
    threads: Threads,
  ): Promise<JudgedOtherwise> {
    try {
      return await this.otherwise(run, offset, instrument, threads)
    } catch (error) {
      // Too much at once is tried again.
      if (error instanceof Refusal || this.judging.closed) throw error
      logFault(`Run ${run.id} is judged anew by an offset`, error)
      const [asIs] = await this.services.data.query<Omit<JudgedOtherwise, 'verdict'>[]>(
        `SELECT metrics, judgement, summary, figures FROM run JOIN validation ON run_id = run.id WHERE run.id = ?`,
        [run.id],
      )
      return { ...asIs, verdict: run.verdict }
    }
  }

  private async otherwise(
    run: DueRun,
    { luminance, u, v }: InstrumentOffsetRow,
    instrument: InstrumentRow,
    threads: Threads,
  ): Promise<JudgedOtherwise> {
    const { id, displayId, panelKind, at } = run
    const correction = run.correction === null ? null : (JSON.parse(run.correction) as RunRow['correction'])
    const { data } = this.services
    const contradicted = await contradictedIn(data, id, panelKind)
    const known = { panelKind, contradicted, now: at }
    return threads.run(judgeAnew, {
      ...{ runId: id, at, metricsText: run.metrics, readsMore: { luminance, u, v } },
      instrument: await instrumentFacts(data, { correction, displayId }, instrument, known),
      moved: await movedIn(data, id),
      aim: JSON.parse(run.aim) as ResolvedAim,
      limits: JSON.parse(run.limits) as Limits,
    })
  }

  private kept({ id, verdict: was }: DueRun, offset: InstrumentOffsetRow, { verdict, ...texts }: JudgedOtherwise) {
    return insertion(this.services.data.manager, runAnewEntity, {
      ...{ runId: id, offsetId: offset.id, swapped: false, was, becomes: verdict, other: null },
      ...texts,
    })
  }

  /** Brings all runs of an offset to what they come to with it, or back; gives whether there were any. */
  private async swapAll(offset: InstrumentOffsetRow, back: boolean): Promise<boolean> {
    const { data, refreshDrift, changed } = this.services
    for (let n = 0; !this.judging.closed; n++) {
      const [row] = await data.query<{ runId: number; displayId: number; slot: number }[]>(
        `SELECT run_id AS runId, display_id AS displayId, slot FROM run_anew JOIN run ON run.id = run_id
         WHERE offset_id = ? AND swapped = ? ORDER BY run_anew.id LIMIT 1`,
        [offset.id, Number(back)],
      )
      if (!row || (await this.offset(offset.id)).state !== offset.state) return n > 0
      await this.swap(row)
      await refreshDrift(row.displayId, row.slot)
      if (n % tellEvery === tellEvery - 1) changed()
    }
    return false
  }

  /** What runs would have come to is dropped, a few at a time: there may be thousands, each as large as a run. */
  private async dropAll({ id }: InstrumentOffsetRow): Promise<void> {
    const { data } = this.services
    for (let left = true; left && !this.judging.closed;) {
      left = await patiently(() =>
        atomically(data, (take) => {
          take(
            written(
              `DELETE FROM run_anew WHERE id IN (SELECT id FROM run_anew WHERE offset_id = ? AND swapped = 0 LIMIT ${droppedAtOnce})`,
              [id],
            ),
          )
          return changesMade(data) > 0
        }),
      )
      await new Promise((resolve) => setImmediate(resolve))
    }
  }

  /** A run comes to what it comes to the other way, and what it came to is kept in its place; all or nothing. */
  private async swap({ runId, displayId, slot }: { runId: number; displayId: number; slot: number }): Promise<void> {
    const { data } = this.services
    await patiently(() =>
      atomically(data, (take) => {
        take(
          written(
            `UPDATE run_anew SET swapped = 1 - swapped, metrics = run.metrics, judgement = run.judgement, summary = run.summary,
               figures = COALESCE((SELECT figures FROM validation WHERE run_id = run.id), run_anew.figures), other = json_array(run_anew.metrics, run_anew.judgement, run_anew.summary, run_anew.figures)
             FROM run WHERE run.id = run_anew.run_id AND run_id = ?`,
            [runId],
          ),
        )
        take(
          written(
            `UPDATE run SET metrics = other ->> '$[0]', judgement = other ->> '$[1]', summary = other ->> '$[2]'
             FROM run_anew WHERE run_anew.run_id = run.id AND run.id = ?`,
            [runId],
          ),
        )
        take(
          written(
            `UPDATE validation SET figures = other ->> '$[3]', verdict = (other ->> '$[2]') ->> '$.verdict'
             FROM run_anew WHERE run_anew.run_id = validation.run_id AND validation.run_id = ?`,
            [runId],
          ),
        )
        take(written('UPDATE run_anew SET other = NULL WHERE run_id = ?', [runId]))
        take(askForDrift({ displayId, slot }))
      }),
    )
  }
}

/** Validations that an instrument's offset has to do with and that were not worked out yet. */
const dueRuns = `FROM validation JOIN run ON run.id = validation.run_id JOIN display ON display.id = run.display_id
  WHERE validation.instrument_id = ? AND validation.at >= ? AND validation.at < ? AND validation.imported = 0
    AND run.reads_more IS NULL AND NOT EXISTS (SELECT 1 FROM run_anew WHERE run_anew.run_id = run.id)`

/** What it is asked by: what was read since its certificate was renewed is not touched. */
const dueFor = (offset: Pick<InstrumentOffsetRow, 'instrumentId' | 'since' | 'at'>, { certifiedAt }: InstrumentRow) => [
  offset.instrumentId,
  offset.since,
  certifiedAt !== null && certifiedAt > offset.at ? certifiedAt : Number.MAX_SAFE_INTEGER,
]

/** How many validations an offset has to do with that were not worked out yet. */
export const lackingOf = async (data: DataSource, offset: Parameters<typeof dueFor>[0], instrument: InstrumentRow) => {
  const [{ n }] = await data.query<[{ n: number }]>(`SELECT COUNT(*) AS n ${dueRuns}`, dueFor(offset, instrument))
  return n
}

/** What white did while a run was proved, from the one that it was judged by to the last that was watched. */
async function movedIn(data: DataSource, runId: number): Promise<WhiteMove> {
  const whites = await data.query<{ watched: number; x: number; y: number; z: number }[]>(
    `SELECT name = ? AS watched, x, y, z FROM reading WHERE run_id = ? AND stage = 'prove' AND r = 1 AND g = 1 AND b = 1
     ORDER BY id`,
    [watchedWhite, runId],
  )
  const [from, to] = [whites.findLast((w) => !w.watched), whites.findLast((w) => w.watched)]
  const xyz = ({ x, y, z }: { x: number; y: number; z: number }): XYZ => [x, y, z]
  return from && to ? moveOf(xyz(from), xyz(to)) : { luminance: 0, uv: 0 }
}
