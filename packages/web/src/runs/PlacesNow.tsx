import { placeName, screenCentre, uniformityOf, uniformityPlaces, type PlaceFigure } from '@bichroma/core/runs'
import type { RunDetail } from '@bichroma/contract'
import { Plane } from '../parts/Plane'
import { UniformityGrid } from '../charts/UniformityGrid'

/** Places read so far, from the run's log. */
function placesOf(run: RunDetail): readonly PlaceFigure[] {
  if (run.uniformity) return run.uniformity.places
  const readings = run.log
    .filter((r) => r.stage === 'prove')
    .flatMap((r) => {
      const place = uniformityPlaces.find((p) => placeName(p) === r.name)
      return place ? [{ ...place, xyz: r.xyz }] : []
    })
  return readings.length ? uniformityOf(readings).places : []
}

/** The screen while it is read place by place: what was found, and where the instrument has to lie now. */
export function PlacesNow({ run }: { run: RunDetail }) {
  const places = placesOf(run)
  const next =
    run.state === 'done'
      ? null
      : places.length < uniformityPlaces.length
        ? uniformityPlaces[places.length]
        : screenCentre
  return (
    <Plane title="Screen" aside="luminance against the centre; below it cd/m²">
      <div style={{ padding: '0 12px 12px' }}>
        <UniformityGrid places={places} by="luminance" next={next} />
      </div>
    </Plane>
  )
}
