import { In, type DataSource } from 'typeorm'
import { nextMove } from '@bichroma/core/rollout'
import type { StartWave } from '@bichroma/contract'
import { atomically, changesMade, written, type Take } from '../../data/atomically'
import { Gathered } from '../../data/gathered'
import { logFault } from '../../data/log'
import { Refusal } from '../../http/problem'
import type { Ledger, Who } from '../../ledger/ledger'
import type { CourierHub } from '../../couriers/hub'
import { takeBack } from '../agree'
import { placementEntity, waveEntity, waveItemEntity, type WaveRow } from '../entities'
import { standingOfWave } from './itemStates'
import { beginWave } from './beginWave'
import { letOut } from './letOut'
import { digestOf, planWave } from './preview'
import { undoSome } from './undoWave'

export interface WaveServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly now: () => number
  /** Something was agreed to for these workstations. */
  readonly tend: (workstations: readonly number[]) => void
  readonly changed: () => void
}

/** Displays that are let out, or undone, in one transaction, so that others are answered in between. */
const blockOf = 8
/** Wall time for which changes are gathered before waves look at themselves, ms. */
const gatherMs = 60

/** Rollouts to many displays, in steps: what each does next follows from how its displays stand, so that it survives anything. */
export class Waves {
  private working: Promise<void> = Promise.resolve()
  private next: Promise<void> | null = null
  /** A large wave takes its time to look at: it does not look all the time. */
  private readonly gathered = new Gathered(
    () => this.look(),
    () => Math.max(gatherMs, 4 * this.lookedMs),
  )
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
    const id = await beginWave(this.services, input, does, who)
    this.services.changed()
    this.soon()
    return id
  }

  private async waveOf(id: number): Promise<WaveRow> {
    const wave = await this.data.getRepository(waveEntity).findOneBy({ id })
    if (!wave || wave.state === 'preparing') throw new Refusal('not-found', `There is no wave ${id}.`)
    return wave
  }

  private turn(
    who: Who,
    wave: WaveRow,
    change: Partial<WaveRow>,
    act: 'stopped' | 'resumed' | 'undid' | 'confirmed',
    also: (take: Take) => void = () => {},
  ) {
    this.services.ledger.change(
      who,
      (take) => {
        take(
          this.manager
            .createQueryBuilder()
            .update(waveEntity)
            .set(change as never)
            .where({ id: wave.id, state: wave.state }),
        )
        if (changesMade(this.data) === 0)
          throw new Refusal('conflict', 'This wave has changed since you looked. Look at it again.')
        also(take)
      },
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
    this.turn(
      who,
      wave,
      { state: 'under way', excused: failed, word: wave.word || word },
      wave.state === 'under way' ? 'confirmed' : 'resumed',
      // What failed is tried again now.
      (take) =>
        take(
          written(
            `UPDATE placement SET next_try_at = NULL WHERE wave_id = ? AND state = 'queued' AND fault IS NOT NULL`,
            [id],
          ),
        ),
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
    this.gathered.soon()
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
    this.gathered.close()
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
    await letOut(this.services, wave, 1, () => this.closed)
    const move = nextMove(wave, await standingOfWave(this.data, wave.id))
    if (move.do === 'wait') return
    if (move.do === 'let out the rest') return letOut(this.services, wave, 2, () => this.closed)
    await this.data
      .getRepository(waveEntity)
      .update(
        { id: wave.id, state: 'under way' },
        move.do === 'stop' ? { state: 'stopped' } : { state: 'done', endedAt: this.services.now() },
      )
    this.services.changed()
  }

  /** What has not gone by the last day does not go any more. */
  private async runOut(wave: WaveRow): Promise<void> {
    const open = await this.data
      .getRepository(placementEntity)
      .find({ select: { id: true }, where: { waveId: wave.id, state: 'queued', why: 'wave' } })
    atomically(this.data, (take) => {
      take(
        written(
          `UPDATE wave_item SET state = 'left out', says = 'The wave ran out before its turn.' WHERE wave_id = ? AND state = 'held back'`,
          [wave.id],
        ),
      )
      for (const { id } of open) takeBack(take, id, 'The wave ran out before it was placed.', false)
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
      await undoSome(this.services, wave, items)
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
