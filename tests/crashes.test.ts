import { copyFileSync, existsSync, mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { RunSummary } from '@bichroma/contract'
import { openStore, strayDisplays } from '@bichroma/server'
import { proveLedger } from '../packages/server/src/ledger/ledger'
import { FaultyDisk } from '../scripts/ordeal/faultyDriver'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

/** The files of a store. */
const files = ['bichroma.sqlite', 'bichroma.sqlite-wal']

/**
 * A studio whose store is copied before each write, as a kill at that moment would leave it, and set back to each of
 * these copies in turn: what the display and the host did meanwhile they have done, as they would have.
 */
class CrashStudio {
  private images: { folder: string; next: string }[] = []

  private constructor(
    readonly studio: Studio,
    private readonly disk: FaultyDisk,
  ) {}

  static async open(): Promise<CrashStudio> {
    const disk = new FaultyDisk()
    return new CrashStudio(await Studio.proven({ storeDriver: disk.driver }), disk)
  }

  private get dataDir(): string {
    return join(this.studio.folder, 'data')
  }

  /** Does something, and keeps how the store stood before each of its writes from the one that is the first wanted. */
  async record<T>(first: RegExp, act: () => Promise<T>): Promise<T> {
    let begun = false
    this.images = []
    this.disk.before = (sql) => {
      begun ||= first.test(sql)
      if (!begun) return
      const folder = join(this.studio.folder, `image-${this.images.length}`)
      mkdirSync(folder)
      for (const file of files)
        if (existsSync(join(this.dataDir, file))) copyFileSync(join(this.dataDir, file), join(folder, file))
      this.images.push({ folder, next: sql })
    }
    try {
      return await act()
    } finally {
      this.disk.before = () => {}
    }
  }

  /** Starts a server on each of the copies, and looks whether everything is right there in the end; gives how many there were. */
  async eachImage(look: () => Promise<void>): Promise<number> {
    const { studio } = this
    for (const { folder, next } of this.images) {
      await studio.server.close()
      for (const file of [...files, 'bichroma.sqlite-shm']) {
        rmSync(join(this.dataDir, file), { force: true })
        if (existsSync(join(folder, file))) copyFileSync(join(folder, file), join(this.dataDir, file))
      }
      await studio.restartServer(false)
      try {
        await look()
      } catch (error) {
        throw new Error(`Killed before “${next.slice(0, 90)}”: ${(error as Error).message}`, { cause: error })
      }
    }
    return this.images.length
  }

  /** Looks up something in the store behind the server's back. */
  ask<T>(sql: string, ...values: unknown[]): T[] {
    const store = new Database(join(this.dataDir, 'bichroma.sqlite'), { readonly: true })
    try {
      return store
        .prepare(sql)
        .pluck()
        .all(...values) as T[]
    } finally {
      store.close()
    }
  }

  /** The ledger's chain is whole, and lists say of displays what they are. */
  async expectSound(): Promise<void> {
    const raw = new Database(join(this.dataDir, 'bichroma.sqlite'), { readonly: true })
    expect(await proveLedger(raw)).toMatchObject({ faults: [] })
    raw.close()
    const store = await openStore(this.dataDir, { durable: false })
    expect(await strayDisplays(store)).toEqual([])
    await store.destroy()
  }

  close = (): Promise<void> => this.studio.close()
}

let crashes: CrashStudio
beforeEach(async () => {
  crashes = await CrashStudio.open()
})
afterEach(() => crashes.close())

test('killed between any two writes of File, a run is filed once, with its verdict, its profile and its history @long @long', async () => {
  const { studio } = crashes
  const id = await crashes.record(/^UPDATE "run" SET "metrics"/, async () => {
    const started = await studio.start({ sampling: 'brief' })
    await studio.finish(started)
    await until(async () => (await studio.display()).rollout?.wanted?.runId === started, 'its profile is wanted')
    return started
  })
  const uncrashed = await studio.run(id)
  const images = await crashes.eachImage(async () => {
    const { state } = await studio.run(id)
    if (state === 'interrupted') await studio.admin.post(`/runs/${id}/resume`)
    const run = await studio.finish(id)
    expect([run.state, run.judged?.verdict, run.log]).toEqual(['done', uncrashed.judged!.verdict, uncrashed.log])
    expect((await studio.display()).slots[0].judged?.runId).toBe(id)
    await until(
      async () => crashes.ask(`SELECT 1 FROM drift_due UNION ALL SELECT 1 FROM wanted_due`).length === 0,
      'what follows of it is done',
    )
    expect(crashes.ask(`SELECT COUNT(*) FROM validation WHERE run_id = ?`, id)).toEqual([1])
    expect(crashes.ask(`SELECT act FROM ledger WHERE thing = 'run' AND thing_id = ? AND act <> 'resumed'`, id)).toEqual(
      ['started', 'proved'],
    )
    expect(
      crashes.ask(`SELECT profile_hash FROM wanted WHERE display_id = ? ORDER BY id DESC LIMIT 1`, studio.displayId),
    ).toEqual(crashes.ask(`SELECT profile_hash FROM run WHERE id = ?`, id))
    expect((await studio.admin.raw('GET', `/runs/${id}/profile`)).status).toBe(200)
    await crashes.expectSound()
  })
  expect(images).toBeGreaterThan(15)
})

test('killed between any two writes of a placement, the profile is in force once, and the host holds no second file @long @long', async () => {
  const { studio } = crashes
  const inForce = async () => (await studio.display()).rollout?.placement?.state === 'in force'
  await crashes.record(/placement|wanted/i, async () => {
    await studio.admin.post('/placements', { runId: 1 })
    await until(inForce, 'the profile is in force')
  })
  const placements = () => crashes.ask(`SELECT state || ' ' || action || ' ' || file_name FROM placement`)
  const uncrashed = placements()
  expect(uncrashed).toHaveLength(1)
  const host = studio.bench.host(live.workstation)
  const images = await crashes.eachImage(async () => {
    // Killed before it was asked for, it is asked for again, as a person would.
    if (!crashes.ask(`SELECT 1 FROM placement`).length) await studio.admin.post('/placements', { runId: 1 })
    await until(inForce, 'the profile is in force')
    const hashes = crashes.ask(`SELECT profile_hash FROM run WHERE id = 1`)
    expect((await host.listInForce()).map((b) => b.hash)).toEqual(hashes)
    expect((await host.files()).map((f) => f.hash)).toEqual(hashes)
    expect(placements()).toEqual(uncrashed)
    await crashes.expectSound()
  })
  expect(images).toBeGreaterThan(3)
})

test('killed between any two writes of an import, it is there whole or not at all, and can be sent again', async () => {
  const { studio } = crashes
  const body = {
    slot: 1,
    aimId: studio.aimIds['Atlas web'],
    fileName: 'elsewhere.csv',
    text: 'RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,113,119,129\n0.5,0.5,0.5,24,25,27\n0,0,0,0.1,0.1,0.1\n',
    readAt: Math.floor(studio.clock.now()) - 1000,
    instrument: 'Elsewhere',
  }
  const send = () => studio.admin.post(`/displays/${studio.displayId}/validations`, body)
  const found = async () => (await studio.admin.list<RunSummary>('/runs')).filter((r) => r.imported !== null)
  const settled = () =>
    until(async () => crashes.ask(`SELECT 1 FROM drift_due`).length === 0, 'its place in the history is worked out')
  await crashes.record(/INSERT INTO "run"/, async () => {
    await send()
    await settled()
  })
  const images = await crashes.eachImage(async () => {
    if (!(await found()).length) await send()
    await settled()
    const [run, ...more] = await found()
    expect([run.readings, run.judged === null, more]).toEqual([3, false, []])
    expect(crashes.ask(`SELECT COUNT(*) FROM validation WHERE run_id = ?`, run.id)).toEqual([1])
    expect(crashes.ask(`SELECT COUNT(*) FROM ledger WHERE thing = 'run' AND thing_id = ?`, run.id)).toEqual([1])
    await crashes.expectSound()
  })
  expect(images).toBeGreaterThan(4)
})
