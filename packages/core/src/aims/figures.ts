import type { Verdict } from './limits'

/** The word of each verdict. */
export const verdictWords: Readonly<Record<Verdict, string>> = {
  within: 'within',
  near: 'near edge',
  untold: 'cannot be told',
  outside: 'outside',
  unproven: 'unproven',
  lapsed: 'lapsed',
}
export const verdictNames = Object.keys(verdictWords) as Verdict[]

/** Temperature to 10 K with its unit, a dash where there is none. */
export const formatTemperature = (kelvin: number | null): string =>
  kelvin === null ? '–' : `${(Math.round(kelvin / 10) * 10).toLocaleString('en')} K`

/** Luminance in cd/m² with its unit; one digit unless asked for more. */
export const formatLuminance = (luminance: number, digits = 1): string => `${luminance.toFixed(digits)} cd/m²`

/** A difference with its sign, a true minus, and no sign for what rounds to zero. */
export function formatSigned(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits)
  if (Number(text) === 0) return text
  return `${value > 0 ? '+' : '−'}${text}`
}

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** A UTC instant (ms since 1970) as a day for people: 24 Nov 2026. */
export function formatDate(at: number): string {
  const date = new Date(at)
  return `${date.getUTCDate()} ${months[date.getUTCMonth()]} ${date.getUTCFullYear()}`
}
