import { Segmented } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { placeName } from '@bichroma/core/runs'
import type { RunReview } from '@bichroma/contract'
import { formatDay } from '../parts/times'
import { UniformityGrid } from '../charts/UniformityGrid'

/** How even the screen is, from the newest uniformity run of the display. */
export function ScreenMap({
  uniformity,
  displayId,
  slot,
}: {
  uniformity: RunReview['uniformity']
  displayId: number
  slot: number
}) {
  const [by, setBy] = useState<'luminance' | 'uv'>('luminance')
  if (!uniformity)
    return (
      <p className="none">
        This screen has not been read place by place yet.{' '}
        <Link to={`/runs/new?display=${displayId}&slot=${slot}&kind=uniformity`}>Start a uniformity run</Link>
      </p>
    )
  const { worstLuminance, worstUv } = uniformity.map
  return (
    <div className="screenmap">
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <Segmented
          size="small"
          aria-label="Figure shown"
          value={by}
          onChange={setBy}
          options={[
            { value: 'luminance', label: 'Luminance' },
            { value: 'uv', label: 'Δu′v′' },
          ]}
        />
        <span className="quiet small">against the centre, read {formatDay(uniformity.at)}; below it cd/m²</span>
      </div>
      <UniformityGrid places={uniformity.map.places} by={by} />
      <p className="second">
        Furthest in luminance: {placeName(worstLuminance).toLowerCase()},{' '}
        <span className="fig">{Math.abs(worstLuminance.luminanceOff).toFixed(1)} %</span>{' '}
        {worstLuminance.luminanceOff < 0 ? 'below' : 'above'} the centre. Furthest in colour:{' '}
        {placeName(worstUv).toLowerCase()}, <span className="fig">{worstUv.deltaUv.toFixed(4)}</span> Δu′v′.
      </p>
    </div>
  )
}
