import type { Instrument, Person, Room } from '@bichroma/contract'
import type { UseTime } from '@bichroma/core/rounds'
import type { ApiClient } from './apiClient'

/** Where technicians begin their days, and whose week is another than the studio's. */
const people = [
  { name: 'Tobin Asare', room: 'Sedge Room', week: null },
  { name: 'Sunniva Quist', room: 'Lantern Hall', week: { from: '10:00', to: '18:30' } },
] as const

/** Where instruments lie. */
const instruments: Readonly<Record<string, string>> = {
  'TC-0417': 'Sedge Room',
  'HS-0031': 'Plate Room',
  'TC-0522': 'Lantern Hall',
  'TC-0288': 'Field Store',
}

/** When displays may be used, where that is another than before, during and after work. */
const times: Readonly<Record<string, readonly UseTime[]>> = {
  'Sedge Room': ['before', 'lunch', 'after'],
  'Plate Room': ['desk', 'lunch'],
  Dome: ['before', 'after', 'night'],
}

/** Says who goes, when and from where, plans a week, and tells it. */
export async function planDemoRounds(client: ApiClient, now: number): Promise<void> {
  const rooms = new Map((await client.get<Room[]>('/rooms')).map((r) => [r.name, r.id]))
  const accounts = await client.get<Person[]>('/people')
  for (const { name, room, week } of people)
    await client.put(`/rounds/people/${accounts.find((p) => p.name === name)!.id}`, {
      goes: true,
      roomId: rooms.get(room) ?? null,
      carries: 2,
      mail: `${name.split(' ')[0].toLowerCase()}@fen-and-lantern.example`,
      week: week && Array.from({ length: 7 }, (_, d) => (d < 5 ? week : null)),
      off: [],
    })
  for (const { id, serial } of await client.get<Instrument[]>('/instruments'))
    if (rooms.has(instruments[serial]))
      await client.put(`/rounds/instruments/${id}`, {
        roomId: rooms.get(instruments[serial]),
        carrierId: null,
        hangsAt: null,
      })
  for (const [room, own] of Object.entries(times))
    if (rooms.has(room)) await client.put('/rounds/times', { level: 'room', of: rooms.get(room), times: own })
  const opening = new Date(now + 26 * 86_400_000).toISOString().slice(0, 10)
  await client.post('/due-days', {
    name: 'Opening of the planetarium loop',
    date: opening,
    level: 'room',
    of: rooms.get('Dome'),
    freshDays: 10,
  })
  await client.post('/rounds/plan', { days: 7 })
  await client.post('/rounds/told')
}
