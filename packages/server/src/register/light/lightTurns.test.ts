import type { LightStanding } from '@bichroma/core/aims'
import { LightTurns } from './lightTurns'

const standing = (...rooms: [number, LightStanding][]) => new Map(rooms)
/** Lets what was promised go on. */
const settle = () => new Promise((resolve) => setImmediate(resolve))

test('light turns when a room goes out for too long, comes back, or is watched no more while it is', () => {
  const turns = new LightTurns()
  expect(turns.compare(standing([1, 'within'], [2, 'out']))).toBe(false)
  expect(turns.compare(standing([1, 'within'], [2, 'out too long']))).toBe(true)
  expect(turns.compare(standing([1, 'out'], [2, 'out too long']))).toBe(false)
  expect(turns.compare(standing([1, 'out']))).toBe(true)
  expect(turns.compare(standing())).toBe(false)
})

test('who waits looks again at each turn, and goes when its room is back', async () => {
  const turns = new LightTurns()
  let out = true
  let looks = 0
  let gone = false
  const isOut = async () => {
    looks++
    return out
  }
  const waited = turns.backIn(isOut, new AbortController().signal).then(() => (gone = true))
  await settle()
  turns.compare(standing([7, 'out too long']))
  await settle()
  expect([looks, gone]).toEqual([2, false])
  // Nothing turned: nobody looks.
  turns.compare(standing([7, 'out too long']))
  await settle()
  expect(looks).toBe(2)
  out = false
  turns.compare(standing([7, 'within']))
  await waited
  expect(looks).toBe(3)
})

test.each(['stop', 'close'] as const)('%s lets go of who waits', async (how) => {
  const turns = new LightTurns()
  const stop = new AbortController()
  const waited = turns.backIn(async () => true, stop.signal)
  await settle()
  if (how === 'stop') stop.abort()
  else turns.close()
  await waited
  // Who comes afterwards does not wait either.
  await turns.backIn(async () => true, stop.signal)
})
