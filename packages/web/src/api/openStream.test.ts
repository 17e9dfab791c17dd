import { openStream } from './openStream'

/** A stream that a test speaks for. */
class FakeSource {
  static readonly CLOSED = 2
  static made: FakeSource[] = []
  readyState = 0
  onopen: (() => void) | null = null
  onmessage: ((event: { data: string }) => void) | null = null
  onerror: (() => void) | null = null
  closed = false

  constructor(readonly address: string) {
    FakeSource.made.push(this)
  }

  close() {
    this.closed = true
  }
}

const heard: string[] = []
const open = () =>
  openStream(
    '/api/events',
    { onOpen: () => heard.push('open'), onMessage: (d) => heard.push(d), onRefused: () => heard.push('refused') },
    FakeSource as never,
  )
beforeEach(() => {
  jest.useFakeTimers()
  FakeSource.made = []
  heard.length = 0
})
afterEach(() => jest.useRealTimers())

test('a break is left to the browser, which comes back by itself', () => {
  open()
  const [source] = FakeSource.made
  source.onopen!()
  source.onmessage!({ data: 'one' })
  source.onerror!()
  jest.advanceTimersByTime(60_000)
  source.onopen!()
  expect(heard).toEqual(['open', 'one', 'open'])
  expect(FakeSource.made).toHaveLength(1)
})

test('a stream that was refused is opened anew, again and again until it is one', () => {
  open()
  for (let n = 0; n < 3; n++) {
    const source = FakeSource.made.at(-1)!
    source.readyState = FakeSource.CLOSED
    source.onerror!()
    jest.advanceTimersByTime(2000)
  }
  expect(FakeSource.made).toHaveLength(4)
  FakeSource.made[3].onmessage!({ data: 'back' })
  expect(heard).toEqual(['refused', 'refused', 'refused', 'back'])
})

test('closed, it is not opened any more', () => {
  const close = open()
  const [source] = FakeSource.made
  source.readyState = FakeSource.CLOSED
  source.onerror!()
  close()
  jest.advanceTimersByTime(60_000)
  expect(FakeSource.made).toHaveLength(1)
  expect(source.closed).toBe(true)
})
