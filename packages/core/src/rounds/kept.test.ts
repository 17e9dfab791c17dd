import fc from 'fast-check'
import { standingOf } from '../rollout/standing'
import { keptDays, strayAt, type AgreedThen, type FoundThen } from './kept'

const hashes = ['a', 'b', null] as const
const hashOf = fc.constantFrom(...hashes)

describe('another profile in force than was agreed on', () => {
  it('is what the standing said at the time, over 500 random histories @long', () => {
    const event = fc.record({
      kind: fc.constantFrom('agree', 'read', 'read'),
      hash: hashOf,
      gap: fc.integer({ min: 1, max: 50 }),
    })
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), (events) => {
        const agreed: AgreedThen[] = []
        const found: FoundThen[] = []
        const said: { at: number; stray: boolean }[] = []
        let at = 0
        for (const { kind, hash, gap } of events) {
          at += gap
          if (kind === 'agree') agreed.push({ from: at, readAt: null, withdrawn: false, hash })
          else {
            const before = found[found.length - 1]
            // Only what is another than before is kept.
            if (!before || before.hash !== hash) found.push({ since: at, path: hash && `/profiles/${hash}`, hash })
            const last = agreed[agreed.length - 1]
            if (last && last.readAt === null) agreed[agreed.length - 1] = { ...last, readAt: at }
          }
          const [last, there] = [agreed[agreed.length - 1], found[found.length - 1]]
          const standing =
            last &&
            standingOf(
              { progress: 'sent', read: last.readAt !== null, hash: last.hash, slot: null },
              there ? { ...there, waitsFor: null } : null,
              1,
            )
          said.push({ at, stray: standing === 'overridden' || standing === 'missing' })
        }
        const isStray = strayAt(agreed, found)
        for (const { at: then, stray } of said) expect([then, isStray(then)]).toEqual([then, stray])
      }),
      { numRuns: 500, seed: 3 },
    )
  })

  it('is known of days before it was put back, although it is read back anew since', () => {
    const agreed = [{ from: 10, readAt: 90, withdrawn: false, hash: 'a' }]
    const found = [
      { since: 20, path: '/a', hash: 'a' },
      { since: 50, path: '/x', hash: 'x' },
      { since: 90, path: '/a', hash: 'a' },
    ]
    const isStray = strayAt(agreed, found)
    expect([15, 30, 50, 89, 90, 200].map(isStray)).toEqual([false, false, true, true, false, false])
    expect(strayAt([{ ...agreed[0], withdrawn: true }], found)(60)).toBe(false)
  })

  it('counts against what was proven within, and changes nothing else that is said of a day', () => {
    const day = 86_400_000
    const bounds = [0, day, 2 * day, 3 * day, 40 * day]
    const judged = [
      { at: 0.5 * day, verdict: 'within' },
      { at: 2.5 * day, verdict: 'outside' },
    ] as const
    const states = keptDays(judged, 28, bounds, () => true)
    expect(states).toEqual(['out of step', 'out of step', 'outside', 'lapsed'])
    expect(keptDays(judged, 28, bounds)).toEqual(['within', 'within', 'outside', 'lapsed'])
  })
})
