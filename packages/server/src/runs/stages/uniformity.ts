import { placeName, screenCentre, uniformityOf, uniformityPlaces, white, type PlaceReading } from '@bichroma/core/runs'
import type { RunContext } from '../context/runContext'

/** White has to be where the instrument lies, and the same light everywhere. */
const wholeScreen = 1

/** Steps away from the centre, as hands are told them. */
function whereabouts({ row, column }: { row: number; column: number }): string {
  const name = placeName({ row, column })
  return name === 'Centre' ? 'the centre of the screen' : `${name.toLowerCase()} of the grid that is shown`
}

/**
 * Uniformity: white at 25 places, the instrument moved by hands that say when it lies; the centre once more at the end, so
 * that what white drifted meanwhile can be taken out.
 */
export async function uniformity(context: RunContext): Promise<null> {
  const { run, display } = context
  await context.want('white through the slot', { pipeline: 'slot', slot: run.slot })
  const readings: PlaceReading[] = []
  for (const [i, place] of [...uniformityPlaces, screenCentre].entries()) {
    const name = i === uniformityPlaces.length ? 'Centre again' : placeName(place)
    // It lies on the centre already when the run begins: Ready has read there.
    if (i > 0)
      await context.askHands(
        `place ${i}`,
        'place',
        `Lay the instrument flat on ${whereabouts(place)} of ${display.name} (${i + 1} of ${uniformityPlaces.length + 1}), then press “Go on”.`,
      )
    const { xyz } = await context.readings.read(name, white.rgb, { area: wholeScreen })
    readings.push({ ...place, xyz })
  }
  const map = uniformityOf(readings)
  await context.save({ uniformity: map })
  const { worstLuminance, worstUv } = map
  await context.sheet.note({
    endedAt: context.now(),
    evidence: [
      `25 places: luminance at most ${Math.abs(worstLuminance.luminanceOff).toFixed(1)} % ${worstLuminance.luminanceOff < 0 ? 'below' : 'above'} the centre, at ${placeName(worstLuminance).toLowerCase()}`,
      `White at most ${worstUv.deltaUv.toFixed(4)} Δu′v′ from the centre, at ${placeName(worstUv).toLowerCase()}`,
    ],
  })
  return null
}
