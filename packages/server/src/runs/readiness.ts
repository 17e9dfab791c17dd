import { certificateDays, panelKinds, type OperatingSystem, type PanelKind, type PipelineShape } from '@bichroma/core'
import type {
  Condition,
  Correction,
  CourierDisplay,
  CourierReading,
  DisplayControls,
  HostCondition,
  HostFacts,
} from '@bichroma/contract'

/** What Ready has found out. A field is null when it could not be asked. */
export interface ReadinessFacts {
  readonly workstation: string
  readonly courierOnline: boolean
  readonly displayFound: boolean
  readonly displaySerial: string
  /** What the display says of itself. */
  readonly display:
    (Pick<CourierDisplay, 'panelKind' | 'signalRange' | 'gains'> & { readonly holds: PipelineShape['kind'] }) | null
  readonly controls: DisplayControls | null
  readonly instrumentName: string
  readonly instrumentHere: boolean
  readonly certifiedAt: number | null
  readonly correction: Correction | null
  /** The server's clock, ms since 1970. */
  readonly now: number
  readonly host: HostFacts | null
  /** One reading of white, taken to see that the instrument sees the display. */
  readonly look: CourierReading | null
}

interface Rule {
  readonly id: string
  /** The run goes on although it is not met; it is told all the same. */
  readonly advisory?: true
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
  Record<Exclude<HostCondition, 'onBattery'>, { label: string; where: Readonly<Record<OperatingSystem, string>> }>
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
  sleepOnMains: {
    label: 'Display sleep on mains',
    where: {
      windows: 'Settings, System, Power',
      macos: 'System Settings, Energy',
      linux: 'the desktop’s Settings, Power',
    },
  },
  sleepOnBattery: {
    label: 'Display sleep on battery',
    where: {
      windows: 'Settings, System, Power',
      macos: 'System Settings, Battery',
      linux: 'the desktop’s Settings, Power',
    },
  },
  screenSaver: {
    label: 'Screen saver',
    where: {
      windows: 'Settings, System, Power',
      macos: 'System Settings, Lock Screen',
      linux: 'the desktop’s Settings, Power',
    },
  },
}

const day = 86_400_000
/** How far a workstation's clock may be off before it is told, minutes. */
const clockMinutes = 5

const hostRule = (condition: keyof typeof hostSettings): Rule => {
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
  {
    id: 'dynamicContrast',
    label: 'Dynamic contrast off',
    applies: (f) => f.controls !== null,
    ok: (f) => !f.controls!.dynamicContrast,
    found: (f) => (f.controls!.dynamicContrast ? 'on, read from the display' : 'off, read from the display'),
    remedy: () => 'Turn dynamic contrast off in the display’s own menu, and start again.',
  },
  {
    id: 'signalRange',
    label: 'Signal range agrees',
    applies: (f) => f.controls !== null && f.display !== null,
    ok: (f) => f.controls!.inputRange === f.display!.signalRange,
    found: (f) =>
      f.controls!.inputRange === f.display!.signalRange
        ? f.controls!.inputRange
        : `${f.workstation} sends ${f.display!.signalRange} range, the display takes it for ${f.controls!.inputRange}`,
    remedy: (f) =>
      `Set the display’s input to ${f.display!.signalRange} range in its own menu, or ${f.workstation} to ${f.controls!.inputRange}, and start again.`,
  },
  {
    id: 'gains',
    label: 'Gains at factory',
    applies: (f) => Boolean(f.controls?.gains && f.display?.gains?.place === 'before'),
    ok: (f) => f.controls!.gains!.every((g) => g === f.display!.gains!.factory),
    found: (f) =>
      f.controls!.gains!.every((g) => g === f.display!.gains!.factory)
        ? `at ${f.display!.gains!.factory}`
        : `at ${f.controls!.gains!.join(', ')}, in front of the table`,
    remedy: (f) =>
      `Set red, green and blue to ${f.display!.gains!.factory} in the display’s own menu, and start again.`,
  },
  {
    id: 'correction',
    label: 'Correction fits the panel',
    advisory: true,
    applies: (f) => f.instrumentHere && f.display !== null,
    ok: (f) => f.correction?.kind !== 'own' || f.correction.panelKind === f.display!.panelKind,
    found: (f) => correctionWords(f.correction, f.display!.panelKind),
    remedy: (f) => `Put the display into the register as ${panelKinds[f.display!.panelKind]}, and start again.`,
  },
  {
    id: 'certificate',
    label: 'Certificate in date',
    advisory: true,
    applies: (f) => f.instrumentHere && f.certifiedAt !== null,
    ok: (f) => f.now - f.certifiedAt! <= certificateDays * day,
    found: (f) => `${Math.round((f.now - f.certifiedAt!) / day)} days old`,
    remedy: (f) => `Have ${f.instrumentName} certified anew; until then its readings may be off.`,
  },
  {
    id: 'clock',
    label: 'Workstation’s clock',
    advisory: true,
    applies: (f) => f.host !== null,
    ok: (f) => Math.abs(f.host!.clock - f.now) <= clockMinutes * 60_000,
    found: (f) => {
      const minutes = Math.round((f.host!.clock - f.now) / 60_000)
      return Math.abs(minutes) <= clockMinutes
        ? 'right'
        : `${Math.abs(minutes)} min ${minutes > 0 ? 'ahead' : 'behind'}`
    },
    remedy: (f) => `Set the clock of ${f.workstation}. Bichroma keeps its own time, so that no reading is affected.`,
  },
  hostRule('automaticBrightness'),
  hostRule('whiteAdaptation'),
  hostRule('eveningTint'),
  hostRule('hdr'),
  hostRule('mirroring'),
  hostRule('screenSaver'),
  hostRule('sleepOnMains'),
  hostRule('sleepOnBattery'),
  {
    id: 'onBattery',
    label: 'Mains power',
    applies: (f) => f.host !== null,
    ok: (f) => !f.host!.conditions.onBattery,
    found: (f) => (f.host!.conditions.onBattery ? 'on battery, read from the host' : 'plugged in, read from the host'),
    remedy: (f) => `Plug ${f.workstation} into the mains, and start again.`,
  },
]

function correctionWords(correction: Correction | null, panelKind: PanelKind): string {
  if (correction?.kind === 'made')
    return `made on ${correction.displayName}, leaves ${correction.residual.toFixed(4)} Δu′v′`
  if (correction?.kind !== 'own') return 'none needed'
  return correction.panelKind === panelKind
    ? `the instrument’s own for ${panelKinds[panelKind]}`
    : `for ${panelKinds[correction.panelKind]}; the display says that it is ${panelKinds[panelKind]}`
}

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
      return {
        id: rule.id,
        label: rule.label,
        found: rule.found(facts),
        ok,
        ...(rule.advisory && { advisory: true }),
        remedy: ok ? null : rule.remedy(facts),
      }
    })
