/** Operating systems of workstations: the word for people and what a new profile waits for, by the scope that it is placed in. */
export const operatingSystems = {
  windows: {
    label: 'Windows',
    extension: 'icc',
    afterPlacing: 'Applications take it up when they are started again.',
    waitsFor: { machine: 'sign-out', user: null },
  },
  macos: {
    label: 'macOS',
    extension: 'icc',
    afterPlacing: 'Applications take it up at once.',
    waitsFor: { machine: null, user: null },
  },
  linux: {
    label: 'Linux',
    extension: 'icc',
    afterPlacing: 'Applications take it up when they are started again.',
    waitsFor: { machine: null, user: 'sign-out' },
  },
} as const

export type OperatingSystem = keyof typeof operatingSystems
export const operatingSystemNames = Object.keys(operatingSystems) as OperatingSystem[]
