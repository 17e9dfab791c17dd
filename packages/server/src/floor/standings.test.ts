import type { DataSource } from 'typeorm'
import { LooseStore } from '../test/looseStore'
import { Standings } from './standings'

const now = Date.UTC(2026, 10, 30)
const minute = 60_000
const day = 24 * 60 * minute
let store: LooseStore
let data: DataSource
let standings: Standings
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  for (const room of ['Sedge Room', 'Puck Room']) {
    await data.query('INSERT INTO room (name) VALUES (?)', [room])
    await data.query(
      `INSERT INTO workstation (name, operating_system, system_version, room_id) VALUES (?, 'linux', '12', (SELECT MAX(id) FROM room))`,
      [room.toLowerCase()],
    )
  }
  await store.display(1, 1)
  await store.display(2, 1)
  await store.display(3, 2)
  standings = new Standings(data)
})
afterEach(async () => {
  await store.close()
})

/** A run judges a display’s slot on show. */
async function judge(id: number, verdict: 'within' | 'outside', at: number): Promise<void> {
  await data.query(
    `INSERT INTO run (id, display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at, summary)
     VALUES (?, ?, 1, 'check', 'Plates', '{"luminance":120}', '{"rules":[]}', 1, 1, 'done', 'prove', ?, ?)`,
    [id, id, at, JSON.stringify({ at, verdict, averageDeltaE: 1, sentence: `It is ${verdict}.` })],
  )
  await data.query(`INSERT INTO slot (display_id, number, label, judged_run_id) VALUES (?, 1, 'Plates', ?)`, [id, id])
}
const kinds = async (at = now) => (await standings.floor(at)).needs.first.map((n) => [n.displayId, n.kind])
const unproven = [1, 2, 3].map((id) => [id, 'unproven'])

test('the floor counts its displays by verdict and room, and tells what needs someone, the worst first', async () => {
  await judge(1, 'within', now - day)
  await judge(3, 'outside', now - day)
  const floor = await standings.floor(now)
  expect(floor).toMatchObject({
    displays: 3,
    verdicts: { within: 1, outside: 1, unproven: 1 },
    overdue: 1,
    dueThisWeek: 0,
    needs: { count: 2, first: [{ displayId: 3, kind: 'outside', found: 'It is outside.' }, { displayId: 2 }] },
  })
  expect(floor.rooms.map((r) => [r.name, r.displays, r.worst.map((w) => w.id)])).toEqual([
    ['Sedge Room', 2, [2, 1]],
    ['Puck Room', 1, [3]],
  ])
})

test('what was written is told at once, in its room and among what needs someone', async () => {
  expect(await kinds()).toEqual(unproven)
  await judge(2, 'outside', now - day)
  expect(await kinds()).toEqual([
    [2, 'outside'],
    [1, 'unproven'],
    [3, 'unproven'],
  ])
  expect((await standings.floor(now)).rooms.map((r) => r.verdicts.outside)).toEqual([1, 0])
})

test('while nothing is written all of it is answered from what was looked at, for a minute', async () => {
  await judge(1, 'within', now - 27 * day)
  expect(await standings.floor(now)).toMatchObject({ dueThisWeek: 1, overdue: 2 })
  const asked = jest.spyOn(data, 'query')
  await standings.floor(now + minute)
  expect(asked).toHaveBeenCalledTimes(1)
  // A day later it is due, although nothing was written.
  expect(await standings.floor(now + 2 * day)).toMatchObject({ dueThisWeek: 0, overdue: 3, needs: { count: 3 } })
  expect(await standings.floor(now)).toMatchObject({ dueThisWeek: 1, overdue: 2 })
})

test('what is forgotten while it is looked at is looked at again by the next who asks', async () => {
  const asking = standings.floor(now)
  await data.query(`UPDATE room SET name = 'Fern Room' WHERE id = 1`)
  standings.forget()
  await asking
  expect((await standings.floor(now)).rooms.map((r) => r.name)).toEqual(['Fern Room', 'Puck Room'])
  // Also while only what was written is looked at.
  await judge(1, 'within', now)
  const again = standings.floor(now)
  standings.forget()
  expect((await again).verdicts.within).toBe(1)
  await data.query('DELETE FROM room WHERE id = 2')
  await data.query('DELETE FROM display WHERE id = 3')
  standings.forget()
  expect((await standings.floor(now)).rooms.map((r) => r.name)).toEqual(['Fern Room'])
})

test('one that fails leaves the next its turn', async () => {
  jest.spyOn(data, 'query').mockRejectedValueOnce(new Error('torn'))
  await expect(standings.floor(now)).rejects.toThrow('torn')
  expect(await kinds()).toEqual(unproven)
})
