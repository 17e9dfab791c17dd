/** Operating systems of workstations: the word for people and what an administrator does before a new profile holds. */
export const operatingSystems = {
  windows: { label: 'Windows', extension: 'icc', afterPlacing: 'Applications take it up when they are started again.' },
  macos: { label: 'macOS', extension: 'icc', afterPlacing: 'Applications take it up at once.' },
  linux: { label: 'Linux', extension: 'icc', afterPlacing: 'Applications take it up when they are started again.' },
} as const

export type OperatingSystem = keyof typeof operatingSystems
export const operatingSystemNames = Object.keys(operatingSystems) as OperatingSystem[]
