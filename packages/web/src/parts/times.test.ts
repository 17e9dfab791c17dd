import { formatAgo, formatDay, formatDue, formatDueBy, formatDueLine, formatDuration, formatLeft } from './times'

const at = (text: string) => new Date(`${text}:00`).getTime()
const now = at('2026-11-24T10:00')

const plain = { dueAt: null, rests: null, mattersAt: null, mattersName: null }

test('days carry their year only when it is another', () => {
  expect(formatDay(at('2026-11-02T23:59'), now)).toBe('2 Nov')
  expect(formatDay(at('2025-11-02T00:01'), now)).toBe('2 Nov 2025')
})

test.each([
  ['2026-11-24T00:01', 'today'],
  ['2026-11-24T23:59', 'today'],
  ['2026-11-23T23:59', 'yesterday'],
  ['2026-11-19T10:00', '5 days ago'],
])('%s is %s', (when, words) => {
  expect(formatAgo(at(when), now)).toBe(words)
})

test.each([
  ['2026-11-24T23:00', 'due today'],
  ['2026-11-23T09:00', '1 day over'],
  ['2026-11-13T09:00', '11 days over'],
  ['2026-12-22T09:00', '22 Dec'],
])('a due line at %s reads “%s”', (when, words) => {
  expect(formatDue(at(when), now)).toBe(words)
})

test('a display that was never judged is due now', () => {
  expect(formatDue(null, now)).toBe('due now')
})

test('durations and time left', () => {
  expect(formatDuration(0)).toBe('0:00')
  expect(formatDuration(59_600)).toBe('1:00')
  expect(formatDuration(242_000)).toBe('4:02')
  expect(formatLeft(12)).toBe('< 1 min')
  expect(formatLeft(50)).toBe('≈ 1 min')
  expect(formatLeft(371)).toBe('≈ 6 min')
})

test('a due line says which of calendar and forecast it is by, and what the other says', () => {
  const noon = Date.UTC(2026, 10, 27, 12)
  expect(formatDueBy({ ...plain, calendarAt: null, forecastAt: null }, noon)).toBe('')
  expect(formatDueBy({ ...plain, calendarAt: noon, forecastAt: null }, noon)).toBe('by calendar')
  expect(formatDueBy({ ...plain, calendarAt: noon, forecastAt: noon - 5 * 86_400_000 }, noon)).toBe(
    'by forecast, calendar 27 Nov',
  )
  expect(formatDueBy({ ...plain, calendarAt: noon, forecastAt: noon + 60 * 86_400_000 }, noon)).toBe(
    'by calendar, forecast 26 Jan',
  )
  expect(formatDueBy({ ...plain, calendarAt: noon, forecastAt: noon + 900 * 86_400_000 }, noon)).toBe(
    'by calendar, forecast 2029',
  )
})

test('a display that rests says so, and one that is due for a day says for which', () => {
  const noon = new Date(2026, 10, 27, 12).getTime()
  const rests = { kind: 'paused', why: 'It is in the store.', until: '2026-12-20' }
  expect(formatDueLine({ dueAt: null, rests }, noon)).toBe('rests')
  expect(formatDueLine({ dueAt: null, rests: null }, noon)).toBe('due now')
  expect(formatDueBy({ ...plain, calendarAt: noon, forecastAt: null, rests }, noon)).toBe(
    'paused until 20 Dec: It is in the store.',
  )
  const day = { mattersAt: noon, mattersName: 'Grading', dueAt: noon }
  expect(formatDueBy({ ...plain, ...day, calendarAt: noon + 9 * 86_400_000, forecastAt: null }, noon)).toMatch(
    /^for Grading, calendar \d+ \w+$/,
  )
})
