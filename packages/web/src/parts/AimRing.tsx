import { verdictWords, type Verdict } from '@bichroma/core/aims'
import type { Chromaticity } from '@bichroma/core/color'
import { aimRingFactor, cssOfWhite, enlargedWhite } from '@bichroma/core/floor'

interface Props {
  /** The aim's white; null when nothing is aimed at. */
  aim: Chromaticity | null
  /** The measured white; null when it was never read. */
  measured: Chromaticity | null
  verdict: Verdict
  size?: number
}

/** The sign of a display: outer ring in the aim's white, inner disc in the measured white, their difference enlarged. */
export function AimRing({ aim, measured, verdict, size = 40 }: Props) {
  const label = `Aim ring, ${verdictWords[verdict]}; white difference drawn ${aimRingFactor} times as large`
  return (
    <svg className="ring" width={size} height={size} viewBox="0 0 40 40" role="img" aria-label={label}>
      <title>{label}</title>
      {aim && <circle cx="20" cy="20" r="20" fill="var(--ring-ground)" />}
      <circle
        cx="20"
        cy="20"
        r="16.5"
        fill="none"
        stroke={aim ? cssOfWhite(aim) : 'var(--text-3)'}
        strokeOpacity={aim ? 1 : 0.45}
        strokeWidth="5"
        strokeDasharray={verdict === 'lapsed' ? '10 4.81' : undefined}
      />
      {aim && measured && verdict !== 'unproven' ? (
        <circle cx="20" cy="20" r="10.5" fill={cssOfWhite(enlargedWhite(aim, measured))} />
      ) : (
        <circle cx="20" cy="20" r="9.5" fill="none" stroke="var(--text-3)" strokeDasharray="2 2" />
      )}
    </svg>
  )
}
