import { cssOfLab, type Lab } from '@bichroma/core/color'

/** Two colours side by side, as an adapted eye sees them. */
export function PairChip({ left, right }: { left: Lab; right: Lab }) {
  return (
    <span className="pairchip" aria-hidden>
      <i style={{ background: cssOfLab(left) }} />
      <i style={{ background: cssOfLab(right) }} />
    </span>
  )
}
