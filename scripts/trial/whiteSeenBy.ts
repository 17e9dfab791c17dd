import {
  makeDetector,
  PanelModel,
  responseOf,
  settled,
  xyzOfLight,
  type InstrumentModel,
  type PanelTraits,
} from '@bichroma/bench'
import { convertXyzToLab, deltaE2000, type Triple, type XYZ } from '@bichroma/core/color'
import { unseenPatches } from './truthOf'

/** A new, settled panel's light by its drives, as it is, and as an instrument without noise or correction sees it. */
function lightSeenBy(instrument: InstrumentModel, traits: PanelTraits) {
  const panel = new PanelModel(traits)
  const detect = makeDetector(responseOf(instrument))
  return (drive: Triple): { truth: XYZ; seen: XYZ } => {
    const light = panel.lightOfDrive(drive, { ...settled, backlight: traits.control.max, at: 0 })
    return { truth: xyzOfLight(light), seen: detect(light) }
  }
}

/** Its white. */
export const whiteSeenBy = (instrument: InstrumentModel, traits: PanelTraits): { truth: XYZ; seen: XYZ } =>
  lightSeenBy(instrument, traits)([1, 1, 1])

/** Colours that an instrument is held against the truth on. */
const colors = 300

/** How far colours are from the truth as an instrument without noise or correction sees them, each under its own white: ΔE2000 on average. */
export function colorsSeenBy(instrument: InstrumentModel, traits: PanelTraits): number {
  const of = lightSeenBy(instrument, traits)
  const white = of([1, 1, 1])
  const errors = unseenPatches(colors, 1, traits.signal.bits).map((drive) => {
    const { truth, seen } = of(drive)
    return deltaE2000(convertXyzToLab(truth, white.truth), convertXyzToLab(seen, white.seen))
  })
  return errors.reduce((sum, v) => sum + v, 0) / errors.length
}
