import type { DataSource } from 'typeorm'
import { atomically } from '../data/atomically'
import { patiently } from '../data/patiently'
import { logFault } from '../data/log'
import { runEntity, type RunRow } from '../runs/entities'
import { driftDueEntity, validationEntity } from './entities'
import { figuresOf, foretellAnew, refreshSlotDrift, takeOutValidation, takeValidation, type Judged } from './history'

/** Wall time between two tries at what could not be followed up, ms. */
const againMs = 30_000

/**
 * Keeps validations and trends up to date with the runs that were proved. What fails is written down and tried again: it
 * never undoes the run that it follows from, and a run that cannot be followed stands in no other's way.
 */
export class DriftKeeper {
  private again: NodeJS.Timeout | null = null
  private closed = false
  private working: Promise<void> = Promise.resolve()

  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
    /** Forecasts have changed. */
    private readonly foretold: () => void = () => {},
  ) {}

  /** Adds a judged run to the history of its slot; one that is there already stays. */
  async judged(run: Judged): Promise<void> {
    await this.trying(`Run ${run.id} was proved`, async () => {
      if (!(await this.data.getRepository(validationEntity).existsBy({ runId: run.id })))
        await patiently(() => atomically(this.data, (take) => takeValidation(this.data, take, run, figuresOf(run))))
      await refreshSlotDrift(this.data, run.displayId, run.slot, this.now())
    })
  }

  /** Takes a run out of the history: what it wrote was taken back. */
  async takenBack(run: Pick<RunRow, 'id' | 'displayId' | 'slot'>): Promise<void> {
    await this.trying(`Run ${run.id} was taken back`, async () => {
      await patiently(() => atomically(this.data, (take) => takeOutValidation(take, run)))
      await refreshSlotDrift(this.data, run.displayId, run.slot, this.now())
    })
  }

  /** Limits, whose they are, or the chance that is accepted changed: forecasts by others than those of now are made anew. */
  limitsChanged(): Promise<void> {
    this.working = this.working.then(() =>
      this.trying('Forecasts by changed limits', async () => {
        await this.foretellAnew()
        this.foretold()
      }),
    )
    return this.working
  }

  private foretellAnew = () => foretellAnew(this.data, this.now, () => this.closed)

  /** Works out the trends of a slot whose validations have changed. */
  async refresh(displayId: number, slot: number): Promise<void> {
    await this.trying(`Trends of display ${displayId}, slot ${slot}`, () =>
      refreshSlotDrift(this.data, displayId, slot, this.now()),
    )
  }

  /** Follows up whatever was left, by an older version or by a server that ended in between. */
  async catchUp(): Promise<void> {
    await this.trying('Validations were caught up with', async () => {
      for (const id of await runsToTakeOut(this.data))
        await this.trying(`Run ${id.id} is taken out`, async () =>
          atomically(this.data, (take) => takeOutValidation(take, id)),
        )
      for (const id of await runsToFile(this.data))
        await this.trying(`Run ${id} is followed up`, async () => {
          const run = await this.data.getRepository(runEntity).findOneByOrFail({ id })
          atomically(this.data, (take) => takeValidation(this.data, take, run, figuresOf(run)))
        })
      for (const { displayId, slot } of await this.data.getRepository(driftDueEntity).find())
        await this.refresh(displayId, slot)
    })
    // After an update all of them may be; nobody who starts the server waits for that.
    void this.limitsChanged()
  }

  private async trying(doing: string, work: () => Promise<void>): Promise<void> {
    try {
      await work()
    } catch (error) {
      if (this.closed) return
      logFault(doing, error)
      this.again ??= setTimeout(() => {
        this.again = null
        this.working = this.catchUp()
      }, againMs).unref()
    }
  }

  async close(): Promise<void> {
    this.closed = true
    if (this.again) clearTimeout(this.again)
    await this.working
  }
}

/** Judged runs whose validations are missing. */
async function runsToFile(data: DataSource): Promise<number[]> {
  const missing = await data.query<{ id: number }[]>(
    `SELECT run.id AS id FROM validation_due CROSS JOIN run ON run.id = run_id
     WHERE taken_back_at IS NULL AND withdrawn_at IS NULL AND state = 'done' ORDER BY run.id`,
  )
  return missing.map(({ id }) => id)
}

/** Runs that were taken back or withdrawn, and are still among the validations. */
const runsToTakeOut = (data: DataSource) =>
  data.query<{ id: number; displayId: number; slot: number }[]>(
    `SELECT id, display_id AS displayId, slot FROM run
     WHERE (taken_back_at IS NOT NULL OR withdrawn_at IS NOT NULL)
       AND EXISTS (SELECT 1 FROM validation WHERE validation.run_id = run.id)`,
  )
