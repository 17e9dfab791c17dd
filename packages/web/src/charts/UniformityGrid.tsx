import { formatSigned } from '@bichroma/core/aims'
import { placeName, uniformitySide, type PlaceFigure } from '@bichroma/core/runs'
import './screengrid.css'

/** Luminance off the centre (%) and Δu′v′ at which a place is drawn at its strongest. */
const strongest = { luminance: 15, uv: 0.01 }

/** How much of the text's colour lies over a place that is as the centre: it gets darker the further one is from it. */
const brightest = 0.16

/** A screen by its places: how far each is from the centre, in figures and as a shade; the one to be read now marked. */
export function UniformityGrid({
  places,
  by,
  next,
}: {
  places: readonly PlaceFigure[]
  by: 'luminance' | 'uv'
  next?: { row: number; column: number } | null
}) {
  const cells = Array.from({ length: uniformitySide ** 2 }, (_, i) => ({
    row: Math.floor(i / uniformitySide) + 1,
    column: (i % uniformitySide) + 1,
  }))
  return (
    <div className="screengrid" role="table" aria-label="Screen, place by place">
      {Array.from({ length: uniformitySide }, (_, r) => (
        <div role="row" key={r}>
          {cells
            .filter((c) => c.row === r + 1)
            .map((cell) => {
              const found = places.find((p) => p.row === cell.row && p.column === cell.column)
              const isNext = next?.row === cell.row && next.column === cell.column
              const share = found
                ? Math.min(
                    1,
                    by === 'uv' ? found.deltaUv / strongest.uv : Math.abs(found.luminanceOff) / strongest.luminance,
                  )
                : 0
              return (
                <div
                  role="cell"
                  key={cell.column}
                  className={isNext ? 'next' : undefined}
                  aria-label={`${placeName(cell)}${isNext ? ', to be read now' : ''}`}
                >
                  <i aria-hidden style={{ opacity: found ? brightest * (1 - share) : 0 }} />
                  {found ? (
                    <span className="fig">
                      {by === 'uv' ? found.deltaUv.toFixed(4) : `${formatSigned(found.luminanceOff, 1)} %`}
                      <br />
                      <span className="second">{found.luminance.toFixed(1)}</span>
                    </span>
                  ) : (
                    <span className="quiet small">{isNext ? 'here' : ''}</span>
                  )}
                </div>
              )
            })}
        </div>
      ))}
    </div>
  )
}
