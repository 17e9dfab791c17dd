import { fenLantern, PanelModel, settled, xyzOfLight } from '@bichroma/bench'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import { instrumentChanges, type LightPoint, type LightSeries } from '@bichroma/core/drift'

const day = 86_400_000
/** Days of a fleet before anything is looked for, and in which it is. */
const [before, year] = [240, 365]
/** Days between checks of a display, and between two full runs of it. */
const [everyDays, calibratedEvery] = [28, 210]
/** Hours a day for which a display is on. */
const hoursADay = 9
const instruments = [1, 2, 3, 4] as const
/** One reading of white by a colorimeter that is laid on anew: its noise, and its place on the screen. */
const scatter = { noise: 0.0012, place: 0.0015 }

interface FleetStory {
  readonly seed: number
  /** Which instrument drifts, from which day of the year on, and by how much in how many days; none for a fleet that is well. */
  readonly drifts: {
    readonly instrument: number
    readonly from: number
    readonly share: number
    readonly days: number
  } | null
  /** Share of checks that are made with the instrument that is usual in that room; the rest with any of the four. */
  readonly usual: number
}

/** A year of Fen & Lantern’s displays as the bench has them: ageing, moods of the day, checks by four instruments. */
function fleetSeries({ seed, drifts, usual }: FleetStory): LightSeries[] {
  const random = uniformFrom(seed * 7 + 3)
  const normal = normalFrom(random)
  const start = 1.8e12 - (1.8e12 % day)
  const off = instruments.map(() => 0.004 * normal())
  const rooms = [...new Set(fenLantern.workstations.map((w) => w.room))]
  const reads = (instrument: number, at: number) => {
    const into = drifts && drifts.instrument === instrument ? (at - start) / day - before - drifts.from : -1
    const gone = into < 0 ? 0 : Math.min(1, into / drifts!.days) * drifts!.share
    return Math.exp(off[instrument - 1] + Math.log1p(gone) + Math.hypot(scatter.noise, scatter.place) * normal())
  }
  return fenLantern.workstations.flatMap(({ room, displays }) =>
    displays.flatMap((display, n): LightSeries[] => {
      const panel = new PanelModel(display.panel, seed * 1000 + n * 17 + rooms.indexOf(room))
      const hours = 500 + 9000 * random()
      const light = (at: number) =>
        xyzOfLight(
          panel.lightOfDrive([1, 1, 1], {
            ...settled,
            hours: hours + ((at - start) / day) * hoursADay,
            backlight: display.panel.control.max,
            at,
          }),
        )[1]
      const series: LightPoint[][] = [[]]
      let next = random() * everyDays
      let calibrated = -random() * calibratedEvery
      for (let d = next; d < before + year; d = next) {
        const at = start + d * day
        const instrumentId =
          random() < usual ? 1 + (rooms.indexOf(room) % instruments.length) : instruments[Math.floor(4 * random())]
        if (d - calibrated > calibratedEvery) {
          series.push([])
          calibrated = d
        }
        series[series.length - 1].push({ at, instrumentId, luminance: light(at) * reads(instrumentId, at) })
        next = d + everyDays * (0.75 + 0.5 * random())
      }
      return series.map((points) => ({ points }))
    }),
  )
}

/** The days of the year on which somebody is told, looking once a week, and of which instrument; the first only. */
export function firstAlarm(story: FleetStory, until = year): { day: number; instrument: number; score: number } | null {
  const series = fleetSeries(story)
  const start = 1.8e12 - (1.8e12 % day) + before * day
  for (let d = 0; d <= until; d += 7) {
    const [change] = instrumentChanges(series, start + d * day)
    if (change?.alarm) return { day: d, instrument: change.instrumentId, score: change.score }
  }
  return null
}
