import { positionOf, screenCentre } from '@bichroma/core/runs'
import type { StageRecord } from '@bichroma/contract'

/** What a technician's hands reach at a display. */
export interface Hands {
  readonly brightest: number
  brightness(): Promise<number>
  turnTo(setting: number): Promise<void>
  powerCycle(): Promise<void>
  /** Lays the instrument flat on the centre. */
  seat(): Promise<void>
  /** Lays it flat on another place of the screen, −1 to 1 from left to right and from bottom to top. */
  layOn(place: { x: number; y: number }): Promise<void>
}

/** What a run that waits tells of itself. */
interface Waiting {
  readonly message: string | null
  readonly stages: readonly StageRecord[]
}

/**
 * Sees to what a run waits for, as a technician would who reads the run sheet: turns the brightness, switches the display
 * off and on. Gives the conditions that are to be confirmed, for whoever presses “Go on”; null where nobody has to press
 * it, for the run reads on by itself.
 */
export async function seeTo({ message, stages }: Waiting, hands: Hands): Promise<string[] | null> {
  const toConfirm = stages
    .flatMap((s) => s.conditions ?? [])
    .filter((c) => c.confirm === 'needed')
    .map((c) => c.id)
  if (toConfirm.length && message?.startsWith('Look at')) return toConfirm
  if (message?.includes('all the way up')) await hands.turnTo(hands.brightest)
  else if (message?.includes('switched off and on')) await hands.powerCycle()
  else if (message?.includes('Seat it flat')) await hands.seat()
  else if (message?.startsWith('Lay the instrument flat on')) {
    const [, row, column] = /on row (\d), column (\d) /.exec(message) ?? []
    await hands.layOn(positionOf(row ? { row: Number(row), column: Number(column) } : screenCentre))
  } else if (message?.includes(': leave the brightness')) return null
  else if (message?.includes(': turn the brightness')) {
    const gauge = stages.find((s) => s.stage === 'level')?.gauge
    if (gauge?.turn !== 'up' && gauge?.turn !== 'down') return null
    const now = await hands.brightness()
    const newest = gauge.luminances[gauge.luminances.length - 1]
    const wanted = Math.round((now * (gauge.from + gauge.to)) / 2 / newest)
    const turned = gauge.turn === 'up' ? Math.max(now + 1, wanted) : Math.min(now - 1, wanted)
    const within = Math.min(hands.brightest, Math.max(0, turned))
    await hands.turnTo(within)
    // Where it goes no further, that is said.
    return within === now ? [] : null
  }
  return []
}
