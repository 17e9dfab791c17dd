import { In, type DataSource } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { nextMove } from '@bichroma/core/rollout'
import type { StartWave } from '@bichroma/contract'
import { atomically, insertion, written, type Take } from '../../data/atomically'
import { logFault } from '../../data/log'
import { patiently } from '../../data/patiently'
import { Refusal } from '../../http/problem'
import type { Ledger, Who } from '../../ledger/ledger'
import type { CourierHub } from '../../couriers/hub'
import { agree, takeBack } from '../agree'
import {
  placementEntity,
  waveEntity,
  waveItemEntity,
  type PlacementRow,
  type WaveItemRow,
  type WaveRow,
} from '../entities'
import { foundNow } from '../recordFound'
import { standingOfWave } from './itemStates'
import { digestOf, planWave, type PlannedRow } from './preview'

export interface WaveServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly now: () => number
  /** Something was agreed to for these workstations. */
  readonly tend: (workstations: readonly number[]) => void
  readonly changed: () => void
}

/** A display whose turn has come. */
interface HeldItem extends WaveItemRow {
  /** It is still wanted there. */
  readonly now: number
  readonly label: string | null
  readonly filedAt: number | null
}

/** Displays of a wave that are stored in one go. */
const madeAtOnce = 300
/** Displays that are let out, or undone, in one transaction, so that others are answered in between. */
const blockOf = 8
/** Wall time for which changes are gathered before waves look at themselves, ms. */
const gatherMs = 60
const day = 86_400_000

/** Rollouts to many displays, in steps: what each does next follows from how its displays stand, so that it survives anything. */
export class Waves {
  private working: Promise<void> = Promise.resolve()
  private next: Promise<void> | null = null
  private timer: NodeJS.Timeout | null = null
  private closed = false
  /** How long the last look took, ms. */
  private lookedMs = 0

  constructor(private readonly services: WaveServices) {}

  private get data() {
    return this.services.data
  }

  private get manager() {
    return this.services.data.manager
  }

  // — what people do —

  /** Starts a wave, as its preview said. Refuses one that would do something else by now, or nothing. */
  async start(input: Omit<StartWave, 'digest'>, digest: string | null, who: Who): Promise<number> {
    const { data, hub, now } = this.services
    const rows = await planWave(data, hub, input.selection, now())
    if (digest !== null && digestOf(rows) !== digest)
      throw new Refusal('conflict', 'What this wave would do has changed since you looked. Look at it again.', 'digest')
    const does = rows.filter((r) => r.action !== null)
    if (!does.length)
      throw new Refusal(
        'conflict',
        'This wave would change nothing: everything is as wanted, or under way.',
        'selection',
      )
    const id = await this.begin(input, does, who)
    this.services.changed()
    this.soon()
    return id
  }

  /**
   * The wave with its displays and its entry, as one; the displays of a large one are stored some at a time before it
   * begins, and one that was not made whole is forgotten.
   */
  private async begin(input: Omit<StartWave, 'digest'>, does: readonly PlannedRow[], who: Who): Promise<number> {
    const first = firstFew(does, input.first)
    const make = (take: Take) => this.make(take, input, does.length, first.size, who)
    const letBegin = (take: Take, id: number) => this.letBegin(take, id, input, does.length, first.size, who)
    if (does.length <= madeAtOnce)
      return atomically(this.data, (take) => {
        const id = make(take)
        this.fill(take, id, does, first)
        letBegin(take, id)
        return id
      })
    const id = atomically(this.data, make)
    try {
      for (let i = 0; i < does.length; i += madeAtOnce) {
        const some = does.slice(i, i + madeAtOnce)
        await patiently(() => atomically(this.data, (take) => this.fill(take, id, some, first)))
        await new Promise((resolve) => setImmediate(resolve))
      }
      atomically(this.data, (take) => letBegin(take, id))
      return id
    } catch (error) {
      await this.forget(id).catch(() => {})
      throw error
    }
  }

  private make(take: Take, input: Omit<StartWave, 'digest'>, displays: number, first: number, who: Who): number {
    const at = this.services.now()
    return take(
      insertion(this.manager, waveEntity, {
        name: input.name,
        selection: input.selection,
        state: 'preparing',
        first,
        gate: input.gate,
        stopShare: input.stopShare,
        // All at once needs no gate.
        word: first === displays,
        excused: 0,
        startedAt: at,
        accountId: who === 'Bichroma' ? null : who.id,
        expiresAt: at + input.days * day,
        endedAt: null,
      }),
    )
  }

  private fill(take: Take, id: number, does: readonly PlannedRow[], first: ReadonlySet<PlannedRow>): void {
    const rows = does.map((r) => [
      r.displayId,
      r.workstationId,
      first.has(r) ? 1 : 2,
      r.action,
      r.runId,
      r.slot,
      r.profileHash,
      r.fileName,
      r.scope,
    ])
    take(
      written(
        `INSERT INTO wave_item (wave_id, display_id, workstation_id, step, action, run_id, slot, profile_hash, file_name, scope, state)
         SELECT ?, value ->> 0, value ->> 1, value ->> 2, value ->> 3, value ->> 4, value ->> 5, value ->> 6, value ->> 7, value ->> 8, 'held back'
         FROM json_each(?)`,
        [id, JSON.stringify(rows)],
      ),
    )
  }

  /** It begins, with its entry; displays that other waves hold back are its own now. */
  private letBegin(
    take: Take,
    id: number,
    input: Omit<StartWave, 'digest'>,
    displays: number,
    first: number,
    who: Who,
  ): void {
    take(
      written(
        `UPDATE wave_item SET state = 'left out', says = 'Another wave took it over.' WHERE state = 'held back' AND wave_id <> ?
           AND EXISTS (SELECT 1 FROM wave_item AS own WHERE own.wave_id = ? AND own.display_id = wave_item.display_id
             AND own.workstation_id = wave_item.workstation_id)`,
        [id, id],
      ),
    )
    take(written(`UPDATE wave SET state = 'under way' WHERE id = ?`, [id]))
    take(
      this.services.ledger.entry(who, {
        act: 'started',
        thing: 'wave',
        id,
        name: input.name,
        evidence: { displays, first, gate: input.gate },
      }),
    )
  }

  private async forget(id: number): Promise<void> {
    await this.data.query('DELETE FROM wave_item WHERE wave_id = ?', [id])
    await this.data.query('DELETE FROM wave WHERE id = ?', [id])
  }

  /** Forgets waves that were not made whole when the server went. */
  async forgetHalfMade(): Promise<void> {
    await this.data.query(`DELETE FROM wave_item WHERE wave_id IN (SELECT id FROM wave WHERE state = 'preparing')`)
    await this.data.query(`DELETE FROM wave WHERE state = 'preparing'`)
  }

  private async waveOf(id: number): Promise<WaveRow> {
    const wave = await this.data.getRepository(waveEntity).findOneBy({ id })
    if (!wave || wave.state === 'preparing') throw new Refusal('not-found', `There is no wave ${id}.`)
    return wave
  }

  private turn(who: Who, wave: WaveRow, change: Partial<WaveRow>, act: 'stopped' | 'resumed' | 'undid' | 'confirmed') {
    this.services.ledger.change(
      who,
      (take) =>
        take(
          this.manager
            .createQueryBuilder()
            .update(waveEntity)
            .set(change as never)
            .where({ id: wave.id }),
        ),
      () => ({ act, thing: 'wave', id: wave.id, name: wave.name }),
    )
    this.services.changed()
    this.soon()
  }

  /** Nothing more is let out; what is out goes on. */
  async pause(id: number, who: Who): Promise<void> {
    const wave = await this.waveOf(id)
    if (wave.state !== 'under way')
      throw new Refusal('conflict', `This wave is ${wave.state}; there is nothing to pause.`)
    this.turn(who, wave, { state: 'paused' }, 'stopped')
  }

  /** Goes on after a pause or a stop: failures up to now are let pass. With `word`, the rest goes whatever the gate says. */
  async goOn(id: number, word: boolean, who: Who): Promise<void> {
    const wave = await this.waveOf(id)
    if (wave.state === 'under way' && !word) throw new Refusal('conflict', 'This wave is under way already.')
    if (!['under way', 'paused', 'stopped'].includes(wave.state))
      throw new Refusal('conflict', `This wave is ${wave.state}; it does not go on.`)
    const { first, rest } = await standingOfWave(this.data, id)
    const failed = first.failed + rest.failed
    // What failed is tried again now.
    await this.data.query(
      `UPDATE placement SET next_try_at = NULL WHERE wave_id = ? AND state = 'queued' AND fault IS NOT NULL`,
      [id],
    )
    this.turn(
      who,
      wave,
      { state: 'under way', excused: failed, word: wave.word || word },
      wave.state === 'under way' ? 'confirmed' : 'resumed',
    )
    this.services.tend(await this.workstationsOf(id))
  }

  /** Gives every display back what it had before. */
  async undo(id: number, who: Who): Promise<void> {
    const wave = await this.waveOf(id)
    if (wave.state === 'undoing' || wave.state === 'undone')
      throw new Refusal('conflict', `This wave is ${wave.state} already.`)
    this.turn(who, wave, { state: 'undoing', endedAt: null }, 'undid')
  }

  private async workstationsOf(waveId: number): Promise<number[]> {
    const rows = await this.data.query<{ id: number }[]>(
      `SELECT DISTINCT workstation_id AS id FROM placement WHERE wave_id = ? AND state = 'queued'`,
      [waveId],
    )
    return rows.map((r) => r.id)
  }

  // — what waves do —

  /** Looks at every open wave in a moment, once for all that happened until then. */
  soon(): void {
    if (this.timer || this.closed) return
    // A large wave takes its time to look at: it does not look all the time.
    const wait = Math.max(gatherMs, 4 * this.lookedMs)
    this.timer = setTimeout(() => {
      this.timer = null
      void this.look()
    }, wait).unref()
  }

  /** Looks at every open wave, after whatever look is under way; once for all who ask until it begins. */
  look(): Promise<void> {
    this.next ??= this.working.then(async () => {
      this.next = null
      const began = performance.now()
      await this.lookAtAll().catch((error: unknown) => logFault('Waves looked at themselves', error))
      this.lookedMs = performance.now() - began
    })
    this.working = this.next
    return this.next
  }

  async close(): Promise<void> {
    this.closed = true
    if (this.timer) clearTimeout(this.timer)
    await this.working
  }

  private async lookAtAll(): Promise<void> {
    const open = await this.data
      .getRepository(waveEntity)
      .find({ where: { state: In(['under way', 'paused', 'stopped', 'undoing']) }, order: { id: 'ASC' } })
    for (const wave of open) {
      if (this.closed) return
      if (wave.state === 'undoing') await this.lookAtUndo(wave)
      else if (this.services.now() >= wave.expiresAt) await this.runOut(wave)
      else if (wave.state === 'under way') await this.lookAt(wave)
    }
  }

  private async lookAt(wave: WaveRow): Promise<void> {
    // The first few, on whatever start this is.
    await this.letOut(wave, 1)
    const move = nextMove(wave, await standingOfWave(this.data, wave.id))
    if (move.do === 'wait') return
    if (move.do === 'let out the rest') return this.letOut(wave, 2)
    await this.data
      .getRepository(waveEntity)
      .update(
        { id: wave.id, state: 'under way' },
        move.do === 'stop' ? { state: 'stopped' } : { state: 'done', endedAt: this.services.now() },
      )
    this.services.changed()
  }

  /** Lets a step out, some at a time; what somebody decided in between counts from the next block on. */
  private async letOut(wave: WaveRow, step: 1 | 2): Promise<void> {
    for (;;) {
      const items = await this.data.query<HeldItem[]>(
        `SELECT item.id AS id, item.display_id AS displayId, item.workstation_id AS workstationId, action, item.run_id AS runId,
           item.slot AS slot, item.profile_hash AS profileHash, file_name AS fileName, scope,
           run.label AS label, COALESCE(run.summary ->> 'at', run.started_at) AS filedAt,
           EXISTS (SELECT 1 FROM display_now JOIN wanted ON wanted.id = wanted_id WHERE display_now.display_id = item.display_id
             AND wanted.profile_hash IS item.profile_hash AND wanted.kind = CASE action WHEN 'place' THEN 'profile' ELSE 'none' END
             AND (display_now.workstation_id = item.workstation_id OR EXISTS (SELECT 1 FROM display_link
               WHERE display_link.display_id = item.display_id AND display_link.workstation_id = item.workstation_id))) AS now
         FROM wave_item AS item LEFT JOIN run ON run.id = item.run_id
         WHERE wave_id = ? AND step = ? AND item.state = 'held back' ORDER BY item.id LIMIT ${blockOf}`,
        [wave.id, step],
      )
      if (!items.length) return
      const at = this.services.now()
      await patiently(() =>
        atomically(this.data, (take) => {
          const [{ state }] = [this.stateNow(wave.id)]
          if (state !== 'under way') return
          for (const item of items) this.letOutOne(take, wave, item, at)
        }),
      )
      if (this.closed || this.stateNow(wave.id).state !== 'under way') return
      this.services.tend(items.map((i) => i.workstationId))
      await new Promise((resolve) => setImmediate(resolve))
    }
  }

  /** Whether a wave is still under way, asked within a transaction. */
  private stateNow(id: number): { state: string } {
    const { databaseConnection } = this.data.driver as unknown as {
      databaseConnection: { prepare(sql: string): { get(...parameters: unknown[]): unknown } }
    }
    return databaseConnection.prepare('SELECT state FROM wave WHERE id = ?').get(id) as { state: string }
  }

  private letOutOne(take: Take, wave: WaveRow, item: HeldItem, at: number): void {
    if (!item.now) {
      take(
        written(
          `UPDATE wave_item SET state = 'left out', says = 'What is wanted on it changed since this wave was agreed to.'
           WHERE id = ? AND state = 'held back'`,
          [item.id],
        ),
      )
      return
    }
    const placementId = agree(take, this.manager, {
      displayId: item.displayId,
      workstationId: item.workstationId,
      action: item.action,
      why: 'wave',
      runId: item.runId,
      slot: item.slot,
      profileHash: item.profileHash,
      fileName: item.fileName,
      description:
        item.label === null || item.filedAt === null
          ? 'no profile of ours'
          : `${item.label}, slot ${item.slot}, ${formatDate(item.filedAt)}`,
      scope: item.scope,
      requestedAt: at,
      accountId: wave.accountId,
      waveId: wave.id,
    })
    take(
      written(`UPDATE wave_item SET state = 'out', placement_id = ?, out_at = ? WHERE id = ? AND state = 'held back'`, [
        placementId,
        at,
        item.id,
      ]),
    )
  }

  /** What has not gone by the last day does not go any more. */
  private async runOut(wave: WaveRow): Promise<void> {
    const open = await this.data
      .getRepository(placementEntity)
      .find({ select: { id: true }, where: { waveId: wave.id, state: 'queued', why: 'wave', tries: 0 } })
    atomically(this.data, (take) => {
      take(
        written(
          `UPDATE wave_item SET state = 'left out', says = 'The wave ran out before its turn.' WHERE wave_id = ? AND state = 'held back'`,
          [wave.id],
        ),
      )
      for (const { id } of open) takeBack(take, id, 'The wave ran out before its courier came back.')
      take(
        written(
          `UPDATE wave SET state = 'done', ended_at = ? WHERE id = ? AND state IN ('under way', 'paused', 'stopped')`,
          [this.services.now(), wave.id],
        ),
      )
    })
    this.services.changed()
  }

  // — undoing —

  private async lookAtUndo(wave: WaveRow): Promise<void> {
    await this.data.query(
      `UPDATE wave_item SET state = 'left out', says = 'The wave was undone before its turn.' WHERE wave_id = ? AND state = 'held back'`,
      [wave.id],
    )
    for (;;) {
      const items = await this.data
        .getRepository(waveItemEntity)
        .createQueryBuilder('i')
        .where(`i.wave_id = :id AND i.state = 'out' AND i.undo_id IS NULL`, { id: wave.id })
        .orderBy('i.id')
        .limit(blockOf)
        .getMany()
      if (!items.length) break
      await this.undoBlock(wave, items)
      if (this.closed) return
      await new Promise((resolve) => setImmediate(resolve))
    }
    const { first, rest } = await standingOfWave(this.data, wave.id)
    if (first.undoing + rest.undoing + first['under way'] + rest['under way'] > 0) return
    await this.data
      .getRepository(waveEntity)
      .update({ id: wave.id, state: 'undoing' }, { state: 'undone', endedAt: this.services.now() })
    this.services.changed()
  }

  private async undoBlock(wave: WaveRow, items: readonly WaveItemRow[]): Promise<void> {
    const repository = this.data.getRepository(placementEntity)
    const byId = async (ids: readonly (number | null)[]) =>
      new Map(
        (await repository.findBy({ id: In(ids.filter((id) => id !== null)) })).map((p): [number, PlacementRow] => [
          p.id,
          p,
        ]),
      )
    const placed = await byId(items.map((i) => i.placementId))
    const former = await byId([...placed.values()].map((p) => p.before?.placementId ?? null))
    const moves: { item: WaveItemRow; placement: PlacementRow; leave: string | null }[] = []
    for (const item of items) {
      const placement = placed.get(item.placementId!)!
      const found = (await foundNow(this.data, item.workstationId, [item.displayId])).get(item.displayId)
      const another = found !== undefined && found.path !== null && found.hash !== placement.profileHash
      moves.push({
        item,
        placement,
        leave:
          placement.state === 'withdrawn' && item.action === 'place'
            ? 'Something else was agreed to for it since, and stays.'
            : placement.state === 'sent' && placement.verifiedAt !== null && item.action === 'place' && another
              ? 'Another profile was put in its place since, and stays.'
              : null,
      })
    }
    const at = this.services.now()
    await patiently(() =>
      atomically(this.data, (take) => {
        for (const { item, placement, leave } of moves) {
          const { before } = placement
          if (leave !== null) {
            take(written(`UPDATE wave_item SET state = 'left out', says = ? WHERE id = ?`, [leave, item.id]))
            continue
          }
          if (placement.state === 'queued' && placement.tries === 0) {
            takeBack(take, placement.id, 'The wave was undone before it was sent.')
            take(written(`UPDATE wave_item SET state = 'undone' WHERE id = ?`, [item.id]))
            continue
          }
          const was = before?.placementId ? former.get(before.placementId) : undefined
          const undoId = agree(take, this.manager, {
            displayId: item.displayId,
            workstationId: item.workstationId,
            action: 'restore',
            why: 'undo',
            runId: was?.runId ?? null,
            slot: was?.slot ?? null,
            profileHash: before?.hash ?? null,
            fileName: was?.fileName ?? null,
            description: was?.description ?? (before?.path ? 'what was there before' : 'no profile'),
            scope: was?.scope ?? placement.scope,
            requestedAt: at,
            accountId: null,
            waveId: wave.id,
            restores: before?.associations ?? { machine: [], user: [], perUser: false },
          })
          take(written('UPDATE wave_item SET undo_id = ? WHERE id = ?', [undoId, item.id]))
        }
      }),
    )
    this.services.tend(items.map((i) => i.workstationId))
  }

  /** Fresh profiles that were gathered go in one wave of their own; null when there are none. */
  async sendGathered(name: string): Promise<number | null> {
    const rows = await this.data.query<{ id: number }[]>(
      'SELECT display_now.display_id AS id FROM display_now JOIN wanted ON wanted.id = wanted_id WHERE wanted.gathered AND differs',
    )
    const { data, hub, now } = this.services
    const selection = { displays: rows.map((r) => r.id) }
    const does = rows.length ? (await planWave(data, hub, selection, now())).some((r) => r.action !== null) : false
    if (!does) {
      await this.data.query('UPDATE wanted SET gathered = 0 WHERE gathered')
      return null
    }
    const id = await this.start(
      { name, selection, first: 3, gate: 'read-back', stopShare: 0.2, days: 14 },
      null,
      'Bichroma',
    )
    await this.data.query('UPDATE wanted SET gathered = 0 WHERE gathered')
    return id
  }
}

/** The first few: those whose couriers are there, one of each system before a second of any. */
function firstFew(rows: readonly PlannedRow[], most: number): Set<PlannedRow> {
  if (most === 0) return new Set(rows)
  const there = rows.filter((r) => !r.waits.includes('courier'))
  const queues = new Map<string, PlannedRow[]>()
  for (const row of there.length ? there : rows)
    queues.set(row.operatingSystem, [...(queues.get(row.operatingSystem) ?? []), row])
  const first = new Set<PlannedRow>()
  while (first.size < most && [...queues.values()].some((q) => q.length))
    for (const queue of queues.values()) {
      const row = queue.shift()
      if (row && first.size < most) first.add(row)
    }
  return first
}
