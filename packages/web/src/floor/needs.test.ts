import { needKinds } from '@bichroma/contract'
import { day, need, now } from '../test/fixtures'
import { needWords } from './needs'

test('each says what is the matter and leads to where it is seen to, with display, slot and kind', () => {
  expect(needWords(need({ slot: 2, found: 'White is off.' }), now)).toEqual({
    title: 'Sedge 1 is outside',
    why: 'White is off.',
    action: 'Start full run',
    to: '/runs/new?display=1&kind=full&slot=2',
  })
  expect(needWords(need({ kind: 'lapsed', judgedAt: now - 40 * day }), now)).toMatchObject({
    why: 'Read last 40 days ago; that no longer counts.',
    to: '/runs/new?display=1&kind=check&slot=1',
  })
  expect(needWords(need({ kind: 'due', judgedAt: now - 28 * day, checkEveryDays: 28 }), now).why).toBe(
    'Read last 28 days ago, to be checked every 28 days.',
  )
})

test('what is the matter with a profile is seen to in Rollout, at that display', () => {
  const placement = { state: 'overridden', slot: 2 } as const
  expect(needWords(need({ kind: 'profile', placement, found: 'Somebody did.' }), now)).toMatchObject({
    title: 'Sedge 1: profile overridden',
    why: 'Somebody did.',
    to: '/rollout?display=1',
  })
  expect(needWords(need({ kind: 'slot', placement: { ...placement, state: 'in force' } }), now).title).toBe(
    'Sedge 1 shows slot 1, its profile is for slot 2',
  )
})

test('every kind has its words', () => {
  for (const kind of needKinds) {
    const { title, action, to } = needWords(need({ kind }), now)
    expect(title).toMatch(/^Sedge 1/)
    expect(action).toMatch(/^(Start|See) /)
    expect(to).toMatch(/^\/(runs|rollout)/)
  }
})
