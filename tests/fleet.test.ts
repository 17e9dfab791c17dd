import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { mends, standingOf, type Mend } from '@bichroma/core/rollout'
import { verdictNames, type JudgedVerdict, type Verdict } from '@bichroma/core/aims'
import { dueLine, dueState, verdictNow, type DueState, type LastJudged } from '@bichroma/core/rounds'
import type {
  DisplayDetail,
  DisplayListing,
  FloorSummary,
  Need,
  Page,
  Problem,
  Pulse,
  RolloutRow,
  RolloutSummary,
  RunSummary,
  SlotOutlook,
  Workstation,
} from '@bichroma/contract'
import { openStore, rebuildDisplays, startServer, strayDisplays, type RunningServer } from '@bichroma/server'
import { uniformFrom } from '@bichroma/core/basics'
import { ApiClient } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { fillFleet } from '../scripts/bench/fleet'
import { until } from '../scripts/waiting'

// A fleet of 240 displays in 20 rooms, as the benchmark's but smaller; what lists say is worked out again from every display.

const day = 86_400_000
const now = Date.UTC(2026, 10, 24, 10)
let clock = now
/** The fleet as it was made, and where a server has a copy of it. */
const made = mkdtempSync(join(tmpdir(), 'bichroma-lists-'))
let folder = ''
let server: RunningServer
let client: ApiClient
let all: DisplayDetail[]

/** A server on a fleet of its own. */
async function open() {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-lists-'))
  cpSync(made, folder, { recursive: true })
  server = await startServer({ dataDir: folder, now: () => clock, durable: false })
  client = new HeldClient(server.url)
  await client.signIn('bench', 'a-large-fleet')
}
async function close() {
  await server.close()
  rmSync(folder, { recursive: true, force: true })
}
beforeAll(async () => {
  const first = await startServer({ dataDir: made, now: () => clock, durable: false })
  await first.access.addAccount('bench', 'Bench', 'administrator', 'a-large-fleet')
  await first.close()
  fillFleet(made, { displays: 240, validations: 240 * 14, now, slots: 2, placements: 3, due: true })
  const store = new Database(join(made, 'bichroma.sqlite'))
  store.exec(`
    UPDATE display SET name = 'Röhricht ' || id WHERE id % 50 = 0;
    UPDATE display SET active_slot = 2 WHERE id % 40 = 3;
    UPDATE run SET state = 'running' WHERE id = (SELECT MIN(id) FROM run WHERE display_id = 21);
    UPDATE placement SET state = 'withdrawn' WHERE display_id % 60 = 7;`)
  store.close()
  await open()
  all = []
  for (let id = 1; id <= 240; id++) all.push(await client.get<DisplayDetail>(`/displays/${id}`))
}, 120_000)
afterAll(async () => {
  await close()
  rmSync(made, { recursive: true, force: true })
})

/** A list brought in parts of so many. */
const inParts = (path: string, limit: number) =>
  client.list<DisplayListing>(`${path}${path.includes('?') ? '&' : '?'}limit=${limit}`)
const shownOf = (d: DisplayDetail) => d.slots.find((s) => s.active)!
/** The shown slot's last judgement; the verdict that a display tells may have lapsed since, the judgement's own has not. */
const lastOf = (d: DisplayDetail): LastJudged | null => {
  const run = shownOf(d).judged && d.runs.find((r) => r.id === shownOf(d).judged!.runId)
  return run?.judged ? { at: run.judged.at, verdict: run.judged.verdict as JudgedVerdict } : null
}
const verdictOf = (d: DisplayDetail): Verdict => verdictNow(lastOf(d), d.checkEveryDays, clock)
const dueOf = (d: DisplayDetail) => dueLine(lastOf(d), d.checkEveryDays)
const ids = (rows: readonly { id: number }[]) => rows.map((r) => r.id)
const count = <T>(rows: readonly T[], fits: (row: T) => boolean) => rows.filter(fits).length

describe('a list of displays', () => {
  test('says of each what the display itself says', async () => {
    const rows = await inParts('/displays', 50)
    expect(ids(rows)).toEqual(ids(all))
    for (const [i, row] of rows.entries()) {
      const d = all[i]
      const { number, label, judged, aim, unsure } = shownOf(d)
      expect(row).toMatchObject({
        name: d.name,
        model: d.model,
        firmware: d.firmware,
        room: d.room.name,
        workstation: d.workstation.name,
        operatingSystem: d.workstation.operatingSystem,
        verdict: verdictOf(d),
        dueAt: dueOf(d),
        dueState: dueState(dueOf(d), clock),
        runId: d.runId,
        slot: number,
        label,
        unsure,
        luminance: aim!.luminance,
        white: aim!.white,
      })
      expect(row.judged?.runId).toBe(judged?.runId)
      expect(row.judged?.averageDeltaE).toBe(judged?.averageDeltaE)
      expect(row.judged?.white).toEqual(judged?.white)
    }
  })

  test.each([
    ['name', (d: DisplayDetail) => d.name.toLowerCase().replace('ö', 'o')],
    ['room', (d: DisplayDetail) => d.room.name.toLowerCase()],
    [
      'verdict',
      (d: DisplayDetail) => ['outside', 'untold', 'lapsed', 'unproven', 'near', 'within'].indexOf(verdictOf(d)),
    ],
    ['due', (d: DisplayDetail) => dueOf(d) ?? 0],
    ['deltaE', (d: DisplayDetail) => -(shownOf(d).judged?.averageDeltaE ?? 1e9)],
  ] as const)('sorted by %s it holds every display once, in order, whatever its parts @long', async (sort, keyOf) => {
    const wanted = [...all].sort((a, b) => {
      const [x, y] = [keyOf(a), keyOf(b)]
      return x < y ? -1 : x > y ? 1 : a.id - b.id
    })
    for (const limit of [1 + (sort.length % 7) * 9, 200])
      expect(ids(await inParts(`/displays?sort=${sort}`, limit))).toEqual(ids(wanted))
  })

  test('filtered it holds those that fit, and counts them', async () => {
    for (const verdict of verdictNames) {
      const page = await client.get<Page<DisplayListing>>(`/displays?verdict=${verdict}&limit=200`)
      expect(ids(page.items)).toEqual(ids(all.filter((d) => verdictOf(d) === verdict)))
      expect(page).toMatchObject({ total: page.items.length, more: false, next: null })
    }
    for (const due of ['overdue', 'this week', 'later'] satisfies DueState[])
      expect(ids(await inParts(`/displays?due=${due}`, 30))).toEqual(
        ids(all.filter((d) => dueState(dueOf(d), clock) === due)),
      )
    expect(ids(await inParts('/displays?room=4&verdict=near', 5))).toEqual(
      ids(all.filter((d) => d.roomId === 4 && verdictOf(d) === 'near')),
    )
    expect(await inParts('/displays?room=4000', 5)).toEqual([])
  })

  test('searched it finds every word, whatever its case and accents, in name, model, serial, room or workstation', async () => {
    expect(ids(await inParts('/displays?search=rohricht', 9))).toEqual([50, 100, 150, 200])
    expect(ids(await inParts('/displays?search=R%C3%96HRICHT%20150', 9))).toEqual([150])
    expect(ids(await inParts('/displays?search=S-17 quillon', 9))).toEqual(
      ids(all.filter((d) => d.serial.includes('S-17'))),
    )
    expect(ids(await inParts('/displays?search=desk-99', 9))).toEqual([99])
    expect(await inParts(`/displays?search=${encodeURIComponent("' OR 1=1 --")}`, 9)).toEqual([])
    expect(await inParts('/displays?search=%25', 9)).toEqual([])
  })

  test('a part goes on where the last one ended, although something was added in between', async () => {
    const first = await client.get<Page<DisplayListing>>('/displays?sort=deltaE&limit=20')
    const store = new Database(join(folder, 'bichroma.sqlite'))
    const best = first.items[3]
    store.prepare('UPDATE slot SET unsure = 1 WHERE display_id = ? AND number = ?').run(best.id, best.slot)
    try {
      const rest: DisplayListing[] = []
      for (let next = first.next; next !== null;) {
        const page: Page<DisplayListing> = await client.get(`/displays?sort=deltaE&cursor=${next}`)
        rest.push(...page.items)
        next = page.next
      }
      expect(new Set(ids([...first.items, ...rest])).size).toBe(240)
    } finally {
      store.prepare('UPDATE slot SET unsure = 0 WHERE display_id = ?').run(best.id)
      store.close()
    }
  })
})

test.each([
  ['/displays?limit=0', 'limit'],
  ['/displays?limit=201', 'limit'],
  ['/displays?limit=1e2', 'limit'],
  ['/displays?limit=50&limit=60', 'limit'],
  ['/displays?sort=price', 'sort'],
  ['/displays?room=-1', 'room'],
  ['/displays?room[]=1', 'room[]'],
  ['/displays?verdict=fine', 'verdict'],
  ['/displays?colour=red', 'colour'],
  ['/displays?cursor=x', 'cursor'],
  [`/displays?cursor=${Buffer.from('[{"a":1},2,3,0]').toString('base64url')}`, 'cursor'],
  [`/displays?cursor=${Buffer.from('[1,"2",3,0]').toString('base64url')}`, 'cursor'],
  [`/displays?cursor=${Buffer.from('[1,2,-3,0]').toString('base64url')}`, 'cursor'],
  [`/displays?cursor=${'A'.repeat(500)}`, 'cursor'],
  [`/displays?search=${'a'.repeat(81)}`, 'search'],
  ['/displays?search=a%00b', 'search'],
  ['/runs?state=gone', 'state'],
  ['/runs?of=all', 'of'],
  ['/rollout?standing=lost', 'standing'],
  ['/workstations?courier=asleep', 'courier'],
  ['/needs?search=a', 'search'],
  ['/drift/slots?room=x', 'room'],
  ['/corrections?display=0', 'display'],
])('%s is refused with a sentence that names “%s”', async (path, field) => {
  const response = await client.raw('GET', path)
  expect(response.status).toBe(400)
  const problem = (await response.json()) as Problem
  expect(problem.detail).toContain(field)
})

describe('the floor', () => {
  test('counts what the displays come to, room by room', async () => {
    const floor = await client.get<FloorSummary>('/floor')
    expect(floor.displays).toBe(240)
    for (const verdict of verdictNames)
      expect(floor.verdicts[verdict]).toBe(count(all, (d) => verdictOf(d) === verdict))
    const stateOf = (d: DisplayDetail) => dueState(dueOf(d), clock)
    expect(floor.overdue).toBe(count(all, (d) => stateOf(d) === 'overdue'))
    expect(floor.dueThisWeek).toBe(count(all, (d) => stateOf(d) === 'this week'))
    expect(floor.rooms).toHaveLength(20)
    for (const room of floor.rooms) {
      const inside = all.filter((d) => d.roomId === room.id)
      expect(room.displays).toBe(inside.length)
      expect(room.building).toBe('House 1')
      expect(room.overdue).toBe(count(inside, (d) => stateOf(d) === 'overdue'))
      for (const verdict of verdictNames)
        expect(room.verdicts[verdict]).toBe(count(inside, (d) => verdictOf(d) === verdict))
      const later = inside.flatMap((d) => (dueOf(d) !== null && dueOf(d)! > clock ? [dueOf(d)!] : []))
      expect(room.nextDueAt).toBe(later.length ? Math.min(...later) : null)
      const worst = await client.get<Page<DisplayListing>>(`/displays?room=${room.id}&sort=verdict&limit=1`)
      expect(room.worst).toHaveLength(3)
      expect(room.worst[0].verdict).toBe(worst.items[0].verdict)
    }
  })

  test('what needs someone: every reason of every display once, the most pressing first', async () => {
    const needs = await client.list<Need>('/needs?limit=37')
    const free = all.filter((d) => d.runId === null)
    const has = (kind: string) => needs.filter((n) => n.kind === kind).map((n) => n.displayId)
    const sorted = (rows: readonly DisplayDetail[]) => ids(rows).sort((a, b) => a - b)
    const expected = (kind: string, rows: readonly DisplayDetail[]) =>
      expect(has(kind).sort((a, b) => a - b)).toEqual(sorted(rows))
    expected(
      'outside',
      free.filter((d) => verdictOf(d) === 'outside'),
    )
    expected(
      'lapsed',
      free.filter((d) => verdictOf(d) === 'lapsed'),
    )
    expected(
      'unproven',
      free.filter((d) => verdictOf(d) === 'unproven'),
    )
    expected(
      'due',
      free.filter((d) => ['within', 'near'].includes(verdictOf(d)) && dueState(dueOf(d), clock) === 'overdue'),
    )
    expected(
      'profile',
      all.filter((d) => ['overridden', 'missing'].includes(d.rollout!.placement?.state ?? '')),
    )
    expected(
      'slot',
      free.filter((d) => d.rollout!.placement?.state === 'out of step'),
    )
    expect(has('slot').length).toBeGreaterThan(0)
    const kinds = needs.map((n) => n.kind)
    expect(kinds).toEqual(
      (['outside', 'untold', 'profile', 'slot', 'lapsed', 'due', 'unproven'] as const).flatMap((k) =>
        kinds.filter((n) => n === k),
      ),
    )
    const worst = has('outside').map((id) => shownOf(all[id - 1]).judged!.averageDeltaE)
    expect(worst).toEqual([...worst].sort((a, b) => b - a))
    const { needs: told } = await client.get<FloorSummary>('/floor')
    expect(told.count).toBe(needs.length)
    expect(told.first).toEqual(needs.slice(0, 12))
  })

  test('the pulse counts the same', async () => {
    const pulse = await client.get<Pulse>('/pulse')
    const floor = await client.get<FloorSummary>('/floor')
    expect(pulse).toMatchObject({
      dueToday: floor.overdue,
      astray: count(all, (d) => ['overridden', 'missing'].includes(d.rollout!.placement?.state ?? '')),
      instruments: 8,
    })
    // The run that is “running” was interrupted when the server started, and still holds its display and instrument.
    expect(pulse.running.map((r) => [r.displayName, r.state])).toEqual([['Desk 21', 'interrupted']])
    expect(pulse.instrumentsFree).toBe(7)
  })

  test('what time alone does is told without anything being written', async () => {
    clock = now + 400 * day
    try {
      await client.signIn('bench', 'a-large-fleet')
      const floor = await client.get<FloorSummary>('/floor')
      const judged = count(all, (d) => shownOf(d).judged !== null)
      expect(floor.verdicts).toEqual({
        within: 0,
        near: 0,
        untold: 0,
        outside: 0,
        lapsed: judged,
        unproven: 240 - judged,
      })
      expect(floor.overdue).toBe(240)
    } finally {
      clock = now
      await client.signIn('bench', 'a-large-fleet')
    }
  })
})

test('what a list is sorted by stays inside', async () => {
  for (const path of ['/displays', '/runs', '/rollout', '/workstations', '/needs', '/drift/slots']) {
    const { items } = await client.get<Page<object>>(`${path}?limit=1`)
    expect(items).toHaveLength(1)
    expect(Object.keys(items[0]).filter((key) => key.includes('_'))).toEqual([])
  }
})

describe('other lists', () => {
  test('runs: newest first, each once, filtered and searched like everything @long', async () => {
    const first = await client.get<Page<RunSummary>>('/runs?limit=200')
    expect(first).toMatchObject({ total: 1000, more: true })
    const runs = await client.list<RunSummary>('/runs?limit=199')
    expect(runs).toHaveLength(240 * 14)
    expect(new Set(ids(runs)).size).toBe(runs.length)
    for (const [i, r] of runs.slice(1).entries())
      expect(runs[i].startedAt > r.startedAt || (runs[i].startedAt === r.startedAt && runs[i].id > r.id)).toBe(true)
    const fit = async (query: string, fits: (r: RunSummary) => boolean) =>
      expect(ids(await client.list<RunSummary>(`/runs?${query}`))).toEqual(ids(runs.filter(fits)))
    await fit('kind=full', (r) => r.kind === 'full')
    await fit('state=interrupted', (r) => r.state === 'interrupted')
    await fit('of=judged&verdict=outside', (r) => r.judged?.verdict === 'outside')
    await fit('display=17', (r) => r.displayId === 17)
    await fit('room=5&kind=check', (r) => all[r.displayId - 1].roomId === 5 && r.kind === 'check')
    await fit('search=rohricht', (r) => r.displayName.startsWith('Röhricht'))
    // Every display fits: the newest are found by looking at the newest.
    await fit('search=quillon', () => true)
  })

  test('rollout: by how each stands @long', async () => {
    const rows = await client.list<RolloutRow>('/rollout')
    expect(rows).toEqual(all.map((d) => d.rollout))
    const fit = async (standing: string, fits: (r: RolloutRow) => boolean) => {
      const found = await client.list<RolloutRow>(`/rollout?standing=${standing}&limit=3`)
      expect(found.map((r) => r.displayId)).toEqual(rows.filter(fits).map((r) => r.displayId))
      return found.length
    }
    expect(await fit('none', (r) => r.placement === null)).toBe(4)
    await fit('in force', (r) => r.placement?.state === 'in force')
    await fit('astray', (r) => ['overridden', 'missing', 'out of step'].includes(r.placement?.state ?? ''))
    expect(await fit('differs', (r) => r.differs)).toBeGreaterThan(0)
  })

  test('workstations by name, and slots by when they leave their limits', async () => {
    const workstations = await client.list<Workstation>('/workstations?limit=33')
    expect(workstations).toHaveLength(240)
    expect(workstations.map((w) => w.name)).toEqual(workstations.map((w) => w.name).sort())
    expect(await client.list<Workstation>('/workstations?courier=online')).toEqual([])
    expect(await client.list<Workstation>('/workstations?courier=away&room=3')).toHaveLength(12)
    const slots = await client.list<SlotOutlook>('/drift/slots?limit=31')
    expect(slots).toHaveLength(240)
    const leaves = slots.map(({ forecast: f }) =>
      f?.kind === 'past' ? 0 : f?.kind === 'crosses' ? f.at : f?.kind === 'steady' ? 1e16 : 1e17,
    )
    expect(leaves.filter((at, i) => i > 0 && at < leaves[i - 1] && leaves[i - 1] > clock)).toEqual([])
  })
})

/** How each display's placement stands: the store's own word against core's, from the rows that both tell of. */
function expectStandings(store: Database.Database) {
  const rows = store
    .prepare(
      `SELECT display_now.placement_state AS told, display_now.slot AS shown, placement.state AS progress,
         placement.verified_at IS NOT NULL AS read, placement.profile_hash AS hash, placement.slot AS slot,
         found.id AS found, found.path AS path, found.hash AS foundHash, found.waits_for AS waitsFor
       FROM display_now JOIN placement ON placement.id = placement_id LEFT JOIN found ON found.id = found_id`,
    )
    .all() as {
    told: string
    shown: number
    progress: 'queued' | 'sent'
    read: number
    hash: string | null
    slot: number | null
    found: number | null
    path: string | null
    foundHash: string | null
    waitsFor: 'sign-out' | null
  }[]
  expect(rows.length).toBeGreaterThan(100)
  for (const r of rows) {
    const found = r.found === null ? null : { path: r.path, hash: r.foundHash, waitsFor: r.waitsFor }
    const agreed = { progress: r.progress, read: Boolean(r.read), hash: r.hash, slot: r.slot }
    expect([r, r.told]).toEqual([r, standingOf(agreed, found, r.shown)])
  }
}

/** Writes to a fleet at random, so many times in one transaction. */
function writer(store: Database.Database): (times: number) => void {
  const uniform = uniformFrom(11)
  const any = (most: number) => 1 + Math.floor(uniform() * most)
  const pick = <T>(of: readonly T[]) => of[any(of.length) - 1]
  const writes: (() => [string, unknown[]])[] = [
    () => ['UPDATE display SET active_slot = ? WHERE id = ?', [any(2), any(240)]],
    () => ['UPDATE display SET name = name || ? WHERE id = ?', ['x', any(240)]],
    () => ['UPDATE display SET check_every_days = ? WHERE id = ?', [any(60), any(240)]],
    () => ['UPDATE display SET workstation_id = ? WHERE id = ?', [any(240), any(240)]],
    () => ['UPDATE workstation SET room_id = ? WHERE id = ?', [any(20), any(240)]],
    () => ['UPDATE room SET name = name || ? WHERE id = ?', ['y', any(20)]],
    () => ['UPDATE slot SET unsure = 1 - unsure WHERE display_id = ?', [any(240)]],
    () => [
      `UPDATE slot SET judged_run_id = (SELECT id FROM run WHERE run.display_id = slot.display_id ORDER BY id * ? % 13 LIMIT 1)
       WHERE display_id = ? AND number = ?`,
      [any(12), any(240), any(2)],
    ],
    () => ['UPDATE slot SET aim = NULL, label = NULL WHERE display_id = ? AND number = ?', [any(240), any(2)]],
    () => ["UPDATE run SET state = 'failed' WHERE id = ?", [any(3000)]],
    () => ["UPDATE OR IGNORE run SET state = 'running' WHERE id = ?", [any(3000)]],
    () => ['UPDATE run SET withdrawn_at = ? WHERE id = ?', [now, any(3000)]],
    () => ['UPDATE run SET profile_hash = NULL WHERE id = ?', [any(3000)]],
    () => ["UPDATE placement SET state = 'sent', verified_at = NULL WHERE id = ?", [any(700)]],
    () => ['UPDATE placement SET verified_at = 1 WHERE id = ?', [any(700)]],
    () => [
      `INSERT INTO found (display_id, workstation_id, path, hash, waits_for, associations, since, read_at)
         SELECT id, workstation_id, 'x', ?, ?, '{}', 1, 1 FROM display WHERE id = ?`,
      [pick(['a'.repeat(64), 'b', null]), pick(['sign-out', null, null]), any(240)],
    ],
    () => [
      `INSERT INTO wanted (display_id, kind, slot, profile_hash, rules, origins, since) VALUES (?, ?, 1, ?, '{}', '{"profile":"usual"}', 1)`,
      [any(240), pick(['profile', 'none', 'no profile']), pick(['a'.repeat(64), 'b'])],
    ],
    () => ["UPDATE placement SET state = 'withdrawn' WHERE id = ?", [any(700)]],
    () => ['DELETE FROM placement WHERE id = ?', [any(700)]],
    () => ['DELETE FROM slot WHERE display_id = ? AND number = 2', [any(240)]],
  ]
  return store.transaction((times: number) => {
    for (let i = 0; i < times; i++) {
      const [sql, parameters] = pick(writes)()
      store.prepare(sql).run(...parameters)
    }
  })
}

describe('the read model of displays', () => {
  // Each writes to a fleet of its own.
  let shared: [string, RunningServer, ApiClient]
  beforeEach(() => {
    shared = [folder, server, client]
    return open()
  })
  afterEach(async () => {
    await close()
    ;[folder, server, client] = shared
  })

  test('is never astray, whatever is written in whichever order @long', async () => {
    const store = new Database(join(folder, 'bichroma.sqlite'))
    const write = writer(store)
    const inspected = await openStore(folder, { durable: false })
    try {
      for (let round = 0; round < 12; round++) {
        write(40)
        expect(await strayDisplays(inspected)).toEqual([])
        expectStandings(store)
      }
      // And one that was meddled with is found, and mended by the command.
      store.exec(`UPDATE display_now SET verdict = 'within', judged_at = 1 WHERE display_id = 9;
        DELETE FROM display_now WHERE display_id = 10; UPDATE display_now SET display_id = 999 WHERE display_id = 11`)
      expect((await strayDisplays(inspected)).sort((a, b) => a - b)).toEqual([9, 10, 11, 999])
      expect(await rebuildDisplays(inspected)).toBe(240)
      expect(await strayDisplays(inspected)).toEqual([])
    } finally {
      await inspected.destroy()
      store.close()
    }
  })

  test('what mends a difference is the same for a list that is asked by it and for each of its rows @long', async () => {
    const store = new Database(join(folder, 'bichroma.sqlite'))
    writer(store)(480)
    // What follows from that is worked out first.
    const left = store.prepare('SELECT COUNT(*) FROM wanted_due').pluck()
    await until(async () => left.get() === 0, 'what is wanted is worked out')
    store.close()
    const rows = await client.list<RolloutRow>('/rollout')
    const seen = new Set<Mend>()
    for (const mend of mends) {
      const asked = await client.list<RolloutRow>(`/rollout?mend=${mend}`)
      expect([mend, asked.map((r) => r.displayId)]).toEqual([
        mend,
        rows.filter((r) => r.mend === mend).map((r) => r.displayId),
      ])
      if (asked.length) seen.add(mend)
    }
    expect(seen.size).toBeGreaterThan(3)
    const { mends: counted } = await client.get<RolloutSummary>('/rollout/summary')
    for (const mend of seen)
      if (mend !== 'run') expect([mend, counted[mend]]).toEqual([mend, rows.filter((r) => r.mend === mend).length])
  })

  test('what fails is undone with it', () => {
    const store = new Database(join(folder, 'bichroma.sqlite'))
    const row = () => store.prepare('SELECT name FROM display_now WHERE display_id = 30').get()
    const before = row()
    expect(() =>
      store.transaction(() => {
        store.exec(`UPDATE display SET name = 'Half' WHERE id = 30`)
        expect(row()).toEqual({ name: 'Half' })
        throw new Error('the disk is full')
      })(),
    ).toThrow('the disk is full')
    expect(row()).toEqual(before)
    store.close()
  })
})
