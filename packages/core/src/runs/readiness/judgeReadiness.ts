import { formatSigned } from '../../aims/figures'
import { roomLightProblem, type RoomLightRange, type RoomLightReading } from '../../aims/roomLight'
import type { SignalRange } from '../../tables/signalRange'
import { certificateDays } from '../../register/certificate'
import type { OperatingSystem } from '../../register/operatingSystems'
import { panelKinds, type PanelKind } from '../../register/panelKinds'
import type { HostCondition } from './hostConditions'
import { hostSettings, placeOf } from './hostSettings'

/** One reading of an instrument: XYZ in cd/m², and what it says of it. */
interface Look {
  readonly xyz: readonly number[]
  readonly flags: readonly string[]
}

/** What Ready has found out. A field is null when it could not be asked. */
export interface ReadinessFacts {
  readonly workstation: string
  readonly courierOnline: boolean
  readonly displayFound: boolean
  readonly displaySerial: string
  /** What the display says of itself. */
  readonly display: {
    readonly panelKind: PanelKind
    readonly signalRange: SignalRange
    readonly gains: { readonly place: 'before' | 'after'; readonly factory: number } | null
  } | null
  readonly controls: {
    readonly dataLink: boolean
    readonly warmMinutes: number | null
    readonly dynamicContrast: boolean
    readonly inputRange: SignalRange
    readonly gains: readonly number[] | null
  } | null
  readonly instrumentName: string
  readonly instrumentHere: boolean
  readonly certifiedAt: number | null
  readonly correction:
    | { readonly kind: 'none' }
    | { readonly kind: 'own'; readonly panelKind: PanelKind }
    | { readonly kind: 'made'; readonly displayName: string; readonly residual: number }
    | null
  /** The server's clock, ms since 1970. */
  readonly now: number
  readonly host: {
    readonly operatingSystem: OperatingSystem
    readonly systemVersion: string
    /** ms since 1970. */
    readonly clock: number
    /** Null where the system does not tell. */
    readonly conditions: Readonly<Record<HostCondition, boolean | null>>
  } | null
  /** One reading of white, taken to see that the instrument sees the display, and one of black, to see that nothing else does. */
  readonly look: Look | null
  readonly dark: Look | null
  /** White ÷ black when the slot was last judged. */
  readonly lastContrast: number | null
  /** The room's light as it was last read, and as it is wanted; null where nobody has said what it shall be. */
  readonly roomLight: {
    readonly range: RoomLightRange
    readonly newest: (RoomLightReading & { readonly at: number }) | null
  } | null
  /** The aim is made for HDR. */
  readonly hdrAim: boolean
  /** The instrument is a colorimeter: without a correction its white is off. */
  readonly needsCorrection: boolean
  /** What it reads more of luminance, as a share, where that is taken out of each reading; null where nothing is. */
  readonly readsMore: number | null
}

interface Rule {
  readonly id: string
  /** The run goes on although it is not met; it is told all the same. */
  readonly advisory?: true
  readonly label: string | ((f: ReadinessFacts) => string)
  /** A rule is passed over while what it needs is not known; the one before it has said why. */
  readonly applies: (f: ReadinessFacts) => boolean
  /** Null when nothing tells: then somebody has to look. */
  readonly ok: (f: ReadinessFacts) => boolean | null
  readonly found: (f: ReadinessFacts) => string
  readonly remedy: (f: ReadinessFacts) => string
}

/** Minutes that a display needs before its light holds still. */
export const warmUpMinutes = 30

/** White ÷ black of a display that an instrument lies flat on, at least; room light under it or on a screen leaves less. */
const leastContrast = 150
/** By how much contrast may have fallen since the slot was last judged before it is told. */
const contrastLoss = 0.6

const day = 86_400_000
const hour = 3_600_000
/** How far a workstation's clock may be off before it is told, minutes. */
const clockMinutes = 5

const hostRule = (condition: keyof typeof hostSettings): Rule => {
  const setting = hostSettings[condition]
  const { label, because } = setting
  /** HDR has to be on for an aim that is made for it; everything else has to be off. */
  const wanted = (f: ReadinessFacts) => condition === 'hdr' && f.hdrAim
  const place = (f: ReadinessFacts) => placeOf(setting, f.host!.operatingSystem, f.host!.systemVersion)
  return {
    id: condition,
    label: (f) => `${label} ${wanted(f) ? 'on' : 'off'}`,
    ...(setting.advisory && { advisory: true }),
    applies: (f) => f.host !== null,
    ok: (f) => {
      const found = f.host!.conditions[condition]
      return found === null ? null : found === wanted(f)
    },
    found: (f) => {
      const found = f.host!.conditions[condition]
      return found === null
        ? `${f.workstation} does not tell; look under ${place(f)}`
        : `${found ? 'on' : 'off'}, read from the host`
    },
    remedy: (f) =>
      `Turn it ${wanted(f) ? 'on' : 'off'} on ${f.workstation} under ${place(f)}: ${wanted(f) ? 'the aim is made for it' : because}.`,
  }
}

/** Hours after which a reading of a room's light tells nothing of it any more. */
const lightHours = 12

const roomLightRule: Rule = {
  id: 'roomLight',
  advisory: true,
  label: 'Room light in its range',
  applies: (f) => f.roomLight !== null,
  ok: (f) => {
    const { range, newest } = f.roomLight!
    return newest !== null && f.now - newest.at < lightHours * hour && roomLightProblem(newest, range) === null
  },
  found: (f) => {
    const { range, newest } = f.roomLight!
    if (!newest) return 'not read yet'
    if (f.now - newest.at >= lightHours * hour) return 'not read within the last 12 hours'
    return roomLightProblem(newest, range) ?? `${Math.round(newest.illuminanceLux)} lx`
  },
  remedy: () =>
    'Read it in the Register with the diffuser in front, and dim or raise it; displays are judged beside what stands around them.',
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
    label: 'Warm',
    // Where it does not tell, or has not been on for long, its light is watched until it holds still.
    applies: (f) => (f.controls?.warmMinutes ?? 0) >= warmUpMinutes,
    ok: () => true,
    found: (f) => `on for ${duration(f.controls!.warmMinutes!)}`,
    remedy: () => '',
  },
  {
    id: 'seat',
    label: 'No room light under the instrument',
    applies: (f) => f.look !== null && f.dark !== null && !f.look.flags.includes('cover') && f.look.xyz[1] > 1,
    ok: (f) => f.display?.panelKind === 'projector-lamp' || contrastOf(f) >= leastContrast,
    found: (f) => `white is ${formatContrast(contrastOf(f))} times black`,
    remedy: () =>
      'Seat the instrument flat on the centre of the display, tilt the display back, keep lamps off the glass, and start again.',
  },
  {
    id: 'darkening',
    label: 'Black as before',
    advisory: true,
    applies: (f) =>
      f.lastContrast !== null &&
      f.look !== null &&
      f.dark !== null &&
      f.look.xyz[1] > 1 &&
      contrastOf(f) >= leastContrast,
    ok: (f) => contrastOf(f) >= contrastLoss * f.lastContrast!,
    found: (f) =>
      `white is ${formatContrast(contrastOf(f))} times black, ${formatContrast(f.lastContrast!)} when last judged`,
    remedy: () => 'A little room light may get under the instrument: press its edges down, or draw the blinds.',
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
    ok: (f) =>
      f.correction?.kind === 'own'
        ? f.correction.panelKind === f.display!.panelKind
        : f.correction?.kind !== 'none' || !f.needsCorrection,
    found: (f) => [correctionWords(f), ...offsetWords(f)].join('; '),
    remedy: (f) =>
      f.correction?.kind === 'own'
        ? `Put the display into the register as ${panelKinds[f.display!.panelKind]}, and start again.`
        : `Make a correction for it with a spectroradiometer, under Register, Instruments; until then white may be off by much.`,
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
    ok: (f) => (f.host!.conditions.onBattery === null ? null : !f.host!.conditions.onBattery),
    found: (f) =>
      f.host!.conditions.onBattery === null
        ? `${f.workstation} does not tell; see that it is plugged in`
        : f.host!.conditions.onBattery
          ? 'on battery, read from the host'
          : 'plugged in, read from the host',
    remedy: (f) => `Plug ${f.workstation} into the mains, and start again.`,
  },
  roomLightRule,
]

const offsetWords = ({ readsMore }: ReadinessFacts): string[] =>
  readsMore === null ? [] : [`what it reads more is taken out (${formatSigned(100 * readsMore, 1)} %)`]

function correctionWords({ correction, display, needsCorrection }: ReadinessFacts): string {
  const { panelKind } = display!
  if (correction?.kind === 'made')
    return `made on ${correction.displayName}, leaves ${correction.residual.toFixed(4)} Δu′v′`
  if (correction?.kind !== 'own')
    return needsCorrection ? `the instrument holds none for ${panelKinds[panelKind]}` : 'none needed'
  return correction.panelKind === panelKind
    ? `the instrument’s own for ${panelKinds[panelKind]}`
    : `for ${panelKinds[correction.panelKind]}; the display says that it is ${panelKinds[panelKind]}`
}

/** White ÷ black as the instrument sees them; without end for a black without light. */
const contrastOf = ({ look, dark }: ReadinessFacts) => (dark!.xyz[1] > 0 ? look!.xyz[1] / dark!.xyz[1] : Infinity)
const formatContrast = (contrast: number) =>
  Number.isFinite(contrast) ? Math.round(Math.min(contrast, 99_999)).toLocaleString('en') : 'endless'

const duration = (minutes: number) =>
  minutes < 90
    ? `${Math.floor(minutes)} min`
    : minutes < 48 * 60
      ? `${Math.floor(minutes / 60)} h ${Math.floor(minutes % 60)} min`
      : `${Math.floor(minutes / 1440)} days`

/** One condition of Ready. */
export interface Condition {
  id: string
  label: string
  /** What was found. */
  found: string
  ok: boolean
  /** Nothing tells it: a technician has to look and confirm it, or has done so. */
  confirm?: { by: string; at: number } | 'needed'
  /** A run goes on although it is not met. */
  advisory?: boolean
  /** What to do when it is not. */
  remedy: string | null
}

/** Who has looked at a condition that nothing tells, and when. */
export type Confirmations = Readonly<Record<string, { by: string; at: number }>>

/** Judges what was found. A condition that nothing tells counts as met once somebody has looked at it. */
export const judgeReadiness = (facts: ReadinessFacts, confirmed: Confirmations = {}): Condition[] =>
  rules
    .filter((rule) => rule.applies(facts))
    .map((rule) => {
      const ok = rule.ok(facts)
      return {
        id: rule.id,
        label: typeof rule.label === 'string' ? rule.label : rule.label(facts),
        found: rule.found(facts),
        ok: ok ?? Object.hasOwn(confirmed, rule.id),
        ...(ok === null && { confirm: confirmed[rule.id] ?? ('needed' as const) }),
        ...(rule.advisory && { advisory: true }),
        remedy: ok === true ? null : rule.remedy(facts),
      }
    })
