import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { DataSource } from 'typeorm'
import { asEveryRoom, roomEntity, workstationEntity } from '../register/entities'
import { atomically, insertion } from './atomically'
import { insertRow } from './insertRow'
import { openStore } from '../app/store'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-atomically-'))
let data: DataSource
beforeAll(async () => {
  data = await openStore(folder)
})
beforeEach(async () => {
  await data.query('DELETE FROM room')
})
afterAll(async () => {
  await data.destroy()
  rmSync(folder, { recursive: true, force: true })
})

const names = async () => (await data.getRepository(roomEntity).find({ order: { id: 'ASC' } })).map((r) => r.name)
const room = (name: string) =>
  insertion(data.manager, roomEntity, { name, building: null, light: null, ...asEveryRoom, retiredAt: null })

test('all of it, with the numbers of the rows it added', async () => {
  const ids = atomically(data, (take) => [take(room('A')), take(room('B'))])
  expect(ids[1]).toBe(ids[0] + 1)
  expect(await names()).toEqual(['A', 'B'])
})

test('or none of it', async () => {
  atomically(data, (take) => [take(room('A')), take(room('B'))])
  expect(() => atomically(data, (take) => [take(room('C')), take(room('A'))])).toThrow(
    'UNIQUE constraint failed: room.name',
  )
  expect(() =>
    atomically(data, (take) => {
      take(room('D'))
      throw new Error('changed its mind')
    }),
  ).toThrow('changed its mind')
  expect(await names()).toEqual(['A', 'B'])
})

test('what others write meanwhile is not lost with it', async () => {
  atomically(data, (take) => take(room('A')))
  const others = Array.from({ length: 30 }, (_, i) =>
    insertRow(data.manager, roomEntity, {
      name: `kept ${i}`,
      building: null,
      light: null,
      ...asEveryRoom,
      retiredAt: null,
    }),
  )
  for (let i = 0; i < 30; i++) {
    expect(() => atomically(data, (take) => [take(room(`lost ${i}`)), take(room('A'))])).toThrow('UNIQUE')
    await Promise.resolve()
  }
  await Promise.all(others)
  const all = await names()
  expect(all.filter((n) => n.startsWith('kept'))).toHaveLength(30)
  expect(all.some((n) => n.startsWith('lost'))).toBe(false)
})

test('a row that points nowhere is refused by the store itself', async () => {
  const orphan = {
    name: 'w',
    roomId: 4711,
    operatingSystem: 'linux',
    systemVersion: '1',
    courierKeyHash: null,
    courierSeenAt: null,
    retiredAt: null,
    note: null,
  } as const
  expect(() => atomically(data, (take) => take(insertion(data.manager, workstationEntity, orphan)))).toThrow(
    'FOREIGN KEY',
  )
})
