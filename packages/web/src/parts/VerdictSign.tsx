import type { ReactNode } from 'react'
import { verdictWords, type Verdict } from '@bichroma/core/aims'

const frame = <rect x="1.5" y="1.5" width="9" height="9" fill="none" stroke="currentColor" strokeWidth="1.6" />

/** Shape first, word second, hue last. */
const shapes: Readonly<Record<Verdict, { shape: ReactNode; color: string }>> = {
  within: { color: 'var(--text-2)', shape: <rect x="1.5" y="1.5" width="9" height="9" fill="currentColor" /> },
  near: {
    color: 'var(--ochre)',
    shape: (
      <>
        <path d="M1.5 1.5h5M10.5 5.5v5h-9v-9" fill="none" stroke="currentColor" strokeWidth="2" />
        <rect x="4" y="4" width="4" height="4" fill="currentColor" />
      </>
    ),
  },
  untold: {
    color: 'var(--ochre)',
    shape: <path d="M1.5 11V1.5h9V11" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  },
  outside: {
    color: 'var(--ochre)',
    shape: (
      <>
        {frame}
        <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.6" />
      </>
    ),
  },
  unproven: {
    color: 'var(--text-3)',
    shape: (
      <rect
        x="1.5"
        y="1.5"
        width="9"
        height="9"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.6"
        strokeDasharray="2.2 2"
      />
    ),
  },
  lapsed: {
    color: 'var(--text-2)',
    shape: (
      <>
        {frame}
        <path d="M2 10l8-8" stroke="currentColor" strokeWidth="1.6" />
      </>
    ),
  },
}

/** The sign of a verdict; named for those who do not see it, unless its word stands beside. */
export function VerdictSign({
  verdict,
  size = 12,
  alone = true,
}: {
  verdict: Verdict
  size?: number
  alone?: boolean
}) {
  const { shape, color } = shapes[verdict]
  return (
    <svg
      className="sign"
      width={size}
      height={size}
      viewBox="0 0 12 12"
      style={{ color }}
      role={alone ? 'img' : undefined}
      aria-label={alone ? verdictWords[verdict] : undefined}
      aria-hidden={!alone}
    >
      {shape}
    </svg>
  )
}

/** What sign and word of the longest verdict take in a column, px. */
export const verdictWidth = 134

/** Sign and word. */
export function VerdictLabel({ verdict }: { verdict: Verdict }) {
  return (
    <span className="verdict">
      <VerdictSign verdict={verdict} alone={false} />
      {verdictWords[verdict]}
    </span>
  )
}
