import ini from 'ini'
import { build, parse } from 'plist'
import type { OperatingSystem } from '@bichroma/core/register'
import { profileFolders, type Scope } from './profileFolders'

/** What a system's own store says of one display: file names by scope, the last of each is the default. */
export interface Bound {
  machine: string[]
  user: string[]
  /** The person at the workstation has settings of their own, which go before the machine's. */
  perUser: boolean
}

type Bindings = Record<string, Bound>

/** How one operating system writes its bindings down. */
interface BindingStore {
  /** Path of its file, below the root. */
  readonly path: string
  readonly read: (text: string) => Bindings
  readonly write: (bindings: Bindings) => string
  /** What has to happen before a binding of a scope is in force. */
  readonly waitsFor: Readonly<Record<Scope, 'sign-out' | 'restart' | null>>
}

const registryKey = (scope: Scope, serial: string) =>
  `${scope === 'machine' ? 'HKEY_LOCAL_MACHINE\\SOFTWARE' : 'HKEY_CURRENT_USER\\Software'}\\Microsoft\\Windows NT\\CurrentVersion\\ICM\\ProfileAssociations\\Display\\${serial}`

type Registry = Record<string, { ICMProfile?: string[]; UsePerUserProfiles?: number }>

/** A list of profiles per display in the registry, one for the machine and one per user with its own switch. */
const windows: BindingStore = {
  path: 'C/Windows/System32/config/registry.json',
  read: (text) => {
    const registry = JSON.parse(text) as Registry
    const bindings: Bindings = {}
    for (const [key, values] of Object.entries(registry)) {
      const serial = key.slice(key.lastIndexOf('\\') + 1)
      const bound = (bindings[serial] ??= { machine: [], user: [], perUser: false })
      if (key.startsWith('HKEY_LOCAL_MACHINE')) bound.machine = values.ICMProfile ?? []
      else Object.assign(bound, { user: values.ICMProfile ?? [], perUser: values.UsePerUserProfiles === 1 })
    }
    return bindings
  },
  write: (bindings) =>
    JSON.stringify(
      Object.fromEntries(
        Object.entries(bindings).flatMap(([serial, { machine, user, perUser }]) => [
          [registryKey('machine', serial), { ICMProfile: machine }],
          [registryKey('user', serial), { ICMProfile: user, UsePerUserProfiles: perUser ? 1 : 0 }],
        ]),
      ),
      null,
      1,
    ),
  waitsFor: { machine: 'sign-out', user: null },
}

const urlOf = (scope: Scope, name: string) => `file:///${profileFolders.macos[scope]}/${encodeURIComponent(name)}`
const nameOf = (url: string) => decodeURIComponent(url.slice(url.lastIndexOf('/') + 1))

type Devices = Record<string, Partial<Record<'CustomProfiles' | 'FactoryProfiles', string[]>>>

/** A property list of devices: profiles of the user's choice go before those of the machine. */
const macos: BindingStore = {
  path: 'Library/Preferences/com.apple.ColorSync.Devices.plist',
  read: (text) =>
    Object.fromEntries(
      Object.entries(parse(text) as unknown as Devices).map(([serial, device]) => [
        serial,
        {
          machine: (device.FactoryProfiles ?? []).map(nameOf),
          user: (device.CustomProfiles ?? []).map(nameOf),
          perUser: Boolean(device.CustomProfiles?.length),
        },
      ]),
    ),
  write: (bindings) =>
    build(
      Object.fromEntries(
        Object.entries(bindings).map(([serial, { machine, user }]) => [
          serial,
          {
            FactoryProfiles: machine.map((n) => urlOf('machine', n)),
            CustomProfiles: user.map((n) => urlOf('user', n)),
          },
        ]),
      ),
    ),
  waitsFor: { machine: null, user: null },
}

/** A key file of the colour daemon: one section per display. */
const linux: BindingStore = {
  path: 'var/lib/color-daemon/mapping.conf',
  read: (text) =>
    Object.fromEntries(
      Object.entries(ini.parse(text) as Record<string, Record<string, unknown>>).map(([serial, section]) => [
        serial,
        {
          machine: list(section.system),
          user: list(section.session),
          perUser: list(section.session).length > 0,
        },
      ]),
    ),
  write: (bindings) =>
    ini.stringify(
      Object.fromEntries(
        Object.entries(bindings).map(([serial, { machine, user }]) => [
          serial,
          { system: machine.join(';'), session: user.join(';') },
        ]),
      ),
    ),
  waitsFor: { machine: null, user: 'sign-out' },
}

const list = (value: unknown): string[] =>
  String(value ?? '')
    .split(';')
    .filter(Boolean)

/** Each system's way of binding profiles to displays. */
export const bindingStores: Readonly<Record<OperatingSystem, BindingStore>> = { windows, macos, linux }

/** The profile that a system takes for a display: the user's own last choice if there is one, else the machine's. */
export function inForce({ machine, user, perUser }: Bound): { scope: Scope; name: string } | null {
  if (perUser && user.length) return { scope: 'user', name: user[user.length - 1] }
  return machine.length ? { scope: 'machine', name: machine[machine.length - 1] } : null
}
