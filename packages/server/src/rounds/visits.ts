import { In, type DataSource } from 'typeorm'
import { barSentences, momentIn, whatBreaks, weekHouse, type Breaks, type VisitMove } from '@bichroma/core/rounds'
import type { StartRun } from '@bichroma/contract'
import { aimEntity } from '../aims/entities'
import { atomically, changesMade, written, type Take } from '../data/atomically'
import { patiently } from '../data/patiently'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { displayEntity, slotEntity } from '../register/entities'
import { runEntity, type RunRow } from '../runs/entities'
import { isUntold, openVisits, visitEntity, type VisitRow } from './entities'
import type { RoundsPlanner } from './planner'
import { roundsSettings } from './settings'
import { weekOf } from './week'

type Who = { readonly id: number; readonly name: string }

interface VisitServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly planner: RoundsPlanner
  readonly now: () => number
  readonly startRun: (input: StartRun, who: Who) => Promise<number>
  readonly changed: () => void
}

const minute = 60_000

/** What is answered to whoever said that a display looks wrong, once it was read. */
const answerOf = ({ verdict, sentence }: NonNullable<RunRow['judgement']>): string =>
  verdict === 'outside'
    ? `It was read, and you were right: ${sentence} It is being seen to.`
    : verdict === 'untold'
      ? `It was read, and cannot be told yet. ${sentence}`
      : `It was read, and is within its limits. ${sentence}`

/** What becomes of visits: told, moved, begun, ended, not possible, not wanted. */
export class Visits {
  constructor(private readonly services: VisitServices) {}

  private async find(id: number): Promise<VisitRow & { displayName: string }> {
    const { data } = this.services
    const row = await data.getRepository(visitEntity).findOneBy({ id })
    if (!row) throw new Refusal('not-found', `There is no visit ${id}.`)
    const { name } = await data.getRepository(displayEntity).findOneByOrFail({ id: row.displayId })
    return { ...row, displayName: name }
  }

  /** Tells everybody what is planned: from now on it moves only where that is worth it. How many were told something new. */
  async tell(who: Who): Promise<number> {
    const { data, ledger, changed } = this.services
    const [{ untold }] = await data.query<[{ untold: number }]>(
      `SELECT COUNT(*) AS untold FROM visit WHERE state = 'planned' AND ${isUntold}`,
    )
    if (untold) {
      ledger.change(
        who,
        (take) =>
          take(
            written(
              `UPDATE visit SET told_person_id = person_id, told_instrument_id = instrument_id, told_at = at
               WHERE state = 'planned' AND ${isUntold}`,
              [],
            ),
          ),
        () => ({ act: 'told', thing: 'rounds', id: null, name: 'the rounds', evidence: { visits: untold } }),
      )
      changed()
    }
    return untold
  }

  /** Puts a visit somewhere else, where it stays; whatever is in its way is planned anew. */
  async move(id: number, move: VisitMove, who: Who | 'Bichroma', why?: string): Promise<Breaks> {
    const { data, ledger, planner, now, changed } = this.services
    const visit = await this.find(id)
    if (visit.state !== 'planned' && visit.state !== 'unplanned')
      throw new Refusal('conflict', `This visit is ${visit.state}; only what lies ahead can be moved.`)
    const week = await weekOf(data, {
      now: now(),
      from: move.at,
      visitId: id,
      only: { personId: move.personId, instrumentId: move.instrumentId },
    })
    const house = weekHouse(week)
    const known = house.visits.find((v) => v.id === id)!
    const breaks = whatBreaks(house, known, move)
    if (breaks.bar) throw new Refusal('conflict', barSentences[breaks.bar], 'at')
    const run = known.options.find((o) => o.instrumentId === move.instrumentId)!.run
    const { seat, takeDown, warm } = week.minutes
    const readyAt = move.at + (seat + run) * minute
    const said = (at: number) => momentIn(at, week.hours.zone)
    const nameOf = (all: readonly { id: number; name: string }[], of: number | null) =>
      all.find((one) => one.id === of)?.name ?? 'nobody'
    const change = {
      state: 'planned' as const,
      personId: move.personId,
      instrumentId: move.instrumentId,
      wakeAt: move.at - warm * minute,
      at: move.at,
      readyAt,
      takeDownAt: readyAt,
      endsAt: readyAt + takeDown * minute,
      pinned: true,
      whyThen: 'pinned' as const,
      whyNot: null,
      reliefs: [],
    }
    ledger.change(
      who,
      (take) => {
        take(
          data
            .createQueryBuilder()
            .update(visitEntity)
            .set(change)
            .where({ id, state: In(['planned', 'unplanned']) }),
        )
        if (changesMade(data) === 0)
          throw new Refusal('conflict', 'This visit was begun or ended meanwhile; only what lies ahead can be moved.')
      },
      () => ({
        act: 'moved',
        thing: 'visit',
        id,
        name: `visit to ${visit.displayName}`,
        ...(why && { why }),
        changes: [
          { field: 'time', ...(visit.at !== null && { from: said(visit.at) }), to: said(move.at) },
          ...(visit.personId === move.personId ? [] : [{ field: 'person', to: nameOf(week.people, move.personId) }]),
          ...(visit.instrumentId === move.instrumentId
            ? []
            : [{ field: 'instrument', to: nameOf(week.instruments, move.instrumentId) }]),
        ],
        evidence: { display: visit.displayId },
      }),
    )
    changed()
    planner.soon()
    return breaks
  }

  /** Lets a visit be planned where it fits best. */
  async letGo(id: number, who: Who): Promise<void> {
    const { ledger, planner, changed } = this.services
    const visit = await this.find(id)
    if (!visit.pinned) throw new Refusal('conflict', 'This visit is not pinned.')
    ledger.change(
      who,
      (take) => take(written('UPDATE visit SET pinned = 0 WHERE id = ?', [id])),
      () => ({ act: 'let go', thing: 'visit', id, name: `visit to ${visit.displayName}` }),
    )
    changed()
    planner.soon()
  }

  /** Visits whose runs are being started. */
  private readonly beginning = new Set<number>()

  /** Starts the visit's run, with everything chosen; one at a time, whoever presses twice. */
  async begin(id: number, who: Who): Promise<number> {
    if (this.beginning.has(id)) throw new Refusal('conflict', 'This visit is begun already.')
    this.beginning.add(id)
    try {
      return await this.beginIt(id, who)
    } finally {
      this.beginning.delete(id)
    }
  }

  private async beginIt(id: number, who: Who): Promise<number> {
    const { data, startRun, now, changed, planner } = this.services
    const visit = await this.find(id)
    if (visit.state !== 'planned' && visit.state !== 'unplanned')
      throw new Refusal('conflict', `This visit is ${visit.state} already.`)
    const runId = await startRun(await this.runOf(visit), who)
    const { minutes } = await roundsSettings(data)
    const at = now()
    const run = visit.options.find((o) => o.instrumentId === visit.instrumentId)?.run ?? minutes.warm
    const readyAt = at + (minutes.seat + run) * minute
    // Whoever starts a visit that nobody was to make makes it.
    await patiently(() =>
      atomically(data, (take) =>
        take(
          written(
            `UPDATE visit SET state = 'begun', run_id = ?, at = ?, wake_at = ?, ready_at = ?, take_down_at = ?, ends_at = ?,
               person_id = CASE WHEN at IS NULL THEN ? ELSE person_id END,
               instrument_id = COALESCE(instrument_id, (SELECT instrument_id FROM run WHERE run.id = ?)), why_not = NULL, reason = NULL
             WHERE id = ? AND state IN ('planned', 'unplanned')`,
            [runId, at, at, readyAt, readyAt, readyAt + minutes.takeDown * minute, who.id, runId, id],
          ),
        ),
      ),
    )
    changed()
    planner.soon()
    return runId
  }

  /**
   * Begins what nobody comes for: visits whose instrument hangs there, once their time has come. They are started in the
   * name of the administrator who was there first; what stands in the way is told with the visit, which is missed in time.
   */
  async beginHung(): Promise<void> {
    const { data, now } = this.services
    const due = await data.query<{ id: number }[]>(
      `SELECT id FROM visit WHERE state = 'planned' AND person_id IS NULL AND reason IS NULL AND at <= ? ORDER BY at LIMIT 20`,
      [now()],
    )
    if (!due.length) return
    const [who] = await data.query<Who[]>(
      `SELECT id, name FROM account WHERE role = 'administrator' AND locked_at IS NULL ORDER BY id LIMIT 1`,
    )
    if (!who) return
    for (const { id } of due)
      await this.begin(id, who).catch(async (error: unknown) => {
        if (!(error instanceof Refusal)) throw error
        await data.query('UPDATE visit SET reason = ? WHERE id = ?', [error.sentence, id])
      })
  }

  /** What a visit's run is started with. Throws Refusal where somebody has to choose first. */
  private async runOf(visit: VisitRow & { displayName: string }): Promise<StartRun> {
    const { data } = this.services
    const { displayId, kind, slot, instrumentId } = visit
    const held = await data.getRepository(slotEntity).findOneBy({ displayId, number: slot })
    const with1 = instrumentId === null ? {} : { instrumentId }
    if (kind !== 'full') return { displayId, kind, slot, ...with1 }
    const aim = held?.label ? await data.getRepository(aimEntity).findOneBy({ name: held.label }) : null
    if (!aim)
      throw new Refusal(
        'conflict',
        `Nobody has said what ${visit.displayName} shall aim at. Start its first full run from its page, with an aim.`,
      )
    return { displayId, kind, slot, aimId: aim.id, overwrites: held?.label ?? '', ...with1 }
  }

  /** It was not possible, and why: it is planned anew from tomorrow on. */
  block = (id: number, why: string, who: Who) => this.endBy(id, 'blocked', why, who)

  /** It is not wanted: its display is left alone until its next due line. */
  drop = (id: number, why: string, who: Who) => this.endBy(id, 'dropped', why, who)

  private async endBy(id: number, state: 'blocked' | 'dropped', why: string, who: Who): Promise<void> {
    const { ledger, now, changed, planner } = this.services
    const visit = await this.find(id)
    if (this.beginning.has(id)) throw new Refusal('conflict', 'This visit is begun already.')
    if (visit.state !== 'planned' && visit.state !== 'unplanned')
      throw new Refusal('conflict', `This visit is ${visit.state} already.`)
    ledger.change(
      who,
      (take) =>
        take(
          written(
            `UPDATE visit SET state = ?, reason = ?, ended_at = ? WHERE id = ? AND state IN ('planned', 'unplanned')`,
            [state, why, now(), id],
          ),
        ),
      () => ({
        act: state,
        thing: 'visit',
        id,
        name: `visit to ${visit.displayName}`,
        why,
        evidence: { display: visit.displayId },
      }),
    )
    changed()
    planner.soon()
  }

  /** A run was judged: the visit that was before its display is done, whoever started it, and what looked wrong is answered. */
  async judged(run: Pick<RunRow, 'id' | 'displayId' | 'slot' | 'judgement'>): Promise<void> {
    const { data, now, changed, planner } = this.services
    if (!run.judgement) return
    const { judgement } = run
    const row = await data
      .getRepository(visitEntity)
      .createQueryBuilder('v')
      .where(`v.displayId = :displayId AND v.state IN ${openVisits}`, { displayId: run.displayId })
      .getOne()
    const isIts = row !== null && (row.runId === run.id || row.slot === run.slot)
    const at = now()
    const answered = await patiently(() =>
      atomically(data, (take) => {
        if (isIts)
          take(written(`UPDATE visit SET state = 'done', run_id = ?, ended_at = ? WHERE id = ?`, [run.id, at, row.id]))
        take(
          written(
            `UPDATE desk_report SET state = 'answered', answer = ?, answered_at = ?, answered_by = 'Bichroma'
             WHERE display_id = ? AND state = 'open' AND at < ?`,
            [answerOf(judgement), at, run.displayId, at],
          ),
        )
        return changesMade(data)
      }),
    )
    if (!isIts && !answered) return
    changed()
    planner.soon()
  }

  /** A run stands otherwise: where it ended without being judged, its visit lies ahead again. */
  async runChanged(runId: number): Promise<void> {
    const { data, changed, planner } = this.services
    const row = await data.getRepository(visitEntity).findOneBy({ runId, state: 'begun' })
    if (!row) return
    const run = await data
      .getRepository(runEntity)
      .findOne({ select: { id: true, state: true, message: true }, where: { id: runId } })
    if (!run || (run.state !== 'stopped' && run.state !== 'failed')) return
    await patiently(() => atomically(data, (take) => this.ahead(take, row.id, run.message)))
    changed()
    planner.soon()
  }

  /** A visit lies ahead as people were told of it, with what kept its run from its end. */
  private ahead(take: Take, id: number, why: string | null): void {
    take(
      written(
        `UPDATE visit SET state = 'planned', run_id = NULL, reason = ?, at = COALESCE(told_at, at),
           wake_at = wake_at + COALESCE(told_at, at) - at, ready_at = ready_at + COALESCE(told_at, at) - at,
           take_down_at = take_down_at + COALESCE(told_at, at) - at, ends_at = ends_at + COALESCE(told_at, at) - at,
           person_id = CASE WHEN told_at IS NULL THEN person_id ELSE told_person_id END,
           instrument_id = COALESCE(told_instrument_id, instrument_id) WHERE id = ? AND state = 'begun'`,
        [why, id],
      ),
    )
  }

  /** After a restart: visits whose runs ended meanwhile. */
  async takeStock(): Promise<void> {
    const { data } = this.services
    for (const { runId } of await data.getRepository(visitEntity).findBy({ state: 'begun' })) {
      const run = await data.getRepository(runEntity).findOne({
        select: { id: true, displayId: true, slot: true, state: true, judgement: true } as never,
        where: { id: runId! },
      })
      if (run?.state === 'done') await this.judged(run)
      else await this.runChanged(runId!)
    }
  }
}
