import { In, Raw, type DataSource } from 'typeorm'
import { heldStates, type RunState } from '@bichroma/core/runs'
import type { Held } from '../register/holds'
import { runEntity } from './entities'

/** A state among some, written out: the store has indices of just these rows, and sees that only so. */
const among = (states: readonly RunState[]) =>
  Raw((column) =>
    states.length === 1 ? `${column} = '${states[0]}'` : `${column} IN (${states.map((s) => `'${s}'`).join(', ')})`,
  ) as never

/** The state of a run that holds its display and its instrument, as a query asks for it. */
export const isHeld = () => among(heldStates)
/** The state of a run that waits for its turn, as a query asks for it. */
export const isQueued = () => among(['queued'])

/** Whether a run holds a display or any of some instruments. */
export function heldByRuns(data: DataSource, { displayId, instrumentIds = [] }: Held): Promise<boolean> {
  return data
    .getRepository(runEntity)
    .existsBy([
      ...(displayId === undefined ? [] : [{ displayId, state: isHeld() }]),
      ...(instrumentIds.length ? [{ instrumentId: In([...instrumentIds]), state: isHeld() }] : []),
    ])
}

/** The run that holds a display; null for none. */
export const heldRunOf = async (data: DataSource, displayId: number): Promise<number | null> =>
  (await data.getRepository(runEntity).findOne({ select: { id: true }, where: { displayId, state: isHeld() } }))?.id ??
  null

/** Whether a run ever read with an instrument. */
export const runsReadWith = (data: DataSource, instrumentId: number): Promise<boolean> =>
  data.getRepository(runEntity).existsBy({ instrumentId })
