import type { Need, NeedKind } from '@bichroma/contract'
import { formatAgo } from '../parts/times'

/** What a need is called, why it is one, and where to see to it. */
export interface NeedWords {
  readonly title: string
  readonly why: string
  readonly action: string
  readonly to: string
}

const startRun = ({ displayId, slot }: Need, kind: 'full' | 'check') =>
  `/runs/new?display=${displayId}&kind=${kind}&slot=${slot}`

const words: Readonly<Record<NeedKind, (need: Need, now: number) => NeedWords>> = {
  outside: (need) => ({
    title: `${need.displayName} is outside`,
    why: need.found ?? '',
    action: 'Start full run',
    to: startRun(need, 'full'),
  }),
  untold: (need) => ({
    title: `${need.displayName} cannot be told`,
    why: need.found ?? '',
    action: 'Start check run',
    to: startRun(need, 'check'),
  }),
  profile: (need) => ({
    title: `${need.displayName}: profile ${need.placement?.state}`,
    why: need.found ?? '',
    action: 'See Rollout',
    to: `/rollout?display=${need.displayId}`,
  }),
  slot: (need) => ({
    title: `${need.displayName} shows slot ${need.slot}, its profile is for slot ${need.placement?.slot}`,
    why: 'Colour-managed applications take the screen for something that it does not show.',
    action: 'See Rollout',
    to: `/rollout?display=${need.displayId}`,
  }),
  lapsed: (need, now) => ({
    title: `${need.displayName} has lapsed`,
    why: `Read last ${formatAgo(need.judgedAt!, now)}; that no longer counts.`,
    action: 'Start check run',
    to: startRun(need, 'check'),
  }),
  due: (need, now) => ({
    title: `${need.displayName} is due`,
    why: `Read last ${formatAgo(need.judgedAt!, now)}, to be checked every ${need.checkEveryDays} days.`,
    action: 'Start check run',
    to: startRun(need, 'check'),
  }),
  unproven: (need) => ({
    title: `${need.displayName} was never read`,
    why: 'Nobody knows what it shows.',
    action: 'Start full run',
    to: startRun(need, 'full'),
  }),
}

export const needWords = (need: Need, now = Date.now()): NeedWords => words[need.kind](need, now)
