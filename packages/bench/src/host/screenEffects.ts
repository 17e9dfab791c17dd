import type { HostCondition } from '@bichroma/contract'
import type { Triple } from '@bichroma/core/color'
import type { RoomLight } from '../light/roomLight'

type Conditions = Readonly<Record<HostCondition, boolean>>

/** Blue and green that a warm evening tint leaves of the signal. */
const evening: Triple = [1, 0.9, 0.68]
/** Where HDR mode puts what applications call white, and how it bends what lies below. */
const hdr = { white: 0.72, exponent: 0.9 }

/**
 * What a workstation makes of a signal before it leaves: nothing, unless a ruinous condition is on. A screen saver, and
 * sleep on the power that it has now, show black; mirroring shows the other screen's grey picture.
 */
export function signalOnScreen(conditions: Conditions, rgb: Triple): Triple {
  const asleep = conditions.onBattery ? conditions.sleepOnBattery : conditions.sleepOnMains
  if (conditions.screenSaver || asleep) return [0, 0, 0]
  if (conditions.mirroring) return [0.5, 0.5, 0.5]
  const tint = conditions.eveningTint ? evening : ([1, 1, 1] as const)
  return rgb.map((v, c) => {
    const tinted = v * tint[c]
    return conditions.hdr ? hdr.white * tinted ** hdr.exponent : tinted
  }) as unknown as Triple
}

/** Illuminance at which automatic brightness leaves the light alone, lx. */
const brightRoom = 400
/** Colour temperature to which white adaptation leaves the white alone, K. */
const coolRoom = 6500

/** What automatics that look at the room do to the light of the channels. */
export function automaticFactors(conditions: Conditions, room: RoomLight): Triple {
  const dim = conditions.automaticBrightness
    ? Math.min(1, Math.max(0.3, 0.45 + (0.55 * room.illuminanceLux) / brightRoom))
    : 1
  const saving = conditions.onBattery ? 0.8 : 1
  const warm = conditions.whiteAdaptation ? Math.min(1, Math.max(0.4, (room.kelvin / coolRoom) ** 0.6)) : 1
  return [dim * saving, dim * saving * (0.5 + 0.5 * warm), dim * saving * warm]
}
