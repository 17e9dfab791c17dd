import { putBackNow } from './putBack'

const minute = 60_000
const now = 100 * 60 * minute

test('told only; once; always, but no fight', () => {
  expect(putBackNow('tell', [], now)).toBe('tell')
  expect(putBackNow('put back once', [], now)).toBe('put back')
  expect(putBackNow('put back once', [now - 900 * minute], now)).toBe('leave alone')
  expect(putBackNow('put back always', [now - 3, now - 2], now)).toBe('put back')
  expect(putBackNow('put back always', [now - 3, now - 2, now - 1], now)).toBe('leave alone')
})

test('an hour counts, to the millisecond', () => {
  const three = [now - 60 * minute, now - 2, now - 1]
  expect(putBackNow('put back always', three, now)).toBe('put back')
  expect(putBackNow('put back always', [three[0] + 1, ...three.slice(1)], now)).toBe('leave alone')
})
