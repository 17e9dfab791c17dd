import Database from 'better-sqlite3'
import yauzl from 'yauzl'
import type {
  DisplayDetail,
  LedgerEntry,
  Page,
  Problem,
  RunDetail,
  RunSummary,
  SlotHistory,
  SlotOutlook,
} from '@bichroma/contract'
import { FaultyDisk } from '../scripts/ordeal/faultyDriver'
import { Studio } from './studio'

const disk = new FaultyDisk()
let studio: Studio
let run: RunDetail
// Each has a studio of its own: what it withdraws or imports counts for the others' verdicts.
beforeEach(async () => {
  studio = await Studio.proven({ storeDriver: disk.driver })
  run = await studio.run(1)
})
afterEach(() => studio.close())

const history = () => studio.admin.get<SlotHistory>(`/drift/${studio.displayId}?slot=1`)
const counted = async () => (await history()).history.map((h) => h.runId)
const judgedBy = async () => (await studio.display()).slots[0].judged?.runId ?? null
const check = async () => studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
const withdraw = (id: number, reason = 'The instrument was knocked.') =>
  studio.admin.post(`/runs/${id}/withdraw`, { reason })
const table = (y: number) =>
  `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,${0.95 * y},${y},${1.09 * y}\n0,0,0,0.1,0.1,0.1\n0.5,0.5,0.5,${0.2 * y},${0.21 * y},${0.23 * y}\n`
const importing = (change: object = {}) => ({
  slot: 1,
  fileName: 'old.csv',
  text: table(118),
  readAt: Math.floor(studio.clock.now()),
  instrument: 'Old puck',
  ...change,
})
const doImport = async (change: object = {}) =>
  (await studio.admin.post<{ id: number }>(`/displays/${studio.displayId}/validations`, importing(change))).id

describe('a validation that is withdrawn', () => {
  test('stays with its readings and its reason, and counts for the slot, its history and the fleet no longer @long', async () => {
    const newest = await check()
    expect(await judgedBy()).toBe(newest.id)
    await withdraw(newest.id)
    expect(await judgedBy()).toBe(run.id)
    expect(await counted()).toEqual([run.id])
    const kept = await studio.run(newest.id)
    expect(kept.log).toHaveLength(newest.log.length)
    expect(kept).toMatchObject({
      state: 'done',
      withdrawn: { by: 'administrator', reason: 'The instrument was knocked.' },
    })
    const slots = await studio.admin.list<SlotOutlook>('/drift/slots')
    expect(slots[0]).toMatchObject({ validations: 1 })
    // Nor after a restart, which files whatever is missing.
    await studio.restartServer()
    expect(await counted()).toEqual([run.id])
  })

  test('the last of a slot leaves it unproven, and the next proves it @long', async () => {
    const imported = await doImport()
    await withdraw(imported)
    expect(await judgedBy()).toBe(run.id)
    await withdraw(run.id, 'Wrong room light.')
    expect((await studio.display()).verdict).toBe('unproven')
    expect(await counted()).toEqual([])
    expect((await studio.admin.raw('GET', `/rooms/${studio.ids.room}/reports`)).status).toBe(409)
    const again = await check()
    expect(await judgedBy()).toBe(again.id)
    expect(await counted()).toEqual([again.id])
  })

  test('only an administrator withdraws, once, with a reason, what counts', async () => {
    const one = await check()
    const asks = async (body: unknown, id = one.id, client = studio.admin) => {
      const response = await client.raw('POST', `/runs/${id}/withdraw`, body)
      return [response.status, ((await response.json()) as Problem).detail ?? '']
    }
    expect((await asks({ reason: 'x y z' }, one.id, await studio.as('technician')))[0]).toBe(403)
    expect(await asks({})).toEqual([400, '“Reason” is missing; it is needed.'])
    expect((await asks({ reason: '  ' }))[0]).toBe(400)
    expect((await asks({ reason: 'x'.repeat(301) }))[1]).toContain('300 characters or fewer')
    expect((await asks({ reason: 'Knocked.' }, 4711))[0]).toBe(404)
    const spot = await studio.finish(await studio.start({ kind: 'spot', aimId: undefined, overwrites: undefined }))
    expect(await asks({ reason: 'Knocked.' }, spot.id)).toEqual([
      409,
      'A spot run counts for nothing that could be withdrawn.',
    ])
    // Of two who withdraw it at once one does, and the ledger tells of that one.
    const twice = await Promise.all([asks({ reason: 'Knocked.' }), asks({ reason: 'Bumped.' })])
    const already = [409, 'This validation has been withdrawn already.']
    expect(twice.map(([status]) => status).sort()).toEqual([200, 409])
    expect(twice).toContainEqual(already)
    expect(await asks({ reason: 'Knocked.' })).toEqual(already)
    const { items } = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=run')
    const told = items.filter((entry) => entry.act === 'withdrew')
    expect(told.map((entry) => entry.why)).toEqual([twice[0][0] === 200 ? 'Knocked.' : 'Bumped.'])
    await expect(studio.admin.post(`/runs/${one.id}/profile`)).rejects.toThrow('was withdrawn')
  })
})

describe('an import is there whole or not at all', () => {
  test('whichever of its writes fails @long', async () => {
    const rows = async () => {
      const [runs, fleet] = [await studio.admin.list<RunSummary>('/runs'), await counted()]
      return { runs: runs.length, fleet, judged: await judgedBy() }
    }
    disk.arm('io', Infinity)
    await doImport({ readAt: 1_700_000_000_000 })
    const { writes } = disk
    expect(writes).toBeGreaterThan(6)
    const before = await rows()
    for (let at = 1; at <= writes; at++) {
      disk.arm('io', at)
      const response = await studio.admin.raw(
        'POST',
        `/displays/${studio.displayId}/validations`,
        importing({ readAt: 1_700_000_000_000 + at }),
      )
      disk.mend()
      const after = await rows()
      // Trends follow from an import: they have their own failure.
      if (response.status === 201)
        expect({ at, ...after }).toEqual({ at, ...before, runs: before.runs + 1, fleet: expect.anything() })
      else expect({ at, status: response.status, ...after }).toEqual({ at, status: 503, ...before })
      if (response.status === 201) before.runs++
    }
    await studio.restartServer()
    const store = new Database(`${studio.folder}/data/bichroma.sqlite`, { readonly: true })
    expect(store.prepare('SELECT COUNT(*) FROM drift_due').pluck().get()).toBe(0)
    store.close()
  })

  test('a store in which an older version was cut off between two writes opens all the same @long', async () => {
    const id = await doImport({ readAt: 1_600_000_000_000 })
    await studio.server.close()
    const store = new Database(`${studio.folder}/data/bichroma.sqlite`)
    store.exec(`DELETE FROM validation WHERE run_id = ${id}; UPDATE run SET summary = NULL WHERE id = ${id}`)
    store.close()
    await studio.restartServer(false)
    expect(await counted()).not.toContain(id)
    expect((await studio.admin.raw('GET', '/reports/fleet?as=pdf')).status).toBe(200)
  })

  test('a figure that an older version let in breaks no report, and can be withdrawn @long', async () => {
    const id = await doImport()
    await studio.server.close()
    const store = new Database(`${studio.folder}/data/bichroma.sqlite`)
    store.exec(
      `UPDATE validation SET figures = json_set(figures, '$.luminanceOff', NULL, '$.whiteDeltaUv', NULL) WHERE run_id = ${id}`,
    )
    store.close()
    await studio.restartServer(false)
    for (const path of [
      '/reports/fleet?as=pdf',
      '/reports/fleet?as=csv',
      `/rooms/${studio.ids.room}/reports`,
      '/drift',
      `/drift/${studio.displayId}`,
    ])
      expect(`${path} ${(await studio.admin.raw('GET', path)).status}`).toBe(`${path} 200`)
    // What the slot comes to is worked out anew all the same, by the last figure that is one.
    await doImport({ readAt: 1_700_000_000_000 })
    const [slot] = await studio.admin.list<SlotOutlook>('/drift/slots')
    expect([slot.validations, Number.isFinite(slot.luminanceOff)]).toEqual([3, true])
    await withdraw(id)
    expect(await counted()).not.toContain(id)
  })
})

describe('reports of names that are no file names', () => {
  const rename = async (name: string, id = studio.displayId) => {
    const { limitsId, checkEveryDays } = await studio.admin.get<DisplayDetail>(`/displays/${id}`)
    await studio.admin.put(`/displays/${id}`, { name, limitsId, checkEveryDays })
  }
  const foldersOfRoom = async () => {
    const response = await studio.admin.raw('GET', `/rooms/${studio.ids.room}/reports`)
    expect(response.status).toBe(200)
    const bytes = Buffer.from(await response.arrayBuffer())
    return new Promise<string[]>((resolve, reject) =>
      yauzl.fromBuffer(bytes, { lazyEntries: false }, (error, zip) => {
        if (error) return reject(error)
        const names: string[] = []
        zip.on('entry', (entry: { fileName: string }) => names.push(entry.fileName))
        zip.on('end', () => resolve([...new Set(names.filter((n) => n.includes('/')).map((n) => n.split('/')[0]))]))
        zip.on('error', reject)
      }),
    )
  }

  test.each([
    ['..', () => `display-${studio.displayId}`],
    ['★★★', () => `display-${studio.displayId}`],
    ['CON', () => 'named-CON'],
    ['Седж 2', () => 'Седж-2'],
  ])('a display named “%s” @long', async (name, folder) => {
    await rename(name)
    expect(await foldersOfRoom()).toEqual([folder()])
  })

  test.each(['2026-02-31', '2026-13-01', '2026-2-3', '20260203', 'today'])('no calendar has the day %s', async (on) => {
    const response = await studio.admin.raw('GET', `/reports/fleet?on=${on}`)
    expect(response.status).toBe(400)
    expect(((await response.json()) as Problem).detail).toBe('“on” must be a day, as in 2026-11-24.')
  })

  test('two displays whose names come to the same letters have profiles of their own on their workstation @long', async () => {
    await rename('Седж')
    const done = await studio.finish(await studio.start({ sampling: 'brief' }))
    await studio.admin.post('/placements', { runId: done.id })
    const { serial: _serial, ...first } = await studio.display()
    const { maker, model, firmware, panelKind, limitsId, checkEveryDays, workstationId } = first
    const second = {
      name: 'Лист',
      maker,
      model,
      firmware,
      panelKind,
      serial: 'QL-27-SECOND',
      slots: 3,
      limitsId,
      checkEveryDays,
      workstationId,
    }
    const { id } = await studio.admin.post<{ id: number }>('/displays', second)
    const store = new Database(`${studio.folder}/data/bichroma.sqlite`)
    const columns = (store.pragma('table_info(run)') as { name: string }[])
      .map((c) => c.name)
      .filter((n) => n !== 'id' && n !== 'display_id')
    store.exec(
      `INSERT INTO run (display_id, ${columns.join(', ')}) SELECT ${id}, ${columns.join(', ')} FROM run WHERE id = ${done.id}`,
    )
    const copied = store.prepare('SELECT MAX(id) FROM run').pluck().get() as number
    store.close()
    await studio.admin.post('/placements', { runId: copied })
    const rows = await studio.admin.list<{ displayId: number; placement: { fileName: string } | null }>('/rollout')
    const names = rows.map((r) => r.placement!.fileName)
    expect(names[1]).toBe(names[0].replace('.icc', `-d${id}.icc`))
  })
})
