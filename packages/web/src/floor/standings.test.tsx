import type { RoomStanding } from '@bichroma/contract'
import { count, markup } from '../test/markup'
import { buildingsOf, RoomRows, sumOf } from './RoomRows'
import { VerdictBand } from './VerdictBand'

const verdicts = { within: 20, near: 5, untold: 0, outside: 1, lapsed: 0, unproven: 2 }
const worst = (id: number, verdict: 'outside' | 'near' | 'lapsed') => ({
  id,
  name: `Sedge ${id}`,
  verdict,
  white: null,
  aimWhite: null,
})
const room = (change: Partial<RoomStanding> = {}): RoomStanding => ({
  id: 1,
  name: 'Atlas plates',
  building: 'House 1',
  displays: 28,
  verdicts,
  overdue: 2,
  nextDueAt: 1000,
  worst: [worst(1, 'outside'), worst(2, 'near')],
  ...change,
})

test('a band: lengths are shares, few among many are still seen, and it is said in words', () => {
  const html = markup(
    <VerdictBand verdicts={{ within: 9996, near: 0, untold: 0, outside: 1, lapsed: 3, unproven: 0 }} width={300} />,
  )
  expect(html).toContain('aria-label="9996 within, 1 outside, 3 lapsed"')
  const widths = [...html.matchAll(/<rect x="([0-9.]+)" width="([0-9.]+)" height="14"/g)].map((m) => Number(m[2]))
  expect(widths).toHaveLength(3)
  expect(Math.min(...widths)).toBeGreaterThanOrEqual(2)
  expect(widths[0]).toBeGreaterThan(280)
  expect(
    markup(<VerdictBand verdicts={{ within: 0, near: 0, untold: 0, outside: 0, lapsed: 0, unproven: 0 }} />),
  ).toContain('aria-label="no display"')
})

test('a building comes to what its rooms come to, its worst among them first', () => {
  const other = room({ id: 2, overdue: 1, nextDueAt: 400, worst: [worst(3, 'lapsed'), worst(4, 'outside')] })
  expect(sumOf([room(), other])).toEqual({
    displays: 56,
    verdicts: { within: 40, near: 10, untold: 0, outside: 2, lapsed: 0, unproven: 4 },
    overdue: 3,
    nextDueAt: 400,
    worst: [worst(1, 'outside'), worst(4, 'outside'), worst(3, 'lapsed')],
  })
  expect(sumOf([room({ nextDueAt: null })]).nextDueAt).toBeNull()
})

test('rooms stand in their buildings; those of which nobody has said stand together', () => {
  const rooms = [room(), room({ id: 2, building: null }), room({ id: 3 }), room({ id: 4, building: null })]
  expect(buildingsOf(rooms).map((b) => [b.name, b.rooms.map((r) => r.id)])).toEqual([
    ['House 1', [1, 3]],
    ['No building named', [2, 4]],
  ])
})

test('a row: closed to begin with, its worst few by name, what is overdue before what comes next', () => {
  const html = markup(
    <RoomRows rooms={[room(), room({ id: 2, overdue: 0, nextDueAt: Date.now() + 90 * 86_400_000 })]} />,
  )
  expect(count(html, 'aria-expanded="false"')).toBe(2)
  expect(html).toContain('aria-label="Sedge 1"')
  expect(html).toContain('2 overdue')
  expect(html).toMatch(/next \d+ [A-Z][a-z]{2}/)
})
