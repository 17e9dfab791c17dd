import { day } from '../basics/day'
import type { PanelKind } from '../register/panelKinds'
import type { LastJudged } from './dueLine'

/** When displays of one kind are to be looked at again, as a rule asks it; what is left out is left to a wider rule. */
export interface DueRule {
  /** Days between two judgements by the calendar. */
  readonly everyDays?: number
  /** The chance of being outside, 0–1, above which a display is looked at before its calendar says so. */
  readonly accepted?: number
  /** It is not looked at: never, while it is away, or until somebody says otherwise. */
  readonly rests?: Rest
}

export interface Rest {
  readonly kind: 'never' | 'paused' | 'until further notice'
  readonly why: string
  /** Who said so. */
  readonly by: string
}

/** Where a rule can stand, the nearest to a display first. */
export const dueScopes = ['display', 'room', 'aim', 'limits', 'panel', 'studio'] as const
export type DueScope = (typeof dueScopes)[number]

/** The rules that hold for a display, and where each part of them comes from. */
export interface DueRules {
  readonly everyDays: { readonly value: number; readonly from: DueScope | 'usual'; readonly why: string | null }
  readonly accepted: { readonly value: number; readonly from: DueScope | 'usual' }
  readonly rests: { readonly value: Rest; readonly from: DueScope } | null
}

/** What a studio accepts until it says otherwise. */
export const usualAccepted = 0.1

/**
 * Days between judgements by kind of panel, until somebody says otherwise. What people do: LCDs about monthly; panels whose
 * pixels make their own light, and lamps, every one or two weeks, because what they have shown ages them unevenly.
 */
export const usualDays: Readonly<Record<PanelKind, { readonly days: number; readonly why: string }>> = {
  'white-led': { days: 30, why: 'A backlight of LEDs dims slowly and evenly.' },
  'wide-gamut-led': { days: 30, why: 'A backlight of LEDs dims slowly; its phosphor shifts the white a little.' },
  'rgb-led': { days: 28, why: 'Three LEDs age apart from each other, and the white wanders with them.' },
  'quantum-dot': { days: 30, why: 'The film holds; the LEDs behind it dim slowly.' },
  'cold-cathode': { days: 21, why: 'Lamps lose their light faster than LEDs, and turn yellow.' },
  oled: { days: 14, why: 'Pixels age with what they have shown, blue first.' },
  'oled-white': { days: 14, why: 'Pixels age with what they have shown.' },
  'projector-lamp': { days: 14, why: 'A lamp dims with every hour that it burns.' },
}

/** The nearest rule that says something wins, part by part. */
export function dueRulesOf(rules: Readonly<Partial<Record<DueScope, DueRule>>>, panel: PanelKind): DueRules {
  const nearest = <K extends keyof DueRule>(part: K) => {
    const from = dueScopes.find((scope) => rules[scope]?.[part] !== undefined)
    return from === undefined ? null : { from, value: rules[from]![part] as NonNullable<DueRule[K]> }
  }
  const every = nearest('everyDays')
  const usual = usualDays[panel]
  return {
    everyDays: every ? { ...every, why: null } : { value: usual.days, from: 'usual', why: usual.why },
    accepted: nearest('accepted') ?? { value: usualAccepted, from: 'usual' },
    rests: nearest('rests'),
  }
}

/** A day by which displays must be proven, freshly. */
export interface MatteringDay {
  readonly id: number
  readonly name: string
  /** ms since 1970, UTC: when it begins. */
  readonly at: number
  /** A judgement counts for it when it is no older than so many days by then. */
  readonly freshDays: number
}

/** Which of them decided a due line. */
export type DueBy = 'never judged' | 'outside' | 'calendar' | 'forecast' | 'day' | 'asked' | 'light' | 'set'

/** When a display falls due, and what it would be otherwise. All times in ms since 1970, UTC. */
export interface Due {
  /** Null when it rests. */
  readonly at: number | null
  readonly by: DueBy | null
  /** By the calendar alone; null when it was never judged. */
  readonly calendar: number | null
  /** By the forecast alone; null when that sees it within its limits for years, or knows too little. */
  readonly forecast: number | null
  /** The day that it was moved forward for. */
  readonly day: MatteringDay | null
  /** From when a judgement counts for that day. */
  readonly notBefore: number | null
}

/** What was just proven within is not asked for again before so much of its calendar has passed, and a day at least. */
const soonestShare = 0.1

/**
 * The due line by the forecast (ms since 1970): when the chance of being outside exceeds what is accepted, but not at once
 * after it was judged. Null when it never was, or when that is years away or nobody knows.
 */
export const forecastLine = (last: LastJudged | null, leavesAt: number | null, everyDays: number): number | null =>
  last && leavesAt !== null ? Math.max(leavesAt, last.at + Math.max(1, everyDays * soonestShare) * day) : null

/**
 * The due line: the sooner of calendar and forecast; the day of a display that was outside when it was last judged; and not
 * after a day that matters for which its last judgement will be too old.
 */
export function dueOf({
  last,
  rules,
  leavesAt,
  days,
  now,
}: {
  readonly last: LastJudged | null
  readonly rules: DueRules
  /** When the chance of being outside exceeds what is accepted. */
  readonly leavesAt: number | null
  readonly days: readonly MatteringDay[]
  readonly now: number
}): Due {
  const calendar = last && last.at + rules.everyDays.value * day
  const forecast = forecastLine(last, leavesAt, rules.everyDays.value)
  const none = { calendar, forecast, day: null, notBefore: null }
  if (rules.rests) return { at: null, by: null, ...none }
  if (!last) return { at: now, by: 'never judged', ...none }
  const lines: { at: number; by: DueBy; day: MatteringDay | null; notBefore: number | null }[] = [
    { at: calendar!, by: 'calendar', day: null, notBefore: null },
  ]
  if (forecast !== null) lines.push({ at: forecast, by: 'forecast', day: null, notBefore: null })
  if (last.verdict === 'outside') lines.push({ at: last.at, by: 'outside', day: null, notBefore: null })
  for (const one of days) {
    const notBefore = one.at - one.freshDays * day
    if (one.at >= now && last.at < notBefore) lines.push({ at: one.at, by: 'day', day: one, notBefore })
  }
  // Of lines on one instant the first says it: calendar before forecast.
  const soonest = lines.reduce((least, line) => (line.at < least.at ? line : least))
  return { ...none, ...soonest }
}
