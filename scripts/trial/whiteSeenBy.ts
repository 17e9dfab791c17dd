import {
  makeDetector,
  PanelModel,
  responseOf,
  settled,
  xyzOfLight,
  type InstrumentModel,
  type PanelTraits,
} from '@bichroma/bench'
import type { XYZ } from '@bichroma/core/color'

/** A new, settled panel's white as it is, and as an instrument without noise or correction sees it. */
export function whiteSeenBy(instrument: InstrumentModel, traits: PanelTraits): { truth: XYZ; seen: XYZ } {
  const light = new PanelModel(traits).lightOfDrive([1, 1, 1], { ...settled, backlight: traits.control.max, at: 0 })
  return { truth: xyzOfLight(light), seen: makeDetector(responseOf(instrument))(light) }
}
