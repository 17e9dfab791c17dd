import { DateTime } from 'luxon'
import { uniformFrom } from './random'
import { dateOfDay, zoneClock } from './zoneClock'

test.each(['UTC', 'Europe/Oslo', 'America/St_Johns', 'Asia/Kolkata', 'Australia/Lord_Howe', 'Pacific/Chatham'])(
  'in %s it says what the calendar says, at 2,000 random instants and every quarter of an hour of the days on which clocks change',
  (zone) => {
    const clock = zoneClock(zone)
    const random = uniformFrom(11)
    const instants = Array.from({ length: 2000 }, () => Math.floor(random() * 60 * 365.25 * 86_400_000))
    for (const [month, date] of [
      [2, 29],
      [9, 25],
      [3, 5],
      [9, 4],
    ])
      for (let q = -96; q < 192; q++) instants.push(Date.UTC(2026, month, date) + q * 900_000)
    const off: number[] = []
    for (const at of instants) {
      const { weekday, hour } = DateTime.fromMillis(at, { zone })
      const { day, ...time } = clock(at)
      const date = DateTime.fromMillis(at, { zone }).toISODate()
      if (time.weekday !== weekday - 1 || time.hour !== hour || dateOfDay(day) !== date) off.push(at)
    }
    expect(off).toEqual([])
  },
)

test('a zone that nobody knows is refused', () => {
  expect(() => zoneClock('Mars/Olympus')).toThrow('There is no zone Mars/Olympus.')
})
