import { localMinute } from './localMinute'

test('the minute of the day is that of this machine’s zone', () => {
  const noon = new Date(2026, 10, 24, 12, 7, 30)
  expect(localMinute(noon.getTime())).toBe(12 * 60 + 7)
})
