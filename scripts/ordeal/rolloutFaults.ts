import { contentHash } from '@bichroma/core/profiles'
import { deaths } from '@bichroma/bench'
import type { RolloutRow } from '@bichroma/contract'
import type { RolloutStudio } from './rolloutStudio'

type Scope = 'machine' | 'user'

/** What the ordeal itself knows: whose files lie where, and what is astray. */
export class World {
  /** SHA-256 of everybody else’s files, by workstation, scope and name. */
  readonly others = new Map<string, string>()
  /** Versions of profiles that were filed, by display and slot. */
  readonly versions = new Map<string, number>()
  waves = 0
  rows: RolloutRow[] = []

  constructor(
    readonly studio: RolloutStudio,
    readonly uniform: () => number,
  ) {}

  pick<T>(of: readonly T[]): T {
    return of[Math.floor(this.uniform() * of.length)]
  }
  chance = (share: number) => this.uniform() < share

  get host() {
    return this.pick(this.studio.bench.names)
  }
  /** A display of the register with where it stands. */
  get display() {
    return this.pick(this.rows)
  }
  serialOf = (displayId: number) => this.serials.get(displayId)!
  readonly serials = new Map<number, string>()

  key = (host: string, scope: Scope, name: string) => `${host}|${scope}|${name}`

  /** Somebody else’s file: from now on nobody but them may touch it. */
  async put(host: string, scope: Scope, name: string, text: string): Promise<void> {
    const bytes = new TextEncoder().encode(text)
    await this.studio.bench.host(host).putFile(scope, name, bytes)
    this.others.set(this.key(host, scope, name), contentHash(bytes))
  }

  async replace(host: string, serial: string, by: string): Promise<void> {
    await this.studio.bench.host(host).replaceProfile(serial, by)
    const name = `${by.replaceAll(/[^a-z0-9]+/gi, '-')}.icc`
    const bytes = new TextEncoder().encode(`A profile that ${by} put here.`)
    this.others.set(this.key(host, 'user', name), contentHash(bytes))
  }

  file(displayId: number, slot: number): void {
    const key = `${displayId} ${slot}`
    const version = (this.versions.get(key) ?? 0) + 1
    this.versions.set(key, version)
    this.studio.file(displayId, slot, version)
  }
}

const programs = ['Glint Arcade', 'System update', 'Panel Pal']

/** Everything that happens to a rollout, by name; each as often as its weight says. */
export const rolloutFaults: Readonly<
  Record<string, { readonly weight: number; readonly cause: (w: World) => unknown }>
> = {
  'the disk is full': { weight: 4, cause: (w) => (w.studio.bench.host(w.host).diskFull = w.chance(0.6)) },
  'the folders are read-only': { weight: 3, cause: (w) => (w.studio.bench.host(w.host).readOnly = w.chance(0.6)) },
  'paths may not be long': {
    weight: 2,
    cause: (w) => (w.studio.bench.host(w.host).longestPath = w.chance(0.5) ? 62 : 259),
  },
  'a file is cut': { weight: 4, cause: (w) => (w.studio.bench.host(w.host).cutNextFile = true) },
  'the courier dies': {
    weight: 8,
    cause: (w) => {
      const name = w.host
      const { bench } = w.studio
      bench.host(name).dies = {
        at: w.pick(deaths),
        die: () => {
          bench.disconnect(name)
          setTimeout(() => bench.connect(name), 15)
        },
      }
    },
  },
  'a courier is away, or back': {
    weight: 8,
    cause: (w) => (w.chance(0.5) ? w.studio.bench.disconnect(w.host) : w.studio.bench.connect(w.host)),
  },
  'answers come twice': { weight: 3, cause: (w) => w.studio.bench.disturbLine(w.host, { times: w.pick([1, 2, 3]) }) },
  'answers come late': { weight: 2, cause: (w) => w.studio.bench.disturbLine(w.host, { lateMs: w.pick([0, 0, 8]) }) },
  'a clock is off': { weight: 1, cause: (w) => (w.studio.bench.host(w.host).clockShiftMs = w.pick([0, 86_400_000])) },
  'a system tells nothing': { weight: 2, cause: (w) => (w.studio.bench.host(w.host).deaf = w.chance(0.5)) },
  'somebody signs out': { weight: 5, cause: (w) => w.studio.bench.host(w.host).signOut() },
  'a workstation restarts': { weight: 2, cause: (w) => w.studio.bench.host(w.host).restart() },
  'a program replaces a profile': {
    weight: 10,
    cause: (w) => {
      const { workstationName, displayId } = w.display
      return w.replace(workstationName, w.serialOf(displayId), w.pick(programs))
    },
  },
  'an update replaces everything': {
    weight: 2,
    cause: async (w) => {
      const name = w.host
      w.studio.bench.host(name).updateSystem('11.1')
      for (const row of w.rows.filter((r) => r.workstationName === name))
        await w.replace(name, w.serialOf(row.displayId), 'System update')
    },
  },
  'somebody unbinds': {
    weight: 3,
    cause: (w) => w.studio.bench.host(w.display.workstationName).unbind(w.serialOf(w.display.displayId)),
  },
  'a name is taken': {
    weight: 6,
    cause: (w) => {
      const { displayId, workstationName } = w.display
      const slot = w.pick([1, 2])
      const next = (w.versions.get(`${displayId} ${slot}`) ?? 0) + w.pick([0, 1])
      return w.put(
        workstationName,
        w.pick(['machine', 'user'] as const),
        `Reed-${displayId}-slot-${slot}-v${next}.icc`,
        `Another’s file ${w.uniform()}`,
      )
    },
  },
  'somebody cleans up': {
    weight: 3,
    cause: async (w) => {
      const name = w.host
      const files = await w.studio.bench.host(name).files()
      if (!files.length) return
      const gone = w.pick(files)
      await w.studio.bench.host(name).deleteFile(gone.scope, gone.name)
      w.others.delete(w.key(name, gone.scope, gone.name))
    },
  },
  'a slot is switched': {
    weight: 6,
    cause: (w) => w.studio.bench.display(w.serialOf(w.display.displayId)).press({ slot: w.pick([1, 2]) }),
  },
  'a cable is pulled, or put in': {
    weight: 2,
    cause: (w) => (w.studio.bench.display(w.serialOf(w.display.displayId)).connected = w.chance(0.5)),
  },
  'a run files a profile': { weight: 10, cause: (w) => w.file(w.display.displayId, w.pick([1, 1, 2])) },
  'a display moves': {
    weight: 3,
    cause: async (w) => {
      const { displayId } = w.display
      const to = w.host
      const [{ id }] = w.studio.ask<{ id: number }>('SELECT id FROM workstation WHERE name = ?', to)
      await w.studio.client.raw('POST', `/displays/${displayId}/move`, { workstationId: id })
      w.studio.bench.plug(w.serialOf(displayId), to)
    },
  },
  'a policy changes': {
    weight: 6,
    cause: (w) => {
      const level = w.pick(['studio', 'room', 'display'] as const)
      const of = { studio: undefined, room: w.pick([1, 2]), display: w.display.displayId }[level]
      return w.studio.client.raw('PUT', '/policies', {
        level,
        ...(of && { of }),
        rules: w.chance(0.2)
          ? {}
          : {
              whenOther: w.pick(['tell', 'put back once', 'put back always']),
              whenSwitched: w.pick(['follow', 'tell', 'switch back']),
              fresh: w.pick(['at once', 'gathered', 'by a person']),
              scope: w.pick(['machine', 'machine', 'user']),
              keepOld: w.pick([0, 1, 3]),
              ...(w.chance(0.1) && { profile: w.pick(['none', 1, 2]) }),
            },
      })
    },
  },
  'a wave starts': {
    weight: 10,
    cause: async (w) => {
      const some = w.rows.filter(() => w.chance(0.3)).map((r) => r.displayId)
      const selection = w.chance(0.5) ? { differs: true } : { displays: some.length ? some : [1] }
      await w.studio
        .wave(selection, {
          first: w.pick([0, 1, 3, 8]),
          gate: w.pick(['read-back', 'read-back', 'word'] as const),
          stopShare: w.pick([0.2, 1]),
          days: w.pick([1, 14]),
        })
        .then(() => w.waves++)
        // Nothing to do, or somebody was quicker: said, and nothing happens.
        .catch(() => {})
    },
  },
  'a wave is paused, goes on, or is undone': {
    weight: 8,
    cause: async (w) => {
      const waves = w.studio.ask<{ id: number }>('SELECT id FROM wave ORDER BY id DESC LIMIT 4')
      if (waves.length)
        await w.studio.client.raw(
          'POST',
          `/waves/${w.pick(waves).id}/${w.pick(['pause', 'go-on', 'word', 'undo', 'go-on'])}`,
        )
    },
  },
  'a profile is placed by hand': {
    weight: 4,
    cause: (w) => {
      const runs = w.studio.ask<{ id: number }>('SELECT id FROM run ORDER BY id DESC LIMIT 60')
      return w.studio.client.raw('POST', '/placements', { runId: w.pick(runs).id })
    },
  },
  'days go by': { weight: 2, cause: (w) => w.studio.laterBy(w.pick([1, 2, 15])) },
  'the server starts anew': { weight: 1, cause: (w) => w.studio.restart() },
}
