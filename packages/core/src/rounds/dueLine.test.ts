import { dueLine, dueState, graceDays, verdictNow } from './dueLine'

const day = 86_400_000
const now = Date.UTC(2026, 10, 24, 12)
const judged = (daysAgo: number) => ({ verdict: 'near' as const, at: now - daysAgo * day })

test('the due line lies the display’s own number of days after its last judgement', () => {
  expect(dueLine(judged(10), 28)).toBe(now + 18 * day)
  expect(dueLine(null, 28)).toBeNull()
})

test('overdue, this week, later', () => {
  expect(dueState(null, now)).toBe('overdue')
  expect(dueState(now, now)).toBe('overdue')
  expect(dueState(now + 1, now)).toBe('this week')
  expect(dueState(now + 7 * day, now)).toBe('this week')
  expect(dueState(now + 7 * day + 1, now)).toBe('later')
})

test('a verdict holds through its grace and lapses after', () => {
  expect(verdictNow(null, 28, now)).toBe('unproven')
  expect(verdictNow(judged(28 + graceDays), 28, now)).toBe('near')
  expect(verdictNow({ ...judged(28 + graceDays), at: judged(28 + graceDays).at - 1 }, 28, now)).toBe('lapsed')
})
