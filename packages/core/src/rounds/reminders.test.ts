import fc from 'fast-check'
import { keptDays, keptShare, noDays } from './kept'
import { deskReminder, ignoredVisits, reminderText, type SentReminder } from './reminders'
import { graceDays, verdictNow } from './dueLine'
import { localDate } from './studio/localDays'

const day = 86_400_000
const zone = 'Europe/Oslo'
const noon = Date.parse('2026-11-26T11:00Z')
const visit = (id: number, days: number, answered = false) => ({
  id,
  display: `Sedge ${id}`,
  at: noon + days * day,
  minutes: 7,
  answered,
})

describe('what a desk is told', () => {
  const now = (days = 0) => ({ now: noon + days * day, zone, open: true })

  it('is told once a day at most, days before, plainer each time, and then no more', () => {
    const visits = [visit(1, 4)]
    const sent: SentReminder[] = []
    const steps: (number | null)[] = []
    for (let d = 0; d < 5; d += 0.25) {
      const told = deskReminder(visits, sent, now(d))
      if (told) {
        sent.push({ date: localDate(noon + d * day, zone), visits: told.visits.map((v) => v.id) })
        steps.push(told.step)
      }
    }
    expect(steps).toEqual([0, 1, 2])
    expect(new Set(sent.map((s) => s.date)).size).toBe(3)
    expect(ignoredVisits(visits, sent).map((v) => v.id)).toEqual([1])
  })

  it('goes quiet once it was answered, is done, or the studio is closed', () => {
    expect(deskReminder([visit(1, 2, true)], [], now())).toBeNull()
    expect(deskReminder([], [], now())).toBeNull()
    expect(deskReminder([visit(1, 2)], [], { ...now(), open: false })).toBeNull()
    expect(ignoredVisits([visit(1, 2, true)], [])).toEqual([])
  })

  it('is one message for all that lies before it', () => {
    const told = deskReminder([visit(2, 3), visit(1, 1), visit(3, 9)], [], now())!
    expect(told.visits.map((v) => v.id)).toEqual([1, 2])
    expect(reminderText(told, zone)).toBe(
      'Sedge 1 is to be looked at on Fri 27 Nov at 12:00, for 7 minutes. Sedge 2 is to be looked at on Sun 29 Nov at 12:00, for 7 minutes. Does that suit? Say so on the page of your desk.',
    )
  })

  it('is never more than one a day, whatever visits come and go @long', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ id: fc.integer({ min: 1, max: 6 }), days: fc.integer({ min: 0, max: 12 }) }), {
          maxLength: 8,
        }),
        (made) => {
          const visits = made.map((m) => visit(m.id, m.days))
          const sent: SentReminder[] = []
          for (let d = 0; d < 12; d += 1 / 6) {
            const told = deskReminder(visits, sent, now(d))
            if (told) sent.push({ date: localDate(noon + d * day, zone), visits: told.visits.map((v) => v.id) })
          }
          expect(new Set(sent.map((s) => s.date)).size).toBe(sent.length)
        },
      ),
      { numRuns: 100, seed: 4 },
    )
  })
})

describe('how well a display was kept', () => {
  const bounds = Array.from({ length: 101 }, (_, d) => d * day)

  it('is what was said of it at the end of each day @long', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            at: fc.integer({ min: 0, max: 100 * day }),
            verdict: fc.constantFrom('within', 'near', 'outside'),
          }),
          { maxLength: 12 },
        ),
        fc.integer({ min: 1, max: 40 }),
        (some, every) => {
          const judged = [...some].sort((a, b) => a.at - b.at) as {
            at: number
            verdict: 'within' | 'near' | 'outside'
          }[]
          const days = keptDays(judged, every, bounds)
          for (const [d, state] of days.entries()) {
            const end = bounds[d + 1]
            const last = judged.filter((j) => j.at <= end).pop() ?? null
            const said = verdictNow(last, every, end)
            expect(state).toBe(said === 'near' ? 'within' : said)
          }
        },
      ),
      { numRuns: 200, seed: 5 },
    )
  })

  it('has a share of days, or none', () => {
    expect(keptShare(noDays())).toBeNull()
    expect(keptShare({ ...noDays(), within: 3, outside: 1 })).toBe(0.75)
    const [first] = keptDays([], 30, bounds)
    expect(first).toBe('unproven')
    const states = keptDays([{ at: 0, verdict: 'within' }], 10, bounds)
    expect(states.filter((s) => s === 'within')).toHaveLength(10 + graceDays)
  })
})
