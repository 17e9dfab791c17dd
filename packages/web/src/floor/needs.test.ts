import { day, display, judged, now, placement, rolloutRow, slot } from '../test/fixtures'
import { needs } from './needs'

const titles = (...args: Parameters<typeof needs>) => needs(args[0], args[1], now).map((n) => n.title)

test('a studio in order needs nobody', () => {
  expect(needs([display()], [rolloutRow()], now)).toEqual([])
})

test('most pressing first: outside, profiles, slots, lapsed, due, never read', () => {
  const all = [
    display({
      id: 5,
      name: 'E',
      verdict: 'unproven',
      slots: [slot({ label: null, judged: null })],
      dueAt: null,
      dueState: 'overdue',
    }),
    display({ id: 4, name: 'D', dueState: 'overdue' }),
    display({ id: 3, name: 'C', verdict: 'lapsed', dueState: 'overdue' }),
    display({ id: 2, name: 'B' }),
    display({ id: 1, name: 'A', verdict: 'outside' }),
  ]
  const rollout = [
    rolloutRow({ displayId: 2, displayName: 'B', placement: placement({ displayId: 2, slot: 2 }) }),
    rolloutRow({
      displayId: 4,
      displayName: 'D',
      placement: placement({ displayId: 4, state: 'overridden', message: 'Somebody did.' }),
    }),
  ]
  expect(titles(all, rollout)).toEqual([
    'A is outside',
    'D: profile overridden',
    'B shows slot 1, its profile is for slot 2',
    'C has lapsed',
    'D is due',
    'E was never read',
  ])
})

test('each says why and leads to where it is seen to, with display, slot and kind', () => {
  const [outside] = needs(
    [display({ verdict: 'outside', slots: [slot({ number: 2, judged: judged({ sentence: 'White is off.' }) })] })],
    [],
    now,
  )
  expect(outside).toMatchObject({
    why: 'White is off.',
    action: 'Start full run',
    to: '/runs/new?display=1&kind=full&slot=2',
  })
  const [lapsed] = needs(
    [display({ verdict: 'lapsed', slots: [slot({ judged: judged({ at: now - 40 * day }) })] })],
    [],
    now,
  )
  expect(lapsed).toMatchObject({
    why: 'Read last 40 days ago; that no longer counts.',
    to: '/runs/new?display=1&kind=check&slot=1',
  })
})

test('a display in a run is being seen to', () => {
  expect(
    needs(
      [
        display({ verdict: 'outside', runId: 4 }),
        display({ id: 2, verdict: 'lapsed', runId: 5 }),
        display({ id: 3, dueState: 'overdue', runId: 6 }),
      ],
      [],
      now,
    ),
  ).toEqual([])
})

test('a display that is due and outside is listed once', () => {
  expect(titles([display({ verdict: 'outside', dueState: 'overdue' })], [])).toEqual(['Sedge 1 is outside'])
})
