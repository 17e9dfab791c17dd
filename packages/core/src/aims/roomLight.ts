/** What a room's light is wanted to be: illuminance at the desk, lx, and correlated temperature, K. */
export interface RoomLightRange {
  readonly lux: { readonly from: number; readonly to: number }
  readonly kelvin?: { readonly from: number; readonly to: number }
}

/** What was read of a room's light. Temperature null where it has none. */
export interface RoomLightReading {
  readonly illuminanceLux: number
  readonly kelvin: number | null
}

/** Share of the light that falls on it which white paper sends back, evenly in all directions. */
const paperReflectance = 0.85
/** The least luminance of a display that pictures are judged on, cd/m². ISO 3664:2009 §4.4. */
const leastLuminance = 80

/**
 * The luminance (cd/m²) at which a display's white is as bright as a sheet of white paper on the desk: that of a perfect
 * diffuser under so many lx, ρE/π (J. H. Lambert, Photometria, 1760), and no less than ISO 3664:2009 asks of a display.
 */
export const luminanceForRoom = (illuminanceLux: number): number =>
  Math.max(leastLuminance, Math.round((paperReflectance * illuminanceLux) / Math.PI))

/** What is wrong with a room's light, in one sentence; null when it is as it is wanted. */
export function roomLightProblem({ illuminanceLux, kelvin }: RoomLightReading, range: RoomLightRange): string | null {
  const { lux } = range
  if (illuminanceLux < lux.from || illuminanceLux > lux.to) {
    const whole = Math.round(illuminanceLux)
    // Just past an edge it is told so that it is seen to be.
    const told = whole < lux.from || whole > lux.to ? whole : illuminanceLux.toFixed(1)
    return `${told} lx, wanted ${lux.from} to ${lux.to} lx`
  }
  if (range.kelvin && kelvin !== null && (kelvin < range.kelvin.from || kelvin > range.kelvin.to))
    return `${Math.round(kelvin / 10) * 10} K, wanted ${range.kelvin.from} to ${range.kelvin.to} K`
  return null
}
