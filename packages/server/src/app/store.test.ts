import { mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { DataSource } from 'typeorm'
import { contentHash } from '@bichroma/core/profiles'
import { Access } from '../access/access'
import { hashPassword, passwordFits } from '../access/passwords'
import { StoredSessions, usualSpan } from '../access/sessionStore'
import { atomically } from '../data/atomically'
import { Ledger } from '../ledger/ledger'
import { newCourierKey, workstationOfKey } from '../register/courierKeys'
import { workstationEntity } from '../register/entities'
import { ContentStore } from '../data/contents'
import { FirstMigration1764000000000 } from './migrations/firstMigration'
import { FifthMigration1764300000000 } from './migrations/fifthMigration'
import { EighthMigration1764600000000 } from './migrations/eighthMigration'
import { NinthMigration1764700000000 } from './migrations/ninthMigration'
import { FifteenthMigration1765300000000 } from './migrations/fifteenthMigration'
import { EighteenthMigration1765600000000 } from './migrations/eighteenthMigration'
import { SeventeenthMigration1765500000000 } from './migrations/seventeenthMigration'
import { SixteenthMigration1765400000000 } from './migrations/sixteenthMigration'
import { FourteenthMigration1765200000000 } from './migrations/fourteenthMigration'
import { ThirteenthMigration1765100000000 } from './migrations/thirteenthMigration'
import { TwelfthMigration1765000000000 } from './migrations/twelfthMigration'
import { EleventhMigration1764900000000 } from './migrations/eleventhMigration'
import { TenthMigration1764800000000 } from './migrations/tenthMigration'
import { SeventhMigration1764500000000 } from './migrations/seventhMigration'
import { SixthMigration1764400000000 } from './migrations/sixthMigration'
import { SecondMigration1764050000000 } from './migrations/secondMigration'
import { FourthMigration1764200000000 } from './migrations/fourthMigration'
import { ThirdMigration1764140000000 } from './migrations/thirdMigration'
import { insertRow } from '../data/insertRow'
import { openStore } from './store'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-store-'))
let data: DataSource
let now = 1_000_000
beforeAll(async () => {
  data = await openStore(folder)
})
afterAll(async () => {
  await data.destroy()
  rmSync(folder, { recursive: true, force: true })
})

test('is in WAL mode, keeps foreign keys, and has a table with every column for every entity', async () => {
  expect(await data.query('PRAGMA journal_mode')).toEqual([{ journal_mode: 'wal' }])
  expect(await data.query('PRAGMA foreign_keys')).toEqual([{ foreign_keys: 1 }])
  for (const { tableName, columns } of data.entityMetadatas) {
    const there = (await data.query(`PRAGMA table_info("${tableName}")`)) as {
      name: string
      notnull: number
      pk: number
    }[]
    expect(there.map((c) => c.name).sort()).toEqual(columns.map((c) => c.databaseName).sort())
    for (const column of columns) {
      const found = there.find((c) => c.name === column.databaseName)!
      if (!found.pk)
        expect(`${tableName}.${found.name} ${found.notnull}`).toBe(
          `${tableName}.${found.name} ${column.isNullable ? 0 : 1}`,
        )
    }
  }
})

test('a query about another row, or another time, is the same text', () => {
  const asked = (id: number, before: number) =>
    data
      .createQueryBuilder(workstationEntity, 'w')
      .where('w.id = :id AND w.roomId IN (:...rooms) AND w.name <> :name', { id, rooms: [3, before], name: '7' })
      .getQueryAndParameters()
  const [[one, first], [other, second]] = [asked(5, 1e12), asked(6, 0.5)]
  expect(other).toBe(one)
  expect([first, second]).toEqual([
    [5, 3, 1e12, '7'],
    [6, 3, 0.5, '7'],
  ])
})

test('opening it again runs no migration twice and loses nothing', async () => {
  const contents = new ContentStore(data, () => now)
  const hash = await contents.put(new Uint8Array([1, 2, 3]))
  const again = await openStore(folder)
  expect(await new ContentStore(again, () => now).get(hash)).toEqual(new Uint8Array([1, 2, 3]))
  expect(await again.query('SELECT name FROM migrations')).toHaveLength(18)
  await again.destroy()
})

test('the migrations can be taken back whole @long', async () => {
  const other = mkdtempSync(join(tmpdir(), 'bichroma-store-'))
  const store = await openStore(other)
  for (const Migration of [
    EighteenthMigration1765600000000,
    SeventeenthMigration1765500000000,
    SixteenthMigration1765400000000,
    FifteenthMigration1765300000000,
    FourteenthMigration1765200000000,
    ThirteenthMigration1765100000000,
    TwelfthMigration1765000000000,
    EleventhMigration1764900000000,
    TenthMigration1764800000000,
    NinthMigration1764700000000,
    EighthMigration1764600000000,
    SeventhMigration1764500000000,
    SixthMigration1764400000000,
    FifthMigration1764300000000,
    FourthMigration1764200000000,
    ThirdMigration1764140000000,
    SecondMigration1764050000000,
    FirstMigration1764000000000,
  ])
    await new Migration().down(store.createQueryRunner())
  const left = (await store.query(
    `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'`,
  )) as { name: string }[]
  expect(left.map((t) => t.name)).toEqual(['migrations'])
  await store.destroy()
  rmSync(other, { recursive: true, force: true })
})

test('what older versions told by sentences becomes columns @long', async () => {
  const other = mkdtempSync(join(tmpdir(), 'bichroma-store-'))
  const before = await openStore(other, { upTo: 'EighthMigration1764600000000' })
  for (const Migration of [
    EighthMigration1764600000000,
    SeventhMigration1764500000000,
    SixthMigration1764400000000,
    FifthMigration1764300000000,
  ]) {
    await new Migration().down(before.createQueryRunner())
    await before.query('DELETE FROM migrations WHERE name = ?', [Migration.name])
  }
  await before.query('PRAGMA foreign_keys = OFF')
  const rows = [
    ['full', 'waiting', 'Putting the display back. The courier on sedge-02 is away.', null],
    ['full', 'done', 'Taken back by Marit Oyen. Slot 1 holds nothing again, as before the run.', 77],
    ['full', 'done', null, 78],
    ['check', 'stopped', 'Stopped. Nothing was changed on the display.', 79],
  ]
  for (const [i, [kind, state, message, ended]] of rows.entries())
    await before.query(
      `INSERT INTO run (display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at, message, ended_at)
       VALUES (${i}, 1, ?, 'x', '{}', '{}', ${i}, 1, ?, 'prove', 1, ?, ?)`,
      [kind, state, message, ended],
    )
  const names = ['White', 'White at 37', 'White by hand, 2', 'Grey 100 %, round 2', 'Grey 10 %, round 2', 'Whitethorn']
  for (const [seq, name] of names.entries())
    await before.query(
      `INSERT INTO reading (run_id, seq, stage, name, r, g, b, x, y, z, took_ms, at) VALUES (1, ?, 'level', ?, 1, 1, 1, 1, 1, 1, 1, 1)`,
      [seq, name],
    )
  await before.destroy()
  const after = await openStore(other)
  expect(await after.query('SELECT name FROM reading WHERE role = ? ORDER BY seq', ['white'])).toEqual(
    names.slice(0, 4).map((name) => ({ name })),
  )
  expect(await after.query('SELECT restoring, taken_back_at, taken_back_by FROM run ORDER BY id')).toEqual([
    { restoring: 1, taken_back_at: null, taken_back_by: null },
    { restoring: 0, taken_back_at: 77, taken_back_by: 'Marit Oyen' },
    { restoring: 0, taken_back_at: null, taken_back_by: null },
    { restoring: 0, taken_back_at: null, taken_back_by: null },
  ])
  await after.destroy()
  rmSync(other, { recursive: true, force: true })
})

describe('contents', () => {
  test('are kept once under their hash, and what nobody left is not there', async () => {
    const contents = new ContentStore(data, () => now)
    const bytes = new TextEncoder().encode('a profile')
    expect(await contents.put(bytes)).toBe(contentHash(bytes))
    await contents.put(bytes)
    expect(await data.query(`SELECT COUNT(*) AS n FROM content WHERE hash = '${contentHash(bytes)}'`)).toEqual([
      { n: 1 },
    ])
    expect(await contents.get('0'.repeat(64))).toBeNull()
  })

  test('the hash is SHA-256 as FIPS 180-4 has it', () => {
    expect(contentHash(new TextEncoder().encode('abc'))).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    )
  })
})

describe('passwords', () => {
  test('are kept as Argon2id and fit only themselves', async () => {
    const encoded = await hashPassword('sedge')
    expect(encoded).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/)
    expect(await hashPassword('sedge')).not.toBe(encoded)
    expect(await passwordFits(encoded, 'sedge')).toBe(true)
    expect(await passwordFits(encoded, 'Sedge')).toBe(false)
    expect(await passwordFits('not a hash', 'sedge')).toBe(false)
  })

  test('an account is not added over another of its login', async () => {
    const access = new Access(data, new Ledger(data, () => now), () => now)
    await access.addAccount('ana', 'Ana', 'viewer', 'one')
    await access.addAccount('ana', 'Other', 'administrator', 'two')
    expect(await data.query(`SELECT name, role FROM account WHERE login = 'ana'`)).toEqual([
      { name: 'Ana', role: 'viewer' },
    ])
  })
})

describe('sessions', () => {
  const sessions = () => new StoredSessions(data, () => now)
  const cookie = { originalMaxAge: 1000 } as never
  const set = (sid: string) =>
    new Promise<void>((resolve, reject) =>
      sessions().set(sid, { cookie, accountId: 3, browser: '' }, (e) => (e ? reject(e as Error) : resolve())),
    )
  const get = (sid: string) =>
    new Promise((resolve, reject) => sessions().get(sid, (e, s) => (e ? reject(e as Error) : resolve(s))))

  test('are found until they run out, and swept away after', async () => {
    await set('a')
    expect(await get('a')).toMatchObject({ accountId: 3 })
    now += usualSpan.idleMs - 1
    expect(await get('a')).toMatchObject({ accountId: 3 })
    now += 1
    expect(await get('a')).toBeNull()
    await set('b')
    expect(await data.query('SELECT sid FROM session')).toEqual([{ sid: 'b' }])
  })

  test('last longer when they are used, but never beyond their last day', async () => {
    await set('c')
    const began = now
    while (now < began + usualSpan.lastMs - usualSpan.idleMs) {
      now += usualSpan.idleMs - 1
      expect(await get('c')).toMatchObject({ accountId: 3 })
      await new Promise<void>((resolve) => sessions().touch('c', {} as never, resolve))
    }
    now = began + usualSpan.lastMs
    expect(await get('c')).toBeNull()
  })

  test('a page that only keeps itself up to date is no use', async () => {
    await set('d')
    now += usualSpan.idleMs - 1
    const unattended = { req: { get: (name: string) => (name === 'x-unattended' ? '1' : undefined) } }
    await new Promise<void>((resolve) => sessions().touch('d', unattended as never, resolve))
    now += 1
    expect(await get('d')).toBeNull()
  })

  test('are gone when destroyed; one that never was is nothing', async () => {
    await new Promise<void>((resolve) => sessions().destroy('b', () => resolve()))
    expect(await get('b')).toBeNull()
    expect(await get('never')).toBeNull()
  })
})

test('an enrolment key is kept as its hash, opens its workstation alone, and is replaced by the next', async () => {
  const room = (await data.query(`INSERT INTO room (name) VALUES ('R') RETURNING id`)) as { id: number }[]
  const id = await insertRow(data.manager, workstationEntity, {
    name: 'w',
    roomId: room[0].id,
    operatingSystem: 'linux',
    systemVersion: '12',
    courierKeyHash: null,
    courierSeenAt: null,
    retiredAt: null,
    note: null,
  })
  const enrol = () => {
    const { key, statement } = newCourierKey(data, id)
    atomically(data, (take) => take(statement))
    return key
  }
  const key = enrol()
  expect(key).toMatch(/^[A-Za-z0-9_-]{43}$/)
  expect(JSON.stringify(await data.query('SELECT * FROM workstation'))).not.toContain(key)
  expect(await workstationOfKey(data, key)).toBe(id)
  expect(await workstationOfKey(data, '')).toBeNull()
  const next = enrol()
  expect(await workstationOfKey(data, key)).toBeNull()
  expect(await workstationOfKey(data, next)).toBe(id)
})

test('the store itself holds a display and an instrument to one run at a time', async () => {
  await data.query('PRAGMA foreign_keys = OFF')
  const insert = (display: number, instrument: number, state: string) =>
    data.query(`INSERT INTO run (display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at)
      VALUES (${display}, 1, 'full', 'x', '{}', '{}', ${instrument}, 1, '${state}', 'ready', 1)`)
  await insert(1, 1, 'running')
  await expect(insert(1, 2, 'waiting')).rejects.toThrow('run.display_id')
  await expect(insert(2, 1, 'interrupted')).rejects.toThrow('run.instrument_id')
  await insert(1, 1, 'done')
  await insert(2, 2, 'running')
  await data.query('PRAGMA foreign_keys = ON')
})

test('the store’s folder is made, its file is there', () => {
  expect(statSync(join(folder, 'bichroma.sqlite')).size).toBeGreaterThan(0)
})

test('placements of before stand as they stood, where that was known; what bound another profile is read back anew', async () => {
  const other = mkdtempSync(join(tmpdir(), 'bichroma-store-'))
  const before = await openStore(other, { upTo: 'NinthMigration1764700000000' })
  await before.query('PRAGMA foreign_keys = OFF')
  await before.query(`INSERT INTO room (id, name) VALUES (1, 'Sedge Room')`)
  const states = ['queued', 'placed', 'in force', 'overridden', 'missing', 'withdrawn']
  for (const [i, state] of states.entries()) {
    const id = i + 1
    await before.query(
      `INSERT INTO workstation (id, name, room_id, operating_system, system_version) VALUES (${id}, 'w${id}', 1, 'linux', '12')`,
    )
    await before.query(
      `INSERT INTO display (id, name, maker, model, serial, firmware, panel_kind, workstation_id, limits_id, check_every_days, slots, active_slot)
       VALUES (${id}, 'd${id}', 'm', 'm', 's${id}', '1', 'white-led', ${id}, 1, 28, 1, 1)`,
    )
    await before.query(
      `INSERT INTO run (id, display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at, profile_hash)
       VALUES (${id}, ${id}, 1, 'full', 'x', '{}', '{}', ${id}, 1, 'done', 'file', 1, 'h')`,
    )
    await before.query(
      `INSERT INTO placement (display_id, workstation_id, run_id, profile_hash, file_name, description, scope, state, requested_at,
         account_id, placed_at, verified_at, path, message)
       VALUES (${id}, ${id}, ${id}, 'h', 'f.icc', 'x', 'machine', ?, 1, 1, ?, ?, '/f.icc', 'why')`,
      [state, state === 'queued' ? null : 2, ['in force', 'overridden', 'missing'].includes(state) ? 3 : null],
    )
  }
  await before.destroy()
  const after = await openStore(other)
  const now = (await after.query(
    'SELECT placement_state AS state, placement_slot AS slot FROM display_now ORDER BY display_id',
  )) as {
    state: string | null
    slot: number | null
  }[]
  expect(now.map((r) => r.state)).toEqual(['queued', 'placed', 'in force', 'placed', 'missing', null])
  expect(now[0].slot).toBe(1)
  expect(await after.query('SELECT COUNT(*) AS due FROM wanted_due')).toEqual([{ due: states.length }])
  // Taken back, the former columns say it again.
  await after.query('PRAGMA foreign_keys = OFF')
  await new ThirteenthMigration1765100000000().down(after.createQueryRunner())
  await new EleventhMigration1764900000000().down(after.createQueryRunner())
  await new TenthMigration1764800000000().down(after.createQueryRunner())
  expect(await after.query('SELECT state FROM placement ORDER BY id')).toEqual(
    ['queued', 'placed', 'in force', 'placed', 'missing', 'withdrawn'].map((state) => ({ state })),
  )
  expect(await after.query('SELECT placement_state AS state FROM display_now ORDER BY display_id')).toEqual(
    ['queued', 'placed', 'in force', 'placed', 'missing', null].map((state) => ({ state })),
  )
  await after.query(`UPDATE placement SET state = 'in force' WHERE id = 1`)
  expect(await after.query('SELECT placement_state AS state FROM display_now WHERE display_id = 1')).toEqual([
    { state: 'in force' },
  ])
  await after.destroy()
  rmSync(other, { recursive: true, force: true })
})
