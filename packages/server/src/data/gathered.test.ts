import { Gathered } from './gathered'

beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

test('is done once for all who asked, again for who asks afterwards, and never once closed', () => {
  let done = 0
  let wait = 50
  const gathered = new Gathered(
    () => done++,
    () => wait,
  )
  gathered.soon()
  jest.advanceTimersByTime(40)
  gathered.soon()
  expect(done).toBe(0)
  jest.advanceTimersByTime(10)
  expect(done).toBe(1)
  // How long it waits may depend on how the last went.
  wait = 200
  gathered.soon()
  jest.advanceTimersByTime(199)
  expect(done).toBe(1)
  jest.advanceTimersByTime(1)
  expect(done).toBe(2)
  gathered.soon()
  gathered.close()
  gathered.soon()
  jest.advanceTimersByTime(1000)
  expect(done).toBe(2)
})

test('who asks while it is being done is heard', () => {
  let done = 0
  const gathered = new Gathered(
    () => {
      if (++done === 1) gathered.soon()
    },
    () => 20,
  )
  gathered.soon()
  jest.advanceTimersByTime(100)
  expect(done).toBe(2)
})
