import type { DataSource } from 'typeorm'
import type { Stage } from '@bichroma/core/runs'
import type { StageRecord } from '@bichroma/contract'
import { patiently } from '../../data/patiently'
import { runEntity, stageEntity, stageRecordOf, type RunRow } from '../entities'

/** The stages of a run as its sheet shows them: stored first, then told. */
export class StageSheet {
  stages: StageRecord[] = []
  private readonly remarks = new Map<Stage, string[]>()

  constructor(
    private readonly data: DataSource,
    private readonly run: RunRow,
    private readonly now: () => number,
    private readonly changed: () => void,
  ) {}

  private get records() {
    return this.data.getRepository(stageEntity)
  }

  /** Reads what is stored; the time that steps took is counted anew as they are replayed. */
  async load(): Promise<void> {
    const rows = await this.records.find({ where: { runId: this.run.id }, order: { id: 'ASC' } })
    this.stages = rows.map((row) => ({ ...stageRecordOf(row), tookMs: 0 }))
  }

  get current(): StageRecord | undefined {
    return this.stages.find((s) => s.stage === this.run.stage)
  }

  /** What everything took so far, at real pace, ms. */
  get elapsedMs(): number {
    return this.stages.reduce((sum, s) => sum + s.tookMs, 0)
  }

  async begin(stage: Stage): Promise<void> {
    this.run.stage = stage
    if (!this.current) {
      const record: StageRecord = { stage, startedAt: this.now(), endedAt: null, tookMs: 0, evidence: [] }
      this.stages.push(record)
      await patiently(() => this.records.insert({ ...record, runId: this.run.id }))
    }
    await patiently(() => this.data.getRepository(runEntity).update({ id: this.run.id }, { stage }))
  }

  account(tookMs: number): void {
    if (this.current) this.current.tookMs += tookMs
  }

  /** Puts evidence on the current stage, in place of what stood there; remarks stay below it. */
  async note(change: Partial<Omit<StageRecord, 'stage'>>): Promise<void> {
    const record = this.current
    if (!record) return
    const remarks = this.remarks.get(record.stage) ?? []
    const told = (change.evidence ?? record.evidence).filter((line) => !remarks.includes(line))
    Object.assign(record, change, { evidence: [...told, ...remarks] })
    const { stage, ...fields } = record
    await patiently(() => this.records.update({ runId: this.run.id, stage }, fields))
    this.changed()
  }

  /** Adds a sentence to the evidence of the current stage, for good. */
  async remark(sentence: string): Promise<void> {
    const { stage } = this.run
    this.remarks.set(stage, [...(this.remarks.get(stage) ?? []), sentence])
    await this.note({})
  }
}
