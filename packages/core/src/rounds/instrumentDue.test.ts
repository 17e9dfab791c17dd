import { day } from '../basics/day'
import { correctionAgain, ringDue } from './instrumentDue'

const now = Date.UTC(2026, 10, 28)
const certified = (id: number, daysAgo: number | null) => ({
  id,
  certifiedAt: daysAgo === null ? null : now - daysAgo * day,
})

describe('a ring of instruments', () => {
  test('is due at once where there never was one, and never for one instrument alone', () => {
    expect(ringDue([certified(1, 10), certified(2, null)], null, now)).toEqual({
      at: now,
      why: 'never laid',
      instrumentId: null,
    })
    expect(ringDue([certified(1, 10)], null, now)).toBeNull()
    expect(ringDue([], null, now)).toBeNull()
  })

  test('comes half a year after the last, and two weeks before a certificate ends that no ring was laid for', () => {
    const last = now - 100 * day
    expect(ringDue([certified(1, 10), certified(2, 20)], last, now)).toMatchObject({
      at: now + 82 * day,
      why: 'half a year',
    })
    // It ends in 65 days.
    expect(ringDue([certified(1, 300), certified(2, 20)], last, now)).toEqual({
      ...{ at: now + 51 * day, why: 'certificate ends', instrumentId: 1 },
    })
    // One was laid within sixty days of its end.
    expect(ringDue([certified(1, 320), certified(2, 20)], now - 10 * day, now)).toMatchObject({ why: 'half a year' })
    // One that has ended already is somebody else's matter.
    expect(ringDue([certified(1, 366), certified(2, 20)], last, now)).toMatchObject({ why: 'half a year' })
    // Of two the sooner.
    expect(ringDue([certified(1, 300), certified(2, 310)], last, now)).toMatchObject({ instrumentId: 2 })
  })
})

describe('a correction', () => {
  const at = now - 100 * day
  const again = (instrument: number | null, reference: number | null) =>
    correctionAgain({ at, instrumentCertifiedAt: instrument, referenceCertifiedAt: reference })

  test('is made again after a year, or once one of its instruments has been certified since', () => {
    expect(again(at - day, null)).toEqual({ at: at + 365 * day, why: 'a year old' })
    expect(again(at + 5 * day, at - day)).toEqual({ at: at + 5 * day, why: 'its instrument was certified since' })
    expect(again(at + 5 * day, at + 2 * day)).toEqual({ at: at + 2 * day, why: 'its reference was certified since' })
  })
})
