import type { OperatingSystem } from '../register/operatingSystems'

/** Kinds of programs that show pictures. */
export const programKinds = ['browser', 'viewer', 'editor'] as const
export type ProgramKind = (typeof programKinds)[number]

/** What a program manages by profiles: nothing, pictures that name one, or everything. */
export const managedPictures = ['off', 'tagged', 'all'] as const
export type ManagedPictures = (typeof managedPictures)[number]

/** A program with its switches as they were read; null for one that cannot be read. */
export interface ProgramFound {
  readonly name: string
  readonly kind: ProgramKind
  readonly colorManagement: ManagedPictures | null
  /** It reads profiles of version 4. */
  readonly version4: boolean | null
  /** The courier may turn its switches. */
  readonly settable: boolean
}

export const programSwitches = ['colorManagement', 'version4'] as const
export type ProgramSwitch = (typeof programSwitches)[number]

/** Settings of the switch that serve, the best first: a browser meets pictures that name no profile all day. */
const serving: Readonly<Record<ProgramKind, readonly ManagedPictures[]>> = {
  browser: ['all'],
  viewer: ['all', 'tagged'],
  editor: ['all', 'tagged'],
}

/** What a program’s switches should become, of those that keep a profile from doing its work; null where all serve. */
export function switchesWanted(
  { kind, colorManagement, version4 }: ProgramFound,
  profileVersion: 2 | 4,
): { colorManagement?: ManagedPictures; version4?: true } | null {
  const managed = serving[kind]
  const change = {
    ...((colorManagement === null || !managed.includes(colorManagement)) && { colorManagement: managed[0] }),
    ...(profileVersion === 4 && version4 !== true && { version4: true as const }),
  }
  return Object.keys(change).length ? change : null
}

/** What is wrong with one switch of a program. */
export interface SwitchAstray {
  readonly program: string
  readonly kind: ProgramKind
  readonly switch: ProgramSwitch
  /** As it was read; null when it could not be. */
  readonly found: string | null
  readonly wanted: string
  readonly settable: boolean
  /** Where a person finds it. */
  readonly where: string
}

const menus: Readonly<Record<OperatingSystem, string>> = {
  windows: 'the program’s settings',
  macos: 'the program’s settings, in the menu with its name',
  linux: 'the program’s preferences',
}
const places: Readonly<Record<ProgramKind, string>> = {
  browser: 'on the page of its advanced settings, under colour',
  viewer: 'under display',
  editor: 'under colour management',
}

/**
 * Switches that keep a profile from doing its work. Version 4 is asked for only where the profile in force is of it. A
 * switch that cannot be read is told of too: a person has to look.
 */
export function switchesAstray(
  programs: readonly ProgramFound[],
  system: OperatingSystem,
  profileVersion: 2 | 4,
): SwitchAstray[] {
  return programs.flatMap((program) => {
    const { name, kind, colorManagement, version4, settable } = program
    const wanted = switchesWanted(program, profileVersion)
    const about = { program: name, kind, settable, where: `In ${menus[system]}, ${places[kind]}.` }
    return [
      ...(wanted?.colorManagement
        ? [{ ...about, switch: 'colorManagement' as const, found: colorManagement, wanted: wanted.colorManagement }]
        : []),
      ...(wanted?.version4
        ? [{ ...about, switch: 'version4' as const, found: version4 === null ? null : 'off', wanted: 'on' }]
        : []),
    ]
  })
}
