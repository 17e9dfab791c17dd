import type { DisplayRollout } from '@bichroma/contract'
import { formatMoment } from '../parts/times'
import { nameOfPath, reasonWords } from './words'

interface Told {
  readonly at: number
  readonly kind: 'wanted' | 'agreed' | 'found'
  readonly text: string
}

/** Everything that became of a display in rollout, the newest first. */
export function historyOf({
  wanted,
  placements,
  found,
}: Pick<DisplayRollout, 'wanted' | 'placements' | 'found'>): Told[] {
  return [
    ...wanted.map((w) => ({
      at: w.since,
      kind: 'wanted' as const,
      text:
        w.kind === 'profile'
          ? w.description!
          : w.kind === 'none'
            ? 'no profile of ours'
            : `slot ${w.slot}, which has no profile`,
    })),
    ...placements.map((p) => ({
      at: p.requestedAt,
      kind: 'agreed' as const,
      text: `${p.description}, ${reasonWords[p.why]}, ${p.requestedBy}`,
    })),
    ...found.map((f) => ({
      at: f.since,
      kind: 'found' as const,
      text: `${f.path === null ? 'nothing bound' : nameOfPath(f.path)}${f.by && !f.ours ? `, by ${f.by}` : ''} on ${f.workstation}${f.told === 'hand' ? ', told by hand' : ''}`,
    })),
  ].sort((a, b) => b.at - a.at)
}

export function RolloutHistory({ of }: { of: DisplayRollout }) {
  const told = historyOf(of)
  if (!told.length) return null
  return (
    <details>
      <summary>How it came about</summary>
      <ol className="cameabout">
        {told.slice(0, 60).map((t, i) => (
          <li key={i}>
            <span className="fig quiet">{formatMoment(t.at)}</span>
            <span className="small quiet">{t.kind}</span>
            <span style={{ overflowWrap: 'anywhere' }}>{t.text}</span>
          </li>
        ))}
      </ol>
    </details>
  )
}
