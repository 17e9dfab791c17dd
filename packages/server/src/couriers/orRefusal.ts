import { Refusal } from '../http/problem'
import { CourierGone, DeviceRefusal } from './courierErrors'

/** Asks something of a courier on somebody's behalf; one that is away is told in that sentence, what a device refuses in its own. */
export async function orRefusal<T>(away: string, ask: () => Promise<T>): Promise<T> {
  try {
    return await ask()
  } catch (error) {
    if (error instanceof CourierGone) throw new Refusal('conflict', away)
    if (error instanceof DeviceRefusal) throw new Refusal('conflict', error.sentence)
    throw error
  }
}
