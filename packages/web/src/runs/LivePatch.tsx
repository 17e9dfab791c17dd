import { heldStates } from '@bichroma/core/runs'
import type { RunDetail } from '@bichroma/contract'

/** The patch that is on the display now. */
export function LivePatch({ run }: { run: RunDetail }) {
  if (!run.patch || !heldStates.includes(run.state))
    return (
      <div className="patch quiet" style={{ border: '1px dashed var(--line)' }}>
        <span>No patch on the display</span>
      </div>
    )
  const codes = run.patch.rgb.map((v) => Math.round(v * 255))
  const [r, g, b] = codes
  return (
    <div
      className="patch"
      style={{ background: `rgb(${codes.join(' ')})`, color: r * 0.3 + g * 0.59 + b * 0.11 > 110 ? '#111' : '#f2f2f2' }}
    >
      <span>
        {run.patch.name}
        <br />
        <span className="fig">{run.patch.rgb.map((v) => (v * 100).toFixed(1)).join(' ')} %</span>
      </span>
    </div>
  )
}
