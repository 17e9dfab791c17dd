import type { Aim, Limits, RoomLightRange } from '@bichroma/core/aims'
import type { StandardPrimaries } from '@bichroma/core/color'
import type { Role } from '@bichroma/contract'

/** The demo's accounts; the demo prints them. */
export const demoAccounts: readonly { login: string; name: string; role: Role; password: string }[] = [
  { login: 'marit', name: 'Marit Oyen', role: 'administrator', password: 'sedge-and-lantern' },
  { login: 'tobin', name: 'Tobin Asare', role: 'technician', password: 'carry-the-puck' },
  { login: 'ilse', name: 'Ilse Varga', role: 'viewer', password: 'only-looking' },
  { login: 'sunniva', name: 'Sunniva Quist', role: 'technician', password: 'brass-diffuser' },
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
  'Panel wide': {
    white: standard('D65'),
    luminance: 120,
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'panel' },
  },
  'Dome flat': {
    white: standard('D65'),
    luminance: 48,
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'standard', name: 'BT.709' },
  },
  'Field daylight': {
    white: standard('D65'),
    luminance: 200,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'panel' },
  },
  'Diorama hall': {
    white: { kind: 'temperature', kelvin: 5800 },
    // As bright as paper in its room: in the shop about 138, where it is dark no less than this.
    luminance: 100,
    fromRoom: true,
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

type AimName = keyof typeof demoAims

/** What the studio decided about one display, and its last eighteen months: days before today on which things were done. */
export interface DisplayStory {
  readonly limits: keyof typeof demoLimits
  readonly checkEveryDays: number
  /** Aims by slot; the first is the one in use, and the one that checks look at. */
  readonly aims: readonly AimName[]
  /** Days of full runs, of all slots on the first of them and of the first slot after. Empty: never calibrated. */
  readonly full: readonly number[]
  readonly checks: readonly number[]
}

const story = (
  aims: readonly AimName[],
  full: readonly number[],
  checks: readonly number[],
  limits: DisplayStory['limits'] = 'Everyday',
  checkEveryDays = 28,
): DisplayStory => ({ aims, full, checks, limits, checkEveryDays })

/** Displays of the demo by name, as they were looked after. Every figure is measured when the demo makes its history. */
export const demoStories: Readonly<Record<string, DisplayStory>> = {
  'Sedge 1': story(['Atlas web', 'Atlas print', 'Loop video'], [540, 104], [420, 180, 45, 20], 'Plate work'),
  'Sedge 2': story(['Atlas web', 'Atlas print'], [540, 96], [450, 180, 45, 13], 'Plate work'),
  'Sedge 3': story(['Atlas web', 'Atlas print', 'Diorama hall'], [540, 90], [450, 270, 60, 30, 25]),
  'Sedge 4': story(['Panel wide'], [540, 96], [420, 240, 72, 39]),
  'Sedge 5': story(['Panel wide'], [540], [420, 240, 72, 20]),
  'Sedge 6': story(['Atlas web', 'Diorama hall'], [510], [390, 210, 60, 20]),
  'Sedge 7': story(['Atlas web'], [510], [390, 210, 60, 20]),
  'Lantern 1': story(['Dome P3'], [540, 83], [450, 180, 30, 2], 'Plate work'),
  'Lantern 2': story(['Dome P3'], [540], [450, 180, 60, 30]),
  'Lantern 3': story(['Dome P3', 'Loop video'], [540], [480, 240, 60, 9], 'Plate work', 14),
  'Lantern 4': story(['Loop video'], [540], [420, 240, 90, 16]),
  'Lantern 5': story(['Loop video'], [390], [300, 210, 120, 25]),
  'Lantern 6': story(['Loop video'], [390], [300, 210, 72, 25]),
  'Plate 1': story(['Atlas print'], [540, 88], [450, 180, 30, 4], 'Plate work'),
  'Plate 2': story(['Atlas print'], [540, 88], [450, 180, 30, 4], 'Plate work'),
  'Plate 3': story(['Panel wide'], [540], [420, 300, 120, 20]),
  'Plate 4': story(['Atlas print'], [540], [420, 300, 120, 20]),
  'Plate 5': story(['Atlas print'], [510, 96], [390, 150, 30, 3], 'Plate work'),
  'Plate 6': story(['Panel wide'], [510], [390, 270, 150, 45]),
  'Diorama 1': story(['Diorama hall', 'Atlas web'], [510], [420, 210, 72, 16]),
  'Diorama 2': story(['Diorama hall'], [510], [420, 210, 72, 16]),
  'Diorama 3': story(['Diorama hall'], [330], [240, 150, 72, 20]),
  'Diorama 4': story(['Field daylight'], [120], [60]),
  'Dome 1': story(['Dome flat'], [540, 180], [450, 300, 120, 13], 'Everyday', 14),
  'Dome 2': story(['Dome flat'], [540, 180], [450, 300, 120, 13], 'Everyday', 14),
  'Dome 3': story(['Dome P3'], [540], [420, 150, 45, 16], 'Plate work'),
  'Dome 4': story(['Loop video'], [540, 65], [420, 150, 39, 9], 'Everyday', 14),
  'Dome 5': story(['Dome P3'], [540], [420, 210, 72, 16]),
  'Dome 6': story(['Atlas web'], [540], [420, 210, 72, 16]),
  'Field 1': story(['Field daylight'], [480], [390, 300, 150, 72], 'Everyday', 60),
  'Field 2': story(['Field daylight'], [480], [390, 300, 150], 'Everyday', 60),
  'Field 3': story(['Field daylight'], [210], [150, 45], 'Everyday', 60),
  'Field 4': story(['Field daylight'], [480], [390, 300, 120, 25], 'Everyday', 60),
  // Bought last week, and not yet calibrated.
  'Field 5': story(['Field daylight'], [], [], 'Everyday', 60),
}

/** Displays on which corrections of the colorimeters were made, days before today. */
export const demoCorrections: readonly { readonly display: string; readonly daysAgo: number }[] = [
  { display: 'Sedge 2', daysAgo: 541 },
  { display: 'Sedge 3', daysAgo: 541 },
  { display: 'Lantern 3', daysAgo: 541 },
  // Made anew before the autumn’s runs, on the models that matter.
  ...['Sedge 2', 'Sedge 3', 'Sedge 5', 'Sedge 6', 'Lantern 1', 'Lantern 3', 'Lantern 5'].map((display) => ({
    display,
    daysAgo: 106,
  })),
]

/** Displays that must look alike, days before today on which they were brought to their common ground; none for those that were not. */
export const demoPeers: readonly {
  readonly name: string
  readonly daysAgo: number | null
  readonly instrument: string
  readonly members: readonly (readonly [display: string, slot: number])[]
  readonly standard: StandardPrimaries
  /** One whose light is another, matched by eye beside a neighbour. */
  readonly eye?: {
    readonly display: string
    readonly beside: string
    readonly ends: readonly (readonly [u: number, v: number])[]
  }
}[] = [
  {
    name: 'Loops in the hall',
    daysAgo: 34,
    instrument: 'TC-0522',
    members: [
      ['Lantern 2', 2],
      ['Lantern 3', 3],
      ['Lantern 4', 2],
      ['Lantern 5', 2],
      ['Lantern 6', 2],
    ],
    standard: 'Display P3',
    eye: {
      display: 'Lantern 5',
      beside: 'Lantern 2',
      ends: [
        [-0.0006, 0.0019],
        [-0.0011, 0.0014],
        [-0.0009, 0.0024],
      ],
    },
  },
  {
    name: 'Proofs, left and right',
    daysAgo: null,
    instrument: 'HS-0031',
    members: [
      ['Plate 1', 1],
      ['Plate 2', 1],
    ],
    standard: 'Display P3',
  },
]

/** A ring of the colorimeters, days before today. */
export const demoRing = {
  daysAgo: 34,
  instruments: ['TC-0417', 'TC-0522', 'TC-0288'],
  displays: ['Lantern 2', 'Lantern 3'],
} as const

/** Displays whose screens were read place by place, days before today. */
export const demoScreens: readonly { readonly display: string; readonly daysAgo: number }[] = [
  { display: 'Sedge 2', daysAgo: 45 },
  { display: 'Plate 1', daysAgo: 30 },
]

/** What the light of rooms is wanted to be, and the days before today on which it was read. */
export const demoRoomLight: {
  readonly ranges: Readonly<Record<string, RoomLightRange>>
  /** The light that aims which follow a room are told, lx. */
  readonly levels: Readonly<Record<string, number>>
  readonly days: readonly number[]
  /** An instrument that was left in a room: read every hour, and in the last days as often as it is in life. */
  readonly watch: {
    readonly instrument: string
    readonly workstation: string
    readonly room: string
    readonly days: number
    readonly closely: number
  }
} = {
  ranges: {
    'Plate Room': { lux: { from: 20, to: 65 }, kelvin: { from: 4700, to: 5400 } },
    'Sedge Room': { lux: { from: 30, to: 80 } },
    'Diorama Shop': { lux: { from: 250, to: 460 } },
  },
  levels: { 'Sedge Room': 60, 'Diorama Shop': 510 },
  days: [3, 2, 1],
  watch: { instrument: 'TC-0119', workstation: 'diorama-03', room: 'Diorama Shop', days: 42, closely: 2 },
}
