import { mkdir, readFile, rename, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { contentHash, type OperatingSystem } from '@bichroma/core'
import { hostConditionNames, type Binding, type HostCondition, type HostFacts } from '@bichroma/contract'
import { DeviceFault, type HostDevice } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import { profileFolders, shownPath } from './profileFolders'

/** A workstation of a scenario. */
export interface HostTraits {
  readonly name: string
  readonly operatingSystem: OperatingSystem
  readonly systemVersion: string
}

type BindingsFile = Record<string, { scope: 'machine' | 'user'; path: string }>

/** A simulated workstation: a profile store of real files under a root of its own, and a file that holds the bindings. */
export class BenchHost implements HostDevice {
  readonly conditions: Record<HostCondition, boolean> = Object.fromEntries(
    hostConditionNames.map((n) => [n, false]),
  ) as Record<HostCondition, boolean>

  constructor(
    readonly traits: HostTraits,
    private readonly root: string,
    private readonly clock: BenchClock,
  ) {}

  async facts(): Promise<HostFacts> {
    const { name, operatingSystem, systemVersion } = this.traits
    return { name, operatingSystem, systemVersion, conditions: { ...this.conditions } }
  }

  private get bindingsPath() {
    return join(this.root, 'bindings.json')
  }

  private async bindings(): Promise<BindingsFile> {
    try {
      return JSON.parse(await readFile(this.bindingsPath, 'utf8'))
    } catch {
      return {}
    }
  }

  async placeProfile(displaySerial: string, fileName: string, bytes: Uint8Array, scope: 'machine' | 'user') {
    const path = join(profileFolders[this.traits.operatingSystem][scope], fileName)
    try {
      await this.replaceFile(join(this.root, path), bytes)
      const bindings = await this.bindings()
      bindings[displaySerial] = { scope, path }
      await this.replaceFile(this.bindingsPath, JSON.stringify(bindings, null, 1))
    } catch {
      throw new DeviceFault(
        'privilege',
        `The profile could not be written to ${path}. See that the disk has room and the courier its rights.`,
      )
    }
    await this.clock.pass(600)
    return { path: shownPath(this.traits.operatingSystem, path) }
  }

  private async replaceFile(path: string, content: Uint8Array | string) {
    await mkdir(dirname(path), { recursive: true })
    await writeFile(`${path}.new`, content)
    await rename(`${path}.new`, path)
  }

  async listInForce(): Promise<Binding[]> {
    await this.clock.pass(200)
    return Promise.all(
      Object.entries(await this.bindings()).map(async ([serial, { scope, path }]) => ({
        serial,
        scope,
        path: shownPath(this.traits.operatingSystem, path),
        hash: await readFile(join(this.root, path)).then(contentHash, () => null),
      })),
    )
  }
}
