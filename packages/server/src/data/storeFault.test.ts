import { patiently } from './patiently'
import { storeFault } from './storeFault'

const failed = (code: string) => Object.assign(new Error(code), { code })
/** As TypeORM wraps what its driver threw. */
const wrapped = (code: string) => Object.assign(new Error('QueryFailedError'), { driverError: failed(code) })

test.each([
  ['SQLITE_FULL', 'full'],
  ['ENOSPC', 'full'],
  ['SQLITE_BUSY_SNAPSHOT', 'busy'],
  ['SQLITE_LOCKED_SHAREDCACHE', 'busy'],
  ['SQLITE_READONLY_DBMOVED', 'read-only'],
  ['SQLITE_CANTOPEN', 'io'],
  ['SQLITE_IOERR_FSYNC', 'io'],
  ['SQLITE_CORRUPT_INDEX', 'damaged'],
  ['SQLITE_NOTADB', 'damaged'],
])('%s is a disk that is %s, as it is and as TypeORM wraps it', (code, kind) => {
  for (const error of [failed(code), wrapped(code)]) expect(storeFault(error)).toMatchObject({ kind })
  // What to do stands in the sentence.
  expect(storeFault(failed(code))!.sentence).toMatch(/\.$/)
})

test.each([
  ['a second one of the same name', wrapped('SQLITE_CONSTRAINT_UNIQUE')],
  ['a typo', new TypeError('x is not a function')],
  ['a number for a code', Object.assign(new Error('x'), { code: 5 })],
  ['nothing', null],
  ['a word', 'SQLITE_FULL'],
])('%s is about something else', (_, error) => {
  expect(storeFault(error)).toBeNull()
})

describe('a write', () => {
  const times = (fails: number, code: string) => {
    let tries = 0
    return {
      tries: () => tries,
      write: () => {
        if (++tries <= fails) throw wrapped(code)
        return tries
      },
    }
  }

  test('is tried again while another program has the store', async () => {
    const { write } = times(3, 'SQLITE_BUSY')
    expect(await patiently(write)).toBe(4)
  })

  test('and no more than so long', async () => {
    jest.useFakeTimers({ now: 0 })
    try {
      const busy = times(Infinity, 'SQLITE_BUSY')
      const ended = expect(patiently(busy.write)).rejects.toMatchObject({ driverError: { code: 'SQLITE_BUSY' } })
      await jest.advanceTimersByTimeAsync(5000)
      await ended
      expect(busy.tries()).toBeGreaterThan(5)
      expect(busy.tries()).toBeLessThan(60)
    } finally {
      jest.useRealTimers()
    }
  })

  test.each(['SQLITE_FULL', 'SQLITE_CONSTRAINT_UNIQUE'])('is not tried again for anything else: %s', async (code) => {
    const other = times(1, code)
    await expect(patiently(other.write)).rejects.toMatchObject({ driverError: { code } })
    expect(other.tries()).toBe(1)
  })
})
