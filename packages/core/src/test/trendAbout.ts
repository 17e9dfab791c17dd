import { normalQuantile, type Trend } from '../drift/theilSen'

/** Makes trends about an instant, ms since 1970: so high there, so steep a day, with deviations of slope and height. */
export const trendAbout =
  (pivot: number) =>
  ({ height = 0, slope = 0, off = 0, heightOff = 0 } = {}): Trend => {
    const reach = off * normalQuantile(0.9)
    return {
      ...{ slope, slopeLow: slope - reach, slopeHigh: slope + reach },
      ...{ pivot, height, heightDeviation: heightOff, spread: heightOff, confidence: 0.8, observations: 12 },
    }
  }
