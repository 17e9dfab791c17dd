import {
  hostConditionNames,
  type CourierDisplay,
  type CourierInstrument,
  type DisplayControls,
  type HostCondition,
  type HostFacts,
} from '../courier/deviceFacts'

/** What a courier could say of its devices when all is well; for tests, which change what they are about. */
export const exampleDisplay: CourierDisplay = {
  serial: 'S1',
  maker: 'Quillon',
  model: 'Q27',
  firmware: '1',
  panelKind: 'oled',
  slots: 2,
  tablesIn: 'display',
  pipeline: {
    kind: '1D+3x3',
    before: { entries: 256, bits: 12 },
    matrixFractionBits: 12,
    after: { entries: 256, bits: 10 },
  },
  gamutTargets: 'any',
  presets: [null, null],
  resetSeconds: 0,
  writeSeconds: 1,
  powerCycle: false,
  signalBits: 10,
  signalRange: 'full',
  backlight: { min: 0, max: 100 },
  brightnessBy: 'commands',
  gains: null,
}

export const exampleControls: DisplayControls = {
  backlight: 40,
  pipeline: 'slot',
  activeSlot: 1,
  dataLink: true,
  inputRange: 'full',
  gains: null,
  dynamicContrast: false,
  needsPowerCycle: false,
  warmMinutes: 95,
}

export const noConditions = Object.fromEntries(hostConditionNames.map((n) => [n, false])) as Record<
  HostCondition,
  boolean
>

export const exampleHost: HostFacts = {
  name: 'sedge-02',
  operatingSystem: 'linux',
  systemVersion: '12',
  conditions: noConditions,
  idleMinutes: 45,
  clock: 1_800_000_000_000,
}

export const exampleInstrument: CourierInstrument = {
  serial: 'T1',
  maker: 'Tessel',
  model: 'Colorimeter C3',
  kind: 'colorimeter',
  certifiedAt: null,
  corrections: ['oled', 'wide-gamut-led'],
}
