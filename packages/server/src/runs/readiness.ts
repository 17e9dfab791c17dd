import type { OperatingSystem } from '@bichroma/core'
import type { Condition, CourierReading, DisplayControls, HostCondition, HostFacts } from '@bichroma/contract'

/** What Ready has found out. A field is null when it could not be asked. */
export interface ReadinessFacts {
  readonly workstation: string
  readonly courierOnline: boolean
  readonly displayFound: boolean
  readonly displaySerial: string
  readonly controls: DisplayControls | null
  readonly instrumentName: string
  readonly instrumentHere: boolean
  readonly host: HostFacts | null
  /** One reading of white, taken to see that the instrument sees the display. */
  readonly look: CourierReading | null
}

interface Rule {
  readonly id: string
  readonly label: string
  /** A rule is passed over while what it needs is not known; the one before it has said why. */
  readonly applies: (f: ReadinessFacts) => boolean
  readonly ok: (f: ReadinessFacts) => boolean
  readonly found: (f: ReadinessFacts) => string
  readonly remedy: (f: ReadinessFacts) => string
}

/** Minutes that a display needs before its light holds still. */
export const warmUpMinutes = 30

/** Where a setting lives on each system, to be turned off. */
const hostSettings: Readonly<
  Record<HostCondition, { label: string; where: Readonly<Record<OperatingSystem, string>> }>
> = {
  automaticBrightness: {
    label: 'Automatic brightness',
    where: {
      windows: 'Settings, System, Display, Brightness',
      macos: 'System Settings, Displays',
      linux: 'the desktop’s Settings, Power',
    },
  },
  whiteAdaptation: {
    label: 'White adaptation to the room',
    where: {
      windows: 'Settings, System, Display, Colour',
      macos: 'System Settings, Displays',
      linux: 'the desktop’s Settings, Displays',
    },
  },
  eveningTint: {
    label: 'Warm evening tint',
    where: {
      windows: 'Settings, System, Display',
      macos: 'System Settings, Displays',
      linux: 'the desktop’s Settings, Displays',
    },
  },
  hdr: {
    label: 'HDR mode',
    where: {
      windows: 'Settings, System, Display, HDR',
      macos: 'System Settings, Displays',
      linux: 'the desktop’s Settings, Displays',
    },
  },
  mirroring: {
    label: 'Mirroring',
    where: {
      windows: 'Settings, System, Display, Multiple displays',
      macos: 'System Settings, Displays, Arrange',
      linux: 'the desktop’s Settings, Displays',
    },
  },
  screenSaver: {
    label: 'Screen saver or display sleep',
    where: {
      windows: 'Settings, System, Power',
      macos: 'System Settings, Lock Screen',
      linux: 'the desktop’s Settings, Power',
    },
  },
}

const hostRule = (condition: HostCondition): Rule => {
  const { label, where } = hostSettings[condition]
  return {
    id: condition,
    label: `${label} off`,
    applies: (f) => f.host !== null,
    ok: (f) => !f.host!.conditions[condition],
    found: (f) => (f.host!.conditions[condition] ? 'on, read from the host' : 'off, read from the host'),
    remedy: (f) => `Turn it off on ${f.workstation} under ${where[f.host!.operatingSystem]}.`,
  }
}

/** The conditions of a run, in the order in which a person would see to them. */
const rules: readonly Rule[] = [
  {
    id: 'courier',
    label: 'Courier online',
    applies: () => true,
    ok: (f) => f.courierOnline,
    found: (f) => (f.courierOnline ? `on ${f.workstation}` : `not connected from ${f.workstation}`),
    remedy: (f) => `Switch ${f.workstation} on and start its courier.`,
  },
  {
    id: 'display',
    label: 'Display connected',
    applies: (f) => f.courierOnline,
    ok: (f) => f.displayFound,
    found: (f) => (f.displayFound ? `serial ${f.displaySerial}` : `no display with serial ${f.displaySerial}`),
    remedy: (f) => `Switch the display on and connect it to ${f.workstation}.`,
  },
  {
    id: 'dataLink',
    label: 'Data link',
    applies: (f) => f.controls !== null,
    ok: (f) => f.controls!.dataLink,
    found: (f) => (f.controls!.dataLink ? 'the display answers' : 'the display does not answer over its data cable'),
    remedy: () => 'Plug in the data cable beside the video cable, at both ends, and start again.',
  },
  {
    id: 'instrument',
    label: 'Instrument present',
    applies: (f) => f.courierOnline,
    ok: (f) => f.instrumentHere,
    found: (f) => (f.instrumentHere ? f.instrumentName : `${f.instrumentName} is not on ${f.workstation}`),
    remedy: (f) => `Plug ${f.instrumentName} into ${f.workstation} and hang it on the display.`,
  },
  {
    id: 'cover',
    label: 'Instrument sees the display',
    applies: (f) => f.look !== null,
    ok: (f) => !f.look!.flags.includes('cover') && f.look!.xyz[1] > 1,
    found: (f) =>
      f.look!.flags.includes('cover') ? 'its cover is closed' : `white reads ${f.look!.xyz[1].toFixed(1)} cd/m²`,
    remedy: (f) =>
      f.look!.flags.includes('cover')
        ? 'Open the instrument’s cover or turn its diffuser away, and start again.'
        : 'Hang the instrument flat on the centre of this display, and start again.',
  },
  {
    id: 'warm',
    label: `Warm for ${warmUpMinutes} min`,
    applies: (f) => f.controls !== null,
    ok: (f) => f.controls!.warmMinutes >= warmUpMinutes,
    found: (f) => `on for ${duration(f.controls!.warmMinutes)}`,
    remedy: (f) =>
      `Leave the display on for ${Math.ceil(warmUpMinutes - f.controls!.warmMinutes)} more minutes, showing a picture.`,
  },
  hostRule('automaticBrightness'),
  hostRule('whiteAdaptation'),
  hostRule('eveningTint'),
  hostRule('hdr'),
  hostRule('mirroring'),
  hostRule('screenSaver'),
]

const duration = (minutes: number) =>
  minutes < 90
    ? `${Math.floor(minutes)} min`
    : minutes < 48 * 60
      ? `${Math.floor(minutes / 60)} h ${Math.floor(minutes % 60)} min`
      : `${Math.floor(minutes / 1440)} days`

/** Judges what was found. */
export const judgeReadiness = (facts: ReadinessFacts): Condition[] =>
  rules
    .filter((rule) => rule.applies(facts))
    .map((rule) => {
      const ok = rule.ok(facts)
      return { id: rule.id, label: rule.label, found: rule.found(facts), ok, remedy: ok ? null : rule.remedy(facts) }
    })
