import { In, type DataSource } from 'typeorm'
import type { XYZ } from '@bichroma/core/color'
import { instrumentOffsets, planSpotRing, usualNoise, type RingReading } from '@bichroma/core/peers'
import type { PanelKind } from '@bichroma/core/register'
import { goesOn, type RunState } from '@bichroma/core/runs'
import {
  mostRingSteps,
  ringListSchema,
  startRingSchema,
  validate,
  type Ring,
  type RingResult,
  type StartRun,
} from '@bichroma/contract'
import { atomically, insertion, written } from '../data/atomically'
import { pageOf } from '../data/pageOf'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import type { Ledger } from '../ledger/ledger'
import { displayEntity, instrumentEntity } from '../register/entities'
import { noiseOfInstrument } from '../runs/instrumentNoise'
import { ringEntity, ringStepEntity, type RingRow } from './entities'

interface RingServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
  readonly startRun: (input: StartRun, who: { id: number; name: string }) => Promise<number>
  readonly stopRun: (id: number, who: { id: number; name: string }) => Promise<void>
  readonly changed: () => void
}

interface Step {
  ringId: number
  seq: number
  displayId: number
  instrumentId: number
  runId: number | null
  runState: RunState | null
  message: string | null
  slot: number
  accountId: number | null
}

/** Rings of instruments: one spot run after another, in the order of the plan, and what they tell at the end. */
export class Rings {
  private readonly going = new WorkedOff('A ring of instruments goes on', () => this.advance())

  constructor(private readonly services: RingServices) {}

  routes(api: Api): void {
    const { data, ledger, now, changed } = this.services
    api.on('GET /rings', async (request) => {
      const page = await pageOf<{ id: number }>(data, queryOf(request, ringListSchema), {
        ...{ columns: 'id', from: 'ring', where: [], by: 'id', id: 'id', down: true },
      })
      return { ...page, items: await this.shown(page.items.map((r) => r.id)) }
    })
    api.on('POST /rings', async (request, response) => {
      const { instruments, displays, reference, wanted } = validate(startRingSchema, request.body)
      if (reference !== null && !instruments.includes(reference))
        throw new Refusal('invalid-input', '“Reference” must be one of the instruments, or none.', 'reference')
      await this.mustBeThere(instruments, displays)
      const noises = await Promise.all(instruments.map((id) => noiseOfInstrument(data, id)))
      const plan = planSpotRing(
        { instruments, displays, wanted },
        Math.max(...noises.map((n) => n?.luminance ?? usualNoise)),
      )
      if (plan.steps.length > mostRingSteps)
        throw new Refusal(
          'invalid-input',
          `That would take ${plan.steps.length} short runs; ${mostRingSteps} are the most. Choose fewer instruments or displays, or a larger “Uncertainty wanted”.`,
          'wanted',
        )
      const id = this.begin(() =>
        ledger.change(
          request.account,
          (take) => {
            const made = take(
              insertion(data.manager, ringEntity, {
                ...{ referenceId: reference, wanted, uncertainty: plan.uncertainty, startedAt: now() },
                ...{ by: request.account.name, state: 'under way', endedAt: null, says: null, result: null },
              }),
            )
            plan.steps.forEach(({ display, instrument }, seq) =>
              take(
                insertion(data.manager, ringStepEntity, {
                  ...{ ringId: made, seq, displayId: display, instrumentId: instrument, runId: null },
                }),
              ),
            )
            return made
          },
          (made) => ({
            ...{ act: 'started', thing: 'ring', id: made, name: `${instruments.length} instruments` },
            evidence: { displays: displays.length, steps: plan.steps.length },
          }),
        ),
      )
      this.starter = request.account
      await this.soon()
      changed()
      response.status(201)
      return { id }
    })
    api.on('POST /rings/:id/stop', async (request) => {
      const id = idOf(request)
      const row = await data.getRepository(ringEntity).findOneBy({ id })
      if (!row) throw new Refusal('not-found', `There is no ring ${id}.`)
      if (row.state !== 'under way') throw new Refusal('conflict', 'This ring has ended already.')
      ledger.change(
        request.account,
        (take) => take(this.ending(id, 'broken off', `Stopped by ${request.account.name}.`, null)),
        () => ({ act: 'stopped', thing: 'ring', id, name: `ring ${id}` }),
      )
      const open = (await this.steps(id)).find((s) => s.runState && goesOn(s.runState))
      if (open) await this.services.stopRun(open.runId!, request.account).catch(() => {})
      changed()
      return {}
    })
  }

  /** In whose name the runs of a ring are started; after a restart, in that of whoever started its last one. */
  private starter: { id: number; name: string } | null = null

  /** One ring at a time, as the store knows. */
  private begin(add: () => number): number {
    try {
      return add()
    } catch (error) {
      if (!(error as Error).message.includes('ring.state')) throw error
      throw new Refusal('conflict', 'A ring is under way already. Wait for it, or stop it first.')
    }
  }

  private async mustBeThere(instruments: readonly number[], displays: readonly number[]): Promise<void> {
    const { data } = this.services
    const known = await data.getRepository(instrumentEntity).findBy({ id: In([...instruments]) })
    for (const id of instruments) {
      const found = known.find((i) => i.id === id)
      if (!found) throw new Refusal('invalid-input', `“Instruments” names ${id}, which is not there.`, 'instruments')
      if (found.kept !== 'in use')
        throw new Refusal('conflict', `${found.model} ${found.serial} is ${found.kept}.`, 'instruments')
    }
    const there = await data.getRepository(displayEntity).findBy({ id: In([...displays]) })
    for (const id of displays) {
      const found = there.find((d) => d.id === id)
      if (!found) throw new Refusal('invalid-input', `“Displays” names ${id}, which is not there.`, 'displays')
      if (found.kept !== 'in use') throw new Refusal('conflict', `${found.name} is ${found.kept}.`, 'displays')
    }
  }

  /** A run stands otherwise, or the server has begun. */
  soon(): Promise<void> {
    return this.going.soon()
  }

  close = (): Promise<void> => this.going.close()

  private ending(id: number, state: RingRow['state'], says: string | null, result: RingResult[] | null) {
    return written(
      `UPDATE ring SET state = ?, ended_at = ?, says = ?, result = ? WHERE id = ? AND state = 'under way'`,
      [state, this.services.now(), says, result && JSON.stringify(result), id],
    )
  }

  private steps(ringId: number): Promise<Step[]> {
    return this.services.data.query<Step[]>(
      `SELECT ring_id AS ringId, seq, ring_step.display_id AS displayId, ring_step.instrument_id AS instrumentId, run_id AS runId,
         run.state AS runState, run.message AS message, display.active_slot AS slot, run.account_id AS accountId
       FROM ring_step JOIN display ON display.id = ring_step.display_id LEFT JOIN run ON run.id = run_id
       WHERE ring_id = ? ORDER BY seq`,
      [ringId],
    )
  }

  /** The next step of the ring that is under way: none begins before the last one has ended, for the order is what counts. */
  private async advance(): Promise<void> {
    const { data, changed } = this.services
    const ring = await data.getRepository(ringEntity).findOneBy({ state: 'under way' })
    if (!ring || this.going.closed) return
    const steps = await this.steps(ring.id)
    const last = steps.filter((s) => s.runId !== null).at(-1)
    if (last?.runState && goesOn(last.runState)) return
    if (last && last.runState !== 'done')
      await this.end(
        ring.id,
        'broken off',
        `Run ${last.runId} ${last.runState}: ${last.message ?? 'it did not end well'}`,
      )
    else {
      const next = steps.find((s) => s.runId === null)
      if (next) await this.startStep(ring, next, last?.accountId ?? null)
      else await this.end(ring.id, 'done', null, await this.told(ring))
    }
    changed()
  }

  private async end(id: number, state: RingRow['state'], says: string | null, result: RingResult[] | null = null) {
    await patiently(() => atomically(this.services.data, (take) => take(this.ending(id, state, says, result))))
  }

  private async startStep(ring: RingRow, step: Step, accountId: number | null): Promise<void> {
    const { data, startRun } = this.services
    const { displayId, instrumentId, slot, seq } = step
    const who = this.starter ?? (await this.accountOf(accountId))
    if (!who) return this.end(ring.id, 'broken off', 'The server stopped before its first run.')
    try {
      const runId = await startRun({ displayId, slot, kind: 'spot', begins: 'turn', instrumentId, onlyWith: true }, who)
      atomically(data, (take) =>
        take(written('UPDATE ring_step SET run_id = ? WHERE ring_id = ? AND seq = ?', [runId, ring.id, seq])),
      )
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      await this.end(ring.id, 'broken off', error.message)
    }
  }

  /** In whose name the last run was started. */
  private async accountOf(id: number | null): Promise<{ id: number; name: string } | null> {
    const [account] = await this.services.data.query<{ id: number; name: string }[]>(
      'SELECT id, name FROM account WHERE id = ?',
      [id],
    )
    return account ?? null
  }

  /** What the whites of all its runs tell, on each kind of panel and on all together. */
  private async told(ring: RingRow): Promise<RingResult[]> {
    const { data } = this.services
    const rows = await data.query<
      { display: number; instrument: number; panelKind: PanelKind; at: number; x: number; y: number; z: number }[]
    >(
      `SELECT ring_step.display_id AS display, ring_step.instrument_id AS instrument, panel_kind AS panelKind,
         reading.at AS at, x, y, z
       FROM ring_step JOIN reading ON reading.run_id = ring_step.run_id JOIN display ON display.id = ring_step.display_id
       WHERE ring_id = ? AND stage = 'prove' AND r = 1 AND g = 1 AND b = 1 AND y > 0 ORDER BY reading.id`,
      [ring.id],
    )
    const readings = rows.map(({ x, y, z, ...row }) => ({ ...row, xyz: [x, y, z] as XYZ }))
    const of = (panelKind: PanelKind | null): RingResult => {
      const some: RingReading[] = readings.filter((r) => panelKind === null || r.panelKind === panelKind)
      return {
        panelKind,
        displays: new Set(some.map((r) => r.display)).size,
        offsets: some.length ? instrumentOffsets(some, ring.referenceId) : null,
      }
    }
    const kinds = [...new Set(readings.map((r) => r.panelKind))]
    return [of(null), ...(kinds.length > 1 ? kinds.map(of) : [])]
  }

  private async shown(ids: readonly number[]): Promise<Ring[]> {
    const { data } = this.services
    const rings = await data.getRepository(ringEntity).findBy({ id: In([...ids]) })
    const names = new Map(
      (
        await data.query<{ id: number; name: string }[]>(`SELECT id, model || ' ' || serial AS name FROM instrument`)
      ).map((i) => [i.id, i.name]),
    )
    const displays = new Map(
      (
        await data.query<{ id: number; name: string }[]>(
          `SELECT id, name FROM display WHERE id IN (SELECT display_id FROM ring_step WHERE ring_id IN (${ids.map(() => '?').join(', ')}))`,
          ids,
        )
      ).map((d) => [d.id, d.name]),
    )
    const shown: Ring[] = []
    const counts = new Map(
      (
        await data.query<{ ringId: number; steps: number; displays: number; instruments: string }[]>(
          `SELECT ring_id AS ringId, COUNT(*) AS steps, COUNT(DISTINCT display_id) AS displays,
             json_group_array(DISTINCT instrument_id) AS instruments
           FROM ring_step WHERE ring_id IN (${ids.map(() => '?').join(', ')}) GROUP BY ring_id`,
          ids,
        )
      ).map((c) => [c.ringId, c]),
    )
    for (const ring of rings.sort((a, b) => b.id - a.id)) {
      const { steps: stepCount, displays: count, instruments } = counts.get(ring.id)!
      const steps = ring.state === 'under way' ? await this.steps(ring.id) : []
      shown.push({
        ...{ ...ring, displays: count, stepCount },
        instruments: (JSON.parse(instruments) as number[]).map((id) => ({ id, name: names.get(id) ?? '' })),
        steps: steps.map(({ seq, displayId, instrumentId, runId, runState, message }) => ({
          ...{ seq, displayId, instrumentId, runId, runState, message },
          displayName: displays.get(displayId) ?? '',
        })),
      })
    }
    return shown
  }
}
