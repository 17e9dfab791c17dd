import type { DataSource } from 'typeorm'
import { followedLuminance, lightHoldsRun, type Aim } from '@bichroma/core/aims'
import { clockIn } from '@bichroma/core/rounds'
import { runKinds } from '@bichroma/core/runs'
import { Refusal } from '../http/problem'
import type { DisplayRow } from '../register/entities'
import type { LightThere, LightWatch } from '../register/light/lightWatch'
import type { RunContext } from './context/runContext'
import type { RunRow } from './entities'

/** What runs ask of the watch over rooms' light. */
export type RoomLights = Pick<LightWatch, 'at' | 'back'> & { readonly zone: () => Promise<string> }

/** Where a run waits for its room's light, and what is said of it. */
interface HeldByLight {
  readonly there: LightThere
  readonly sentence: string
}

/** Whether a run has to wait for the light of its room; null when it has not. */
export async function heldByLight(
  lights: RoomLights,
  run: Pick<RunRow, 'aim' | 'kind'>,
  display: Pick<DisplayRow, 'panelKind' | 'workstationId'>,
): Promise<HeldByLight | null> {
  const there = await lights.at(display.workstationId)
  if (there?.standing !== 'out too long') return null
  const holds = lightHoldsRun({
    holdsRuns: there.holdsRuns,
    aimFollows: run.aim.fromRoom === true && runKinds[run.kind].writes,
    readFromStand: display.panelKind === 'projector-lamp',
  })
  if (!holds) return null
  const since = clockIn(there.outSince!, await lights.zone())
  const is = there.problem ?? 'not as it is wanted'
  return { there, sentence: `The light of ${there.room} is ${is}, since ${since}.` }
}

/**
 * Lets a run that its room's light would spoil wait until that is as it is wanted, or somebody says to go on. It is no step:
 * a run that is taken up again behind it does not wait, and one that waited does so again.
 */
export async function waitForLight({ services, run, display, steps, waits }: RunContext): Promise<void> {
  const held = steps.replaying ? null : await heldByLight(services.lights, run, display)
  if (!held) return
  const { there, sentence } = held
  // While this run has the instrument, nobody reads the room.
  const watched = there.instrumentId !== run.instrumentId
  await waits.until(
    'light',
    `${sentence} ${watched ? 'The run goes on by itself once it is as it is wanted, or when you press “Go on”.' : 'The instrument that watches it is in this run: see to the light, then press “Go on”.'}`,
    watched ? (signal) => services.lights.back(there.roomId, signal) : undefined,
  )
}

/**
 * An aim that follows its room, at the luminance that the room's agreed light asks for. Throws Refusal while nobody agreed on
 * one.
 */
export async function followRoom(data: DataSource, aim: Aim, workstationId: number): Promise<Aim> {
  if (!aim.fromRoom) return aim
  const [room] = await data.query<{ name: string; levelLux: number | null }[]>(
    `SELECT room.name AS name, level_lux AS levelLux FROM workstation JOIN room ON room.id = room_id WHERE workstation.id = ?`,
    [workstationId],
  )
  if (!room || room.levelLux === null)
    throw new Refusal(
      'conflict',
      `This aim follows the light of the room, and nobody has agreed on one for ${room?.name ?? 'this room'}. Agree on it under Register, Rooms.`,
      'aimId',
    )
  return { ...aim, luminance: followedLuminance(aim.luminance, room.levelLux) }
}
