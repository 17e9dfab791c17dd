import type { OperatingSystem } from '@bichroma/core/register'

/** For everyone at the workstation, or for the person signed in. */
export type Scope = 'machine' | 'user'

/** Where each system keeps display profiles for the whole machine and for one user, below its root. */
export const profileFolders: Readonly<Record<OperatingSystem, Record<Scope, string>>> = {
  windows: { machine: 'C/Windows/System32/spool/drivers/color', user: 'C/Users/studio/AppData/Local/Color' },
  macos: { machine: 'Library/ColorSync/Profiles', user: 'Users/studio/Library/ColorSync/Profiles' },
  linux: { machine: 'usr/share/color/icc', user: 'home/studio/.local/share/icc' },
}

/** A path below the root as people of that system write it. */
export const shownPath = (system: OperatingSystem, path: string): string =>
  system === 'windows' ? path.replace(/^C\//, 'C:/').replaceAll('/', '\\') : `/${path}`
