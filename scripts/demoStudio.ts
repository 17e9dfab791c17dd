import type { Aim, Limits } from '@bichroma/core'
import type { Role } from '@bichroma/contract'

/** The demo's accounts; the demo prints them. */
export const demoAccounts: readonly { login: string; name: string; role: Role; password: string }[] = [
  { login: 'marit', name: 'Marit Oyen', role: 'administrator', password: 'sedge-and-lantern' },
  { login: 'tobin', name: 'Tobin Asare', role: 'technician', password: 'carry-the-puck' },
  { login: 'ilse', name: 'Ilse Varga', role: 'viewer', password: 'only-looking' },
]

const standard = (name: 'D50' | 'D65') => ({ kind: 'standard', name }) as const

/** The studio's aims. */
export const demoAims: Readonly<Record<string, Aim>> = {
  'Atlas web': {
    white: standard('D65'),
    luminance: 120,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  'Atlas print': {
    white: standard('D50'),
    luminance: 90,
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'standard', name: 'opRGB' },
  },
  'Loop video': {
    white: standard('D65'),
    luminance: 100,
    toneResponse: { kind: 'BT.1886' },
    primaries: { kind: 'standard', name: 'BT.709' },
  },
  'Dome P3': {
    white: standard('D65'),
    luminance: 100,
    toneResponse: { kind: 'power', exponent: 2.4 },
    primaries: { kind: 'standard', name: 'Display P3' },
  },
  'Diorama hall': {
    white: { kind: 'temperature', kelvin: 5800 },
    luminance: 140,
    toneResponse: { kind: 'L*' },
    primaries: { kind: 'panel' },
  },
}

/** Half as much again, in the digits of the figure. */
const hardEdge = (near: number) => Number((1.5 * near).toFixed(2))

const limits = (average: number, worst: number, white: number, luminance: number): Limits => ({
  rules: [
    { metric: 'averageDeltaE', near: average, hard: hardEdge(average) },
    { metric: 'worstDeltaE', near: worst, hard: hardEdge(worst) },
    { metric: 'whiteDeltaUv', near: white, hard: white * 2 },
    { metric: 'luminanceOff', near: luminance, hard: luminance * 2 },
  ],
})

/** The studio's limits. */
export const demoLimits: Readonly<Record<string, Limits>> = {
  'Plate work': limits(0.8, 2, 0.002, 2.5),
  Everyday: limits(1.2, 3, 0.004, 5),
}

/** Which limits and how often, by display; the rest are judged by “Everyday” every 28 days. */
export const demoCare: Readonly<Record<string, { limits: keyof typeof demoLimits; checkEveryDays: number }>> = {
  'Sedge 1': { limits: 'Plate work', checkEveryDays: 28 },
  'Sedge 2': { limits: 'Plate work', checkEveryDays: 28 },
  'Lantern 1': { limits: 'Plate work', checkEveryDays: 28 },
}

/** One event of the history to be made: days before today, and what was done. */
export interface PastVisit {
  readonly daysAgo: number
  readonly display: string
  readonly kind: 'full' | 'check'
  readonly slot: number
  readonly aim?: keyof typeof demoAims
  readonly place?: boolean
}

const calibrated = (
  display: string,
  daysAgo: number,
  slots: readonly (keyof typeof demoAims)[],
  placeSlot = 1,
): PastVisit[] =>
  // The slot that stays in use is written last, so that it is the one shown.
  [...slots.entries()]
    .sort(([a], [b]) => Number(a + 1 === placeSlot) - Number(b + 1 === placeSlot))
    .map(([i, aim]) => ({ daysAgo, display, kind: 'full', slot: i + 1, aim, place: i + 1 === placeSlot }))

const checked = (display: string, ...days: number[]): PastVisit[] =>
  days.map((daysAgo) => ({ daysAgo, display, kind: 'check', slot: 1 }))

/** The last months at Fen & Lantern. Every figure in it is measured when the demo makes its history. */
export const demoHistory: readonly PastVisit[] = [
  ...calibrated('Sedge 1', 104, ['Atlas web', 'Atlas print', 'Loop video']),
  ...checked('Sedge 1', 76, 48, 20),
  ...calibrated('Sedge 2', 97, ['Atlas web', 'Atlas print']),
  ...checked('Sedge 2', 69, 41, 13),
  ...calibrated('Sedge 3', 90, ['Atlas web', 'Atlas print', 'Diorama hall']),
  ...checked('Sedge 3', 62, 33, 25),
  ...calibrated('Sedge 4', 96, ['Atlas web']),
  ...checked('Sedge 4', 68, 39),
  ...calibrated('Lantern 1', 83, ['Dome P3', 'Loop video']),
  ...checked('Lantern 1', 55, 27, 2),
  ...calibrated('Lantern 2', 83, ['Dome P3', 'Loop video']),
  ...checked('Lantern 2', 55, 30),
  ...calibrated('Lantern 3', 118, ['Dome P3']),
  ...checked('Lantern 3', 90, 61, 9),
]
