import fc from 'fast-check'
import { atTime, daysAfter, dayStart } from '@bichroma/core/rounds'
import type { Visit, Week } from '@bichroma/contract'
import { dayColumns, instantAt, placeOf } from './weekScale'
import { weekRows } from './weekRows'

const zone = 'Europe/Oslo'
/** A week over the end of summer time, with its weekend closed. */
const days = Array.from({ length: 7 }, (_, d) => daysAfter('2026-10-22', d)).map((date, d) => ({
  date,
  from: dayStart(date, zone),
  to: dayStart(daysAfter(date, 1), zone),
  desk: d === 2 || d === 3 ? null : { from: atTime(date, '09:00', zone), to: atTime(date, '17:30', zone) },
  closed: null,
}))

describe('days side by side', () => {
  const columns = dayColumns({ days }, 1000, null)

  it('fill the width, open days alike and closed ones narrow', () => {
    expect(columns.map((c) => c.date)).toEqual(days.map((d) => d.date))
    expect(columns[6].left + columns[6].width).toBeCloseTo(1000)
    expect(columns[2].width).toBe(34)
    expect(new Set([0, 1, 4, 5, 6].map((d) => columns[d].width.toFixed(6))).size).toBe(1)
  })

  it('give an instant of what is shown its place, and the place its instant again', () => {
    fc.assert(
      fc.property(fc.constantFrom(...columns), fc.double({ min: 0.001, max: 0.999, noNaN: true }), (column, share) => {
        const at = Math.round((column.from + share * (column.to - column.from)) / 300_000) * 300_000
        const place = placeOf(columns, at)!
        expect(place).toBeGreaterThanOrEqual(column.left - 1e-6)
        expect(place).toBeLessThanOrEqual(column.left + column.width + 1e-6)
        const back = instantAt(columns, place)
        // What lies on the edge of two days is the later one's.
        if (place < column.left + column.width - 1e-6) expect(back).toBe(at)
      }),
      { numRuns: 300, seed: 1 },
    )
  })

  it('never go back as time goes on', () => {
    let last = -1
    for (let at = days[0].from; at < days[6].to; at += 600_000) {
      const place = placeOf(columns, at)!
      expect(place).toBeGreaterThanOrEqual(last)
      last = place
    }
    expect(placeOf(columns, days[6].to + 20 * 86_400_000)).toBeNull()
  })

  it('are one alone, as wide as there is room', () => {
    expect(dayColumns({ days }, 1000, days[0].date)).toMatchObject([{ date: days[0].date, left: 0, width: 1000 }])
  })
})

describe('rows of a week', () => {
  const columns = dayColumns({ days }, 1000, null)
  const at = (time: string) => atTime(days[0].date, time, zone)
  const visit = (id: number, time: string, minutes: number, change: object = {}) =>
    ({
      id,
      personId: 4,
      instrumentId: 7,
      roomId: 1,
      at: at(time),
      endsAt: at(time) + minutes * 60_000,
      ...change,
    }) as Visit
  const week = (visits: Visit[]) =>
    ({
      people: [{ id: 4, name: 'Tobin' }],
      instruments: [{ id: 7, name: 'TC-1' }],
      rooms: [
        { id: 1, name: 'Sedge Room' },
        { id: 2, name: 'Dome' },
      ],
      visits,
    }) as unknown as Week

  it('put bars that would meet below each other, and show no two in one place', () => {
    const many = Array.from({ length: 30 }, (_, n) => visit(n + 1, `09:${String(n).padStart(2, '0')}`, 3))
    const [{ bars, lanes }] = weekRows(week(many), 'people', columns)
    expect(lanes).toBe(4)
    for (const a of bars)
      for (const b of bars)
        if (a !== b && a.lane === b.lane) expect(a.left + a.width <= b.left || b.left + b.width <= a.left).toBe(true)
  })

  it('are people, those whose instrument hangs by themselves, instruments, or rooms that have a visit', () => {
    const own = week([visit(1, '10:00', 30), visit(2, '11:00', 30, { personId: null, roomId: 2 })])
    const names = (kind: 'people' | 'instruments' | 'rooms') => weekRows(own, kind, columns).map((r) => r.name)
    expect(names('people')).toEqual(['Tobin', 'by themselves'])
    expect(names('instruments')).toEqual(['TC-1'])
    expect(names('rooms')).toEqual(['Sedge Room', 'Dome'])
    expect(weekRows(week([visit(1, '10:00', 30)]), 'rooms', columns).map((r) => r.name)).toEqual(['Sedge Room'])
  })
})
