import { uniformFrom } from '@bichroma/core/basics'
import type { RolloutRow } from '@bichroma/contract'
import { until } from '../waiting'
import { rolloutFaults, World } from './rolloutFaults'
import { RolloutStudio } from './rolloutStudio'

export interface RolloutOutcome {
  readonly faults: Readonly<Record<string, number>>
  readonly caused: number
  readonly waves: number
  /** Claims that were compared with the hosts’ own stores, and files of others that were looked at. */
  readonly claims: number
  /** Claims that did not hold at once, and did when what was under way had ended. */
  readonly underWay: number
  readonly files: number
  readonly wrong: readonly string[]
  /** Displays in force at the end, of those that a profile was wanted on. */
  readonly inForce: readonly [number, number]
}

/** Faults between two comparisons. */
const between = 12

/**
 * Drives displays on many workstations of three systems through waves, by policies, with seeded faults; then compares every
 * claim of the server with the hosts’ own stores.
 */
export async function rollout(
  workstations: number,
  displaysEach: number,
  count: number,
  seed: number,
): Promise<RolloutOutcome> {
  const studio = await RolloutStudio.open(workstations, displaysEach)
  const uniform = uniformFrom(seed)
  const world = new World(studio, uniform)
  const wrong: string[] = []
  const faults: Record<string, number> = {}
  let claims = 0
  let underWay = 0
  let files = 0
  let caused = 0
  const bag = Object.entries(rolloutFaults).flatMap(([name, { weight }]) => Array.from({ length: weight }, () => name))
  try {
    for (const { id, serial } of studio.ask<{ id: number; serial: string }>('SELECT id, serial FROM display'))
      world.serials.set(id, serial)
    for (const name of studio.bench.names) studio.bench.connect(name)
    world.rows = await studio.rows()
    for (const { displayId } of world.rows) {
      world.file(displayId, 1)
      if (world.chance(0.7)) world.file(displayId, 2)
      // Some have a profile of somebody else’s to begin with.
      if (world.chance(0.4))
        await world.replace(world.rows[displayId - 1].workstationName, world.serialOf(displayId), 'Panel Pal')
    }
    await studio.settle()
    while (caused < count) {
      for (let n = 0; n < between; n++) {
        const name = world.pick(bag)
        faults[name] = (faults[name] ?? 0) + 1
        caused++
        await rolloutFaults[name].cause(world)
      }
      await studio.settle()
      let said = await compare()
      // A courier that came back in between is being seen to just now: what counts is what is said once that is over.
      for (let again = 0; said.length && again < 3; again++) {
        underWay += said.length
        await studio.settle()
        said = await compare()
      }
      wrong.push(...said)
      if (wrong.length > 20) break
    }
    const inForce = wrong.length ? ([0, 0] as const) : await mendAll()
    return { faults, caused, waves: world.waves, claims, underWay, files, wrong, inForce }
  } finally {
    await studio.close()
  }

  /** Every claim against what the hosts have. */
  async function compare(): Promise<string[]> {
    const said: string[] = []
    world.rows = await studio.rows()
    const { bench } = studio
    const online = new Set(world.rows.filter((r) => r.courierOnline).map((r) => r.workstationName))
    const say = (row: RolloutRow, what: string) =>
      said.push(
        `after ${caused} faults, display ${row.displayId} on ${row.workstationName}: ${what} (${JSON.stringify({ state: row.placement?.state, fault: row.placement?.fault, mend: row.mend, differs: row.differs })})`,
      )
    for (const row of world.rows) {
      const bound = (await bench.host(row.workstationName).listInForce()).find(
        (b) => b.serial === world.serialOf(row.displayId),
      )
      const { placement, wanted, differs, mend } = row
      const truly = bound && bound.waitsFor === null ? bound.hash : null
      if (wanted?.kind === 'profile') {
        const lacks = truly !== wanted.profileHash
        // What a courier that is away has not told cannot be known; whatever was told is.
        if (lacks && online.has(row.workstationName) && !(differs && mend)) say(row, 'what is wanted is forgotten')
        if (differs && !mend) say(row, 'a difference that nothing mends')
      }
      if (!online.has(row.workstationName)) continue
      claims++
      if (placement && ['in force', 'out of step', 'waiting'].includes(placement.state)) {
        if ((bound?.hash ?? null) !== placement.profileHash) say(row, 'claimed as bound, and something else is')
        if (placement.state !== 'waiting' && bound?.waitsFor)
          say(row, `claimed in force, and it waits for a ${bound.waitsFor}`)
      }
      if (row.found && (row.found.hash ?? null) !== (bound?.hash ?? null)) say(row, 'found is not what is there')
    }
    for (const [key, hash] of world.others) {
      const [host, scope, name] = key.split('|')
      files++
      const held = (await bench.host(host).files()).find((f) => f.scope === scope && f.name === name)
      if (held?.hash !== hash)
        said.push(`after ${caused} faults: another’s file ${key} was ${held ? 'written over' : 'removed'}`)
    }
    for (const item of studio.ask<{ display: number; hash: string | null; before: string; host: string }>(
      `SELECT wave_item.display_id AS display, undo.profile_hash AS hash, placement.before AS before, workstation.name AS host
       FROM wave_item JOIN placement AS undo ON undo.id = undo_id JOIN placement ON placement.id = placement_id
         JOIN workstation ON workstation.id = wave_item.workstation_id`,
    ))
      if ((JSON.parse(item.before) as { hash: string | null }).hash !== item.hash)
        said.push(`after ${caused} faults: display ${item.display} on ${item.host} gets back what it never had`)
    return said
  }

  /** Everything that is broken is mended, and one wave more sends what differs: then everything wanted is in force. */
  async function mendAll(): Promise<readonly [number, number]> {
    const { bench, client } = studio
    for (const name of bench.names) {
      const host = bench.host(name)
      Object.assign(host, {
        diskFull: false,
        readOnly: false,
        cutNextFile: false,
        dies: null,
        deaf: false,
        longestPath: 259,
      })
      bench.disturbLine(name, { lateMs: 0, times: 1 })
      bench.connect(name)
    }
    for (const row of await studio.rows()) {
      bench.plug(world.serialOf(row.displayId), row.workstationName)
      bench.display(world.serialOf(row.displayId)).connected = true
    }
    for (const { level, of } of await client.get<{ level: string; of: number }[]>('/policies'))
      await client.ask('PUT', '/policies', { level, ...(of && { of }), rules: {} })
    await until(async () => (await studio.rows()).every((r) => r.courierOnline), 'every courier is back', 20_000)
    for (let round = 0; round < 3; round++) {
      await studio.laterBy(1)
      await studio.settle()
      await studio.wave({}, { first: 0 }).catch(() => {})
      await studio.settle()
      for (const name of bench.names) bench.host(name).signOut()
      await studio.settle()
    }
    await compare()
    const wanted = world.rows.filter((r) => r.wanted?.kind === 'profile')
    const left = wanted.filter((r) => r.placement?.state !== 'in force' || r.differs)
    for (const row of left.slice(0, 10))
      wrong.push(
        `at the end display ${row.displayId} on ${row.workstationName} is ${row.placement?.state ?? 'without a profile'}: ${row.placement?.message ?? ''} (${row.mend})`,
      )
    return [wanted.length - left.length, wanted.length]
  }
}
