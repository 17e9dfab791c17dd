import type { RunDetail } from '@bichroma/contract'
import { Studio } from '../../tests/studio'
import { until } from '../waiting'
import { FaultyDisk, type DiskFault } from './faultyDriver'

/** One run whose disk fails at one of its writes. */
export interface DiskCase {
  readonly kind: 'full' | 'check'
  readonly fault: DiskFault
  /** Which write of the run is the first to fail; from 1. */
  readonly at: number
}

export interface DiskOutcome extends DiskCase {
  /** What does not hold; null when all does. */
  readonly wrong: string | null
  /** Writes that the whole run had, when none of them failed. */
  readonly writes: number
}

/** A studio on a disk that fails when told to, with a calibrated slot. */
export class FailingStudio {
  private constructor(
    readonly studio: Studio,
    readonly disk: FaultyDisk,
    private readonly saidMs: number,
  ) {}

  /** `saidMs`: wall time in which a run has to say what became of it. */
  static async open(saidMs: number): Promise<FailingStudio> {
    const disk = new FaultyDisk()
    const studio = await Studio.proven({ storeDriver: disk.driver })
    return new FailingStudio(studio, disk, saidMs)
  }

  private start(kind: DiskCase['kind']): Promise<number> {
    return this.studio.start(
      kind === 'full' ? { sampling: 'brief' } : { kind: 'check', aimId: undefined, overwrites: undefined },
    )
  }

  /** How many writes a run has on a disk that holds. */
  async count(kind: DiskCase['kind']): Promise<number> {
    this.disk.arm('full', Infinity)
    const run = await this.studio.finish(await this.start(kind))
    if (run.state !== 'done') throw new Error(`A run on a good disk was ${run.state}: ${run.message}`)
    return this.disk.writes
  }

  /** Lets the disk fail at a write of a run, looks what the run says, mends the disk, and brings the run to its end. */
  async suffer(it: DiskCase): Promise<DiskOutcome> {
    const { studio, disk } = this
    const wrong = (what: string | null): DiskOutcome => ({ ...it, wrong: what, writes: disk.writes })
    const unforeseen: unknown[] = []
    const note = (error: unknown) => unforeseen.push(error)
    process.on('unhandledRejection', note)
    try {
      disk.arm(it.fault, it.at)
      let id: number
      try {
        id = await this.start(it.kind)
      } catch (error) {
        // Its first write is what stores it: then there is no run, and whoever asked was told.
        disk.mend()
        return wrong(
          it.at === 1 && (error as { status?: number }).status === 503 ? null : `not started: ${String(error)}`,
        )
      }
      let seen: RunDetail = await studio.run(id)
      const look = async () => {
        const next = await studio.run(id)
        if (JSON.stringify(next.log.slice(0, seen.log.length)) !== JSON.stringify(seen.log))
          throw new Error('a reading that was told is gone, or another')
        seen = next
        return next
      }
      await until(async () => disk.failed.length > 0 || (await look()).state === 'done', 'the disk fails', 60_000)
      await until(async () => (await look()).state !== 'running', 'the run says what became of it', this.saidMs)
      if (seen.state === 'interrupted' && !/disk|Another program/.test(seen.message ?? ''))
        return wrong(`it says: ${seen.message}`)
      disk.mend()
      if (seen.state === 'interrupted') {
        const restoring = seen.restoring
        await studio.admin.post(`/runs/${id}/${restoring ? 'stop' : 'resume'}`)
        const ended = await studio.finish(id)
        await look()
        if (ended.state !== (restoring ? 'stopped' : 'done'))
          return wrong(`taken up again it was ${ended.state}: ${ended.message}`)
      } else if (seen.state !== 'done') return wrong(`it was ${seen.state}: ${seen.message}`)
      if (unforeseen.length) return wrong(`nobody caught: ${String(unforeseen[0])}`)
      const display = await studio.display()
      if (display.runId !== null) return wrong('the display is still held')
      if (display.slots[0].judged?.runId !== id) return wrong('the slot is judged by another run')
      return wrong(null)
    } catch (error) {
      return wrong(String(error))
    } finally {
      disk.mend()
      process.off('unhandledRejection', note)
    }
  }

  close(): Promise<void> {
    return this.studio.close()
  }
}
