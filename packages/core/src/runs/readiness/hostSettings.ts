import type { OperatingSystem } from '../../register/operatingSystems'
import type { HostCondition } from './hostConditions'

/** Where a switch is from a version of a system on: the newest entry whose version is not above the host's counts. */
interface Place {
  readonly since: number
  readonly where: string
}

/** A setting of the host that ruins a run. */
export interface HostSetting {
  readonly label: string
  /** Why it matters, in half a sentence. */
  readonly because: string
  /** It spoils only what is long, or only on battery: the run goes on and says so. */
  readonly advisory?: true
  readonly where: Readonly<Record<OperatingSystem, readonly Place[]>>
}

const always = (where: string): readonly Place[] => [{ since: 0, where }]
const mac = (older: string, newer: string): readonly Place[] => [
  { since: 0, where: `System Preferences, ${older}` },
  { since: 13, where: `System Settings, ${newer}` },
]

/** Settings by the names under which couriers report them. */
export const hostSettings: Readonly<Record<Exclude<HostCondition, 'onBattery'>, HostSetting>> = {
  automaticBrightness: {
    label: 'Automatic brightness',
    because: 'it follows the room while the run reads',
    where: {
      windows: [
        { since: 0, where: 'Settings, System, Display' },
        { since: 11, where: 'Settings, System, Display, Brightness' },
      ],
      macos: mac('Displays', 'Displays'),
      linux: always('the desktop’s Settings, Power'),
    },
  },
  whiteAdaptation: {
    label: 'White adaptation to the room',
    because: 'it moves the white that the run corrects',
    where: {
      windows: [
        { since: 0, where: 'Settings, System, Display' },
        { since: 11, where: 'Settings, System, Display, Brightness and colour' },
      ],
      macos: mac('Displays', 'Displays'),
      linux: always('the desktop’s Settings, Displays'),
    },
  },
  eveningTint: {
    label: 'Warm evening tint',
    because: 'it takes blue away by the hour',
    where: {
      windows: always('Settings, System, Display'),
      macos: mac('Displays', 'Displays'),
      linux: always('the desktop’s Settings, Displays'),
    },
  },
  hdr: {
    label: 'HDR mode',
    because: 'it maps every signal anew',
    where: {
      windows: [
        { since: 0, where: 'Settings, System, Display, Windows HD Color settings' },
        { since: 11, where: 'Settings, System, Display, HDR' },
      ],
      macos: mac('Displays', 'Displays'),
      linux: always('the desktop’s Settings, Displays'),
    },
  },
  mirroring: {
    label: 'Mirroring',
    because: 'two displays would share one profile',
    where: {
      windows: always('Settings, System, Display, Multiple displays'),
      macos: mac('Displays, Arrangement', 'Displays, Arrange'),
      linux: always('the desktop’s Settings, Displays'),
    },
  },
  screenSaver: {
    label: 'Screen saver',
    because: 'it comes up in the middle of a run',
    where: {
      windows: [
        { since: 0, where: 'Settings, Personalisation, Lock screen' },
        { since: 11, where: 'Settings, Personalisation, Lock screen, Screen saver' },
      ],
      macos: mac('Desktop & Screen Saver', 'Lock Screen'),
      linux: always('the desktop’s Settings, Privacy, Screen'),
    },
  },
  sleepOnMains: {
    label: 'Display sleep on mains',
    because: 'the display goes dark in the middle of a run',
    where: {
      windows: [
        { since: 0, where: 'Settings, System, Power & sleep' },
        { since: 11, where: 'Settings, System, Power' },
      ],
      macos: mac('Battery, Power Adapter', 'Energy'),
      linux: always('the desktop’s Settings, Power'),
    },
  },
  sleepOnBattery: {
    label: 'Display sleep on battery',
    because: 'the display goes dark should the mains fail',
    where: {
      windows: [
        { since: 0, where: 'Settings, System, Power & sleep' },
        { since: 11, where: 'Settings, System, Power' },
      ],
      macos: mac('Battery', 'Battery'),
      linux: always('the desktop’s Settings, Power'),
    },
  },
}

/** Where a setting is on a host of that system and version; the oldest place known for a version that is no number. */
export function placeOf({ where }: HostSetting, system: OperatingSystem, version: string): string {
  const number = Number.parseFloat(version)
  const places = where[system]
  return (places.findLast((p) => p.since <= (Number.isNaN(number) ? Infinity : number)) ?? places[0]).where
}
