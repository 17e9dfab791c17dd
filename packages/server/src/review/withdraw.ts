import { IsNull, MoreThanOrEqual, Not, type DataSource } from 'typeorm'
import { runKinds } from '@bichroma/core/runs'
import { atomically, changesMade } from '../data/atomically'
import { validationEntity } from '../drift/entities'
import { takeOutValidation } from '../drift/history'
import { Refusal } from '../http/problem'
import { displayEntity, slotEntity, type SlotRow } from '../register/entities'
import { runEntity, runName } from '../runs/entities'
import type { JudgedRun } from './judgedRun'
import type { ReviewServices } from './services'

/**
 * Withdraws a validation that should not count, as an administrator decided and says why: it stays, with all that was
 * read, and no longer counts for the slot's verdict, its due line or its trends. Throws Refusal for one that counts for
 * nothing.
 */
export async function withdrawValidation(
  { data, drift, ledger, now }: ReviewServices,
  run: JudgedRun,
  reason: string,
  account: { id: number; name: string },
): Promise<void> {
  const already = new Refusal('conflict', 'This validation has been withdrawn already.')
  if (run.withdrawnAt !== null) throw already
  if (!runKinds[run.kind].settles)
    throw new Refusal(
      'conflict',
      `A ${runKinds[run.kind].label.toLowerCase()} counts for nothing that could be withdrawn.`,
    )
  if (run.takenBackAt !== null)
    throw new Refusal('conflict', 'What this run wrote was taken back, so it does not count any more.')
  const { name: displayName } = await data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
  const name = runName(run, displayName)
  const slot = await data.getRepository(slotEntity).findOneByOrFail({ displayId: run.displayId, number: run.slot })
  const counts = slot.judgedRunId === run.id
  const before = counts ? await newestBesides(data, slot, run.id) : null
  atomically(data, (take) => {
    take(
      data.manager
        .createQueryBuilder()
        .update(runEntity)
        .set({ withdrawnAt: now(), withdrawnBy: account.name, withdrawnReason: reason })
        .where({ id: run.id, withdrawnAt: IsNull() }),
    )
    if (changesMade(data) === 0) throw already
    takeOutValidation(take, run)
    // Where another run was judged meanwhile the slot counts by that.
    if (counts)
      take(
        data.manager
          .createQueryBuilder()
          .update(slotEntity)
          .set({ judgedRunId: before })
          .where({ id: slot.id, judgedRunId: run.id }),
      )
    take(
      ledger.entry(account, {
        act: 'withdrew',
        thing: 'run',
        id: run.id,
        name,
        why: reason,
        evidence: { display: run.displayId, slot: run.slot },
      }),
    )
  })
  await drift.refresh(run.displayId, run.slot)
}

/** The newest other validation of what a slot holds now, since it was written; null when there is none. */
async function newestBesides(data: DataSource, slot: SlotRow, runId: number): Promise<number | null> {
  if (slot.label === null) return null
  const found = await data.getRepository(validationEntity).findOne({
    where: {
      displayId: slot.displayId,
      slot: slot.number,
      label: slot.label,
      runId: Not(runId),
      ...(slot.writtenAt !== null && { at: MoreThanOrEqual(slot.writtenAt) }),
    },
    order: { at: 'DESC', id: 'DESC' },
  })
  return found?.runId ?? null
}
