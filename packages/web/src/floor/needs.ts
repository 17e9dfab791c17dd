import type { DisplaySummary, RolloutRow } from '@bichroma/contract'
import { formatAgo } from '../parts/times'

/** Something that needs a person, and where to see to it. */
export interface Need {
  readonly key: string
  readonly title: string
  readonly why: string
  readonly action: string
  readonly to: string
}

/** What needs someone, most pressing first: outside, profiles not in force, lapsed, overdue, never read. */
export function needs(displays: readonly DisplaySummary[], rollout: readonly RolloutRow[], now = Date.now()): Need[] {
  const start = (d: DisplaySummary, kind: 'full' | 'check') =>
    `/runs/new?display=${d.id}&kind=${kind}&slot=${d.slots.find((s) => s.active)?.number ?? 1}`
  const judgedOf = (d: DisplaySummary) => d.slots.find((s) => s.active)?.judged
  const inVerdict = (verdict: DisplaySummary['verdict']) => displays.filter((d) => d.verdict === verdict && !d.runId)
  return [
    ...inVerdict('outside').map((d) => ({
      key: `outside-${d.id}`,
      title: `${d.name} is outside`,
      why: judgedOf(d)?.sentence ?? '',
      action: 'Start full run',
      to: start(d, 'full'),
    })),
    ...rollout
      .filter((r) => r.placement && (r.placement.state === 'overridden' || r.placement.state === 'missing'))
      .map((r) => ({
        key: `profile-${r.displayId}`,
        title: `${r.displayName}: profile ${r.placement!.state}`,
        why: r.placement!.message ?? '',
        action: 'See Rollout',
        to: '/rollout',
      })),
    ...rollout.flatMap(({ displayId, displayName, placement }) => {
      const shown = displays.find((d) => d.id === displayId && !d.runId)?.slots.find((s) => s.active)
      if (!shown || placement?.state !== 'in force' || placement.slot === shown.number) return []
      return [
        {
          key: `slot-${displayId}`,
          title: `${displayName} shows slot ${shown.number}, its profile is for slot ${placement.slot}`,
          why: 'Colour-managed applications take the screen for something that it does not show.',
          action: 'See Rollout',
          to: '/rollout',
        },
      ]
    }),
    ...inVerdict('lapsed').map((d) => ({
      key: `lapsed-${d.id}`,
      title: `${d.name} has lapsed`,
      why: `Read last ${formatAgo(judgedOf(d)!.at, now)}; that no longer counts.`,
      action: 'Start check run',
      to: start(d, 'check'),
    })),
    ...displays
      .filter((d) => d.dueState === 'overdue' && (d.verdict === 'within' || d.verdict === 'near') && !d.runId)
      .map((d) => ({
        key: `due-${d.id}`,
        title: `${d.name} is due`,
        why: `Read last ${formatAgo(judgedOf(d)!.at, now)}, to be checked every ${d.checkEveryDays} days.`,
        action: 'Start check run',
        to: start(d, 'check'),
      })),
    ...inVerdict('unproven').map((d) => ({
      key: `unproven-${d.id}`,
      title: `${d.name} was never read`,
      why: 'Nobody knows what it shows.',
      action: 'Start full run',
      to: start(d, 'full'),
    })),
  ]
}
