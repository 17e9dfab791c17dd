import type { DataSource } from 'typeorm'
import { In, IsNull, MoreThan } from 'typeorm'
import { runKindNames, runKinds } from '@bichroma/core/runs'
import type { ProfilePolicy } from '@bichroma/contract'
import type { CourierHub } from '../../couriers/hub'
import type { ContentStore } from '../../data/contents'
import { Refusal } from '../../http/problem'
import { displayEntity, slotEntity } from '../../register/entities'
import type { Threads } from '../../http/threads'
import { runEntity, type RunRow } from '../entities'
import { fileProfile } from './fileProfile'

/**
 * Makes a profile anew from what a run proved, without calibrating: for a slot that was found good, or for another kind
 * of profile. Throws Refusal with what stands in the way.
 */
export async function rebuildProfile(
  services: {
    readonly data: DataSource
    readonly hub: CourierHub
    readonly contents: ContentStore
    readonly threads: Threads
  },
  run: RunRow,
  policy: ProfilePolicy | undefined,
): Promise<Pick<RunRow, 'profile' | 'profileHash' | 'profileName'>> {
  if (run.state !== 'done' || !run.metrics || !run.judgement || !runKinds[run.kind].settles)
    throw new Refusal('conflict', 'A profile is made from a full run, a refresh or a check run that reached its end.')
  if (run.withdrawnAt !== null)
    throw new Refusal('conflict', 'This validation was withdrawn, so no profile is made from it.')
  if (run.judgement.verdict === 'outside')
    throw new Refusal(
      'conflict',
      `${run.judgement.sentence} A profile would only describe what is wrong. Calibrate the slot instead.`,
    )
  const display = await services.data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
  const slot = await services.data
    .getRepository(slotEntity)
    .findOneByOrFail({ displayId: display.id, number: run.slot })
  const writing = runKindNames.filter((kind) => runKinds[kind].writes)
  const since = {
    displayId: display.id,
    slot: run.slot,
    kind: In(writing),
    state: 'done' as const,
    // One that was taken back holds nothing there any more.
    takenBackAt: IsNull(),
    id: MoreThan(run.id),
  }
  if (slot.unsure || run.takenBackAt !== null || (await services.data.getRepository(runEntity).existsBy(since)))
    throw new Refusal('conflict', `Slot ${run.slot} has been written since this run. Use the newest run’s profile.`)
  const place = services.hub.displayOf(display.workstationId, display.serial)
  if (!place)
    throw new Refusal(
      'conflict',
      `The courier of ${display.name} is away, and only it tells where the tables live. Start it, then try again.`,
    )
  const { row } = await fileProfile(services, {
    run: { ...run, profile: policy ?? run.profile },
    display,
    readings: run.metrics.patches.map(({ name, rgb, xyz }) => ({ name, rgb, xyz })),
    place,
    at: run.summary?.at ?? run.startedAt,
  })
  return row
}
