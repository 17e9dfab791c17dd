import { In, type DataSource } from 'typeorm'
import { heldStates } from '@bichroma/core'
import type { Held } from '../register/holds'
import { runEntity } from './entities'

/** Whether a run holds a display or any of some instruments. */
export function heldByRuns(data: DataSource, { displayId, instrumentIds = [] }: Held): Promise<boolean> {
  const state = In([...heldStates])
  return data
    .getRepository(runEntity)
    .existsBy([
      ...(displayId === undefined ? [] : [{ displayId, state }]),
      ...(instrumentIds.length ? [{ instrumentId: In([...instrumentIds]), state }] : []),
    ])
}

/** Whether a run ever read with an instrument. */
export const runsReadWith = (data: DataSource, instrumentId: number): Promise<boolean> =>
  data.getRepository(runEntity).existsBy({ instrumentId })
