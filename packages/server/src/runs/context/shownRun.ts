import { runProgress, type RunState } from '@bichroma/core/runs'
import type { RunLive, RunReading } from '@bichroma/contract'
import type { RunRow } from '../entities'
import type { StageSheet } from './stageSheet'

/** Readings of whose durations the time left is reckoned: the newest. */
const longestLog = 400

/** What people see of a run as it goes. */
export class ShownRun {
  patch: RunLive['patch'] = null
  /** Readings that the stages are expected to take, and seconds that the tables are on their way, once Ready knows. */
  planned: Parameters<typeof runProgress>[4]
  loadSeconds = 0
  private loading: RunLive['loading'] = null
  private inStage = 0
  private readonly took: number[] = []

  constructor(
    private readonly run: RunRow,
    private readonly sheet: StageSheet,
    private readonly tell: (live: RunLive) => void,
  ) {}

  beginStage(): void {
    this.inStage = 0
  }

  /** A reading has been taken, in so many ms at real pace. */
  tookOne(ms: number): void {
    this.inStage++
    this.took.push(ms)
  }

  /** Tells how much of the tables is on the display, 0–1; null once they are. */
  showLoading(done: number | null): void {
    this.loading = done === null ? null : { done, secondsLeft: (1 - done) * this.loadSeconds }
    this.publish()
  }

  live(latest: RunReading | null = null): RunLive {
    const { id, state, stage, message, restoring, asks, kind } = this.run
    const progress =
      state === 'done'
        ? { done: 1, secondsLeft: 0, basis: this.took.length }
        : runProgress(
            kind,
            stage,
            this.inStage,
            this.took.slice(-longestLog),
            this.planned,
            this.loadSeconds || undefined,
            this.loading?.done,
          )
    return {
      id,
      state: state as RunState,
      restoring,
      stage,
      stages: this.sheet.stages,
      progress,
      patch: this.patch,
      message,
      asks,
      latest,
      loading: this.loading,
    }
  }

  /** Tells everybody how the run stands, with the reading that it has just taken, if any. */
  publish(latest: RunReading | null = null): void {
    this.tell(this.live(latest))
  }
}
