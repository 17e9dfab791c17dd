import { formatDueBy } from './times'

const now = Date.UTC(2026, 10, 27, 12)
const day = 86_400_000

test('a due line says which of calendar and forecast it is by, and what the other says', () => {
  expect(formatDueBy({ calendarAt: null, forecastAt: null }, now)).toBe('')
  expect(formatDueBy({ calendarAt: now, forecastAt: null }, now)).toBe('by calendar')
  expect(formatDueBy({ calendarAt: now, forecastAt: now - 5 * day }, now)).toBe('by forecast, calendar 27 Nov')
  expect(formatDueBy({ calendarAt: now, forecastAt: now + 60 * day }, now)).toBe('by calendar, forecast 26 Jan')
  expect(formatDueBy({ calendarAt: now, forecastAt: now + 900 * day }, now)).toBe('by calendar, forecast 2029')
})
