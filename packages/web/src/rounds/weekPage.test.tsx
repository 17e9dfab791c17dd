/** @jest-environment ./tests/browserEnvironment.cjs */
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { daysAfter } from '@bichroma/core/rounds'
import type { PlanStanding, Role, Visit, Week } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { at, visit, weekOf } from '../test/visits'
import { WeekPage } from './WeekPage'

const plan: PlanStanding = {
  id: 3,
  madeAt: at('2026-11-24T07:00'),
  by: 'Marit Oyen',
  from: at('2026-11-24T00:00'),
  until: at('2026-12-01T00:00'),
  planned: 2,
  unplanned: 0,
  late: 0,
  overdue: 0,
  untold: 0,
  walk: 24.6,
  load: { people: [{ id: 2, busy: 90, of: 480 }], instruments: [{ id: 5, busy: 600, of: 480 }] },
  ignored: [],
  working: false,
} as PlanStanding
/** Seven days from 24 November; the fifth and sixth are closed, the third is a holiday. */
const days: Week['days'] = Array.from({ length: 7 }, (_, n) => daysAfter('2026-11-24', n)).map((date, n) => {
  const closed = n === 4 || n === 5
  return {
    date,
    from: at(`${date}T00:00`),
    to: at(`${daysAfter(date, 1)}T00:00`),
    desk: closed || n === 2 ? null : { from: at(`${date}T09:00`), to: at(`${date}T17:00`) },
    closed: n === 2 ? 'Reed Day' : null,
  }
})
const two = [
  visit({ windowSet: 0 }),
  visit({
    id: 7,
    personId: 3,
    instrumentId: 7,
    at: at('2026-11-25T11:00'),
    takeDownAt: at('2026-11-25T11:14'),
    endsAt: at('2026-11-25T11:15'),
    pinned: true,
    display: { ...visit().display, id: 12, name: 'Loop 2' },
  }),
]
const people = weekOf([]).people.map((p) => ({
  ...p,
  hours: days.flatMap((d) => (d.desk ? [d.desk] : [])),
  off: p.id === 3 ? ['2026-11-27', '2026-11-30'] : [],
}))
const week = (change: Partial<Week> = {}, visits: readonly Visit[] = two) =>
  weekOf(visits, { plan, days, people, ...change })

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = (
  shown: Week,
  { role = 'administrator' as Role, at: address = '/rounds/week', more = {} as typeof api.answers } = {},
) => {
  const query = address.split('?from=')[1]?.split('&')[0]
  api.begin({
    'GET /api/session': signedInAs(role),
    [`GET /api/rounds/week${query ? `?from=${query}` : ''}`]: { body: shown },
    ...more,
  })
  window.history.replaceState(null, '', address)
  return showAt('/rounds/week', <WeekPage />, address)
}
/** A visit's bar, once whoever looks is known. */
const bar = async (name: RegExp) => {
  const found = await screen.findByRole('button', { name })
  await api.settled()
  return found
}
const rowsShown = () => [...document.querySelectorAll('.weekrow .weekname')].map((n) => n.textContent)
const headOf = () => screen.findByRole('heading', { level: 1 }).then((h) => h.textContent)
beforeAll(() => layOut(30))
afterEach(() => {
  cleanup()
  api.end()
})

describe('the question of the week', () => {
  test.each<[string, PlanStanding | null]>([
    ['Nothing is planned yet', null],
    ['Nothing falls due', { ...plan, planned: 0 }],
    ['1 visit planned, all in time', { ...plan, planned: 1 }],
    ['2 visits planned, 3 without room', { ...plan, unplanned: 3, late: 1, overdue: 1 }],
    ['2 visits planned, 1 of them late for want of time', { ...plan, late: 1, overdue: 1 }],
    ['2 visits planned, 2 overdue by now, the rest in time', { ...plan, overdue: 2 }],
  ])('%s', async (says, standing) => {
    begin(week({ plan: standing }))
    expect(await headOf()).toBe(says)
  })

  test('each day says how many visits it has, or why it has none @long', async () => {
    begin(week())
    await bar(/^Plate 3/)
    const heads = [...document.querySelectorAll<HTMLElement>('.weekday')]
    expect(heads.map((h) => h.textContent!.trim().replace(/\s+/g, ' '))).toEqual([
      'Tue 24 Nov 1 visit',
      'Wed 25 Nov 1 visit',
      'Th',
      'Fri 27 Nov',
      'Sa',
      'Su',
      'Mon 30 Nov',
    ])
    expect(heads.map((h) => h.title).filter(Boolean)).toEqual(['Reed Day', 'closed', 'closed'])
  })
})

describe('rows', () => {
  test('are people, who say how long they are away; instruments; and rooms that somebody goes to @long', async () => {
    begin(week())
    await bar(/^Plate 3/)
    expect(rowsShown()).toEqual(['Tobin Reyk', 'Ilse Haar 2 days off'])
    await hands.take('Rows', 'instruments')
    expect(rowsShown()).toEqual(['TC-0417', 'HS-0031', 'TC-0522'])
    expect(within(document.querySelectorAll<HTMLElement>('.weekrow')[2]).getByRole('button').ariaLabel).toMatch(
      /^Loop 2/,
    )
    await hands.take('Rows', 'rooms')
    expect(rowsShown()).toEqual(['Plate Room'])
  })

  test('what goes by itself has a row of its own, and where nobody goes at all it says where that is said @long', async () => {
    begin(week({}, [visit({ personId: null })]))
    await bar(/^Plate 3/)
    expect(rowsShown()).toEqual(['Tobin Reyk', 'Ilse Haar 2 days off', 'by themselves'])
    cleanup()
    api.end()
    begin(week({ people: [] }, []))
    expect(await screen.findByText(/Say who does under Hours and ways/)).toBeTruthy()
  })

  test('an address that asks for rows there are none of shows people', async () => {
    begin(week(), { at: '/rounds/week?rows=planets' })
    await bar(/^Plate 3/)
    expect(rowsShown()[0]).toBe('Tobin Reyk')
  })
})

test('a day alone is chosen by its head, stepped to and left; weeks are stepped through by seven days @long', async () => {
  begin(week(), { more: { 'GET /api/rounds/week?from=2026-12-01': { body: week({}, []) } } })
  await bar(/^Plate 3/)
  await hands.press(/^Wed 25 Nov/)
  expect(screen.queryByRole('button', { name: /^Plate 3/ })).toBeNull()
  expect(screen.getByRole('button', { name: /^Loop 2/ })).toBeTruthy()
  await hands.press('Before')
  expect(screen.getByRole('button', { name: /^Plate 3/ })).toBeTruthy()
  await hands.press('Show the week')
  expect(screen.getByText('Tue 24 Nov – Mon 30 Nov')).toBeTruthy()
  await hands.press('After')
  await waitFor(() => expect(api.asked).toContain('/api/rounds/week?from=2026-12-01'))
})

describe('planning', () => {
  test('for so many days, anew once there is a plan @long', async () => {
    begin(week())
    await bar(/^Plate 3/)
    await hands.choose('Days to plan', '14 days')
    await hands.press('Plan anew')
    await waitFor(() => expect(api.sent).toEqual([{ method: 'POST', path: '/api/rounds/plan', body: { days: 14 } }]))
    cleanup()
    api.end()
    begin(week({ plan: null }, []))
    await screen.findByText('Nothing is planned yet')
    await api.settled()
    await hands.press('Plan rounds')
    await waitFor(() => expect(api.sent).toEqual([{ method: 'POST', path: '/api/rounds/plan', body: { days: 7 } }]))
  })

  test.each([
    [1, 'Tell 1 visit', 'One visit was told.'],
    [4, 'Tell 4 visits', '4 visits were told.'],
  ])('telling people of %d is one press, and says what was told', async (untold, button, says) => {
    begin(week({ plan: { ...plan, untold } }), { more: { 'POST /api/rounds/told': { body: { told: untold } } } })
    await bar(/^Plate 3/)
    await hands.press(button)
    expect(await screen.findByText(says)).toBeTruthy()
    expect(api.sent.map((s) => s.path)).toEqual(['/api/rounds/told'])
  })

  test('where all were told nothing is to be told', async () => {
    begin(week())
    await bar(/^Plate 3/)
    await api.settled()
    expect(screen.queryByRole('button', { name: /^Tell/ })).toBeNull()
  })

  test.each<Role>(['technician', 'viewer'])('a %s looks and does not plan', async (role) => {
    begin(week({ plan: { ...plan, untold: 2 } }), { role })
    await bar(/^Plate 3/)
    await api.settled()
    expect(screen.queryByRole('button', { name: /Plan|Tell/ })).toBeNull()
    expect((await bar(/^Plate 3/)).getAttribute('aria-disabled')).toBe('true')
  })
})

describe('a visit', () => {
  test('is told whole where it is chosen @long', async () => {
    begin(week())
    fireEvent.click(await bar(/^Loop 2, 11:00 to 11:15, Plate Room, pinned/))
    expect((await bar(/^Loop 2/)).className).toContain('chosen')
    expect((await bar(/^Plate 3/)).className).not.toContain('chosen')
  })

  /** Keys as the browser sends them; what is dragged listens to the document from the next turn on. */
  const key = async (element: Element, code: string) => {
    await act(async () => {
      fireEvent.keyDown(element, { code, key: code })
      await new Promise((done) => setTimeout(done, 0))
    })
  }

  test('is moved by keys, a quarter of an hour each, with what that would mean said on the way @long', async () => {
    begin(week())
    const moved = await bar(/^Plate 3/)
    act(() => moved.focus())
    await key(moved, 'Space')
    await waitFor(() => expect(document.querySelector('.movewords')).not.toBeNull())
    await key(document.body, 'ArrowRight')
    await key(document.body, 'ArrowRight')
    expect((await screen.findAllByText(/10:30/)).length).toBeGreaterThan(0)
    await key(document.body, 'Space')
    await waitFor(() => expect(api.sent).toHaveLength(1))
    expect(api.sent[0]).toMatchObject({ method: 'PUT', path: '/api/visits/4', body: { at: at('2026-11-24T10:30') } })
  })

  test('stays where it was by Escape @long', async () => {
    begin(week())
    const moved = await bar(/^Plate 3/)
    act(() => moved.focus())
    await key(moved, 'Space')
    await key(document.body, 'ArrowLeft')
    await key(document.body, 'Escape')
    expect(await screen.findByText(/Plate 3 stays where it was/)).toBeTruthy()
    expect(api.sent).toEqual([])
  })

  test('that the server refuses to move says why @long', async () => {
    const why = 'Tobin Reyk is not there at that time.'
    begin(week(), { more: { 'PUT /api/visits/4': refusal(409, why, 'at') } })
    const moved = await bar(/^Plate 3/)
    act(() => moved.focus())
    await key(moved, 'Space')
    await key(document.body, 'ArrowRight')
    await key(document.body, 'Space')
    expect(await screen.findByText(why)).toBeTruthy()
  })
})

test('how busy everybody is, never drawn beyond the whole, and what one more would come to when it is asked @long', async () => {
  const outcome = { late: 0, lateness: 0 }
  begin(week(), {
    more: {
      'GET /api/rounds/capacity': {
        body: {
          displays: 34,
          keeps: 31,
          tightest: { name: 'TC-0417', share: 0.914 },
          outcomes: [
            { name: 'as it is', planned: 31, late: 3, lateness: 4.25 },
            { name: 'one colorimeter more', planned: 34, ...outcome },
            { name: 'one person more', planned: 31, late: 3, lateness: 4.22 },
          ],
        },
      },
    },
  })
  await bar(/^Plate 3/)
  const plane = screen
    .getByRole('heading', { name: /What there is time for/ })
    .closest('section, .plane') as HTMLElement
  expect(within(plane).getByRole('row', { name: 'Tobin Reyk 19 %' })).toBeTruthy()
  expect(within(plane).getByRole('row', { name: 'TC-0417 125 %' })).toBeTruthy()
  expect([...plane.querySelectorAll<HTMLElement>('.loadbar i')].map((i) => i.style.width)).toEqual(['18.75%', '100%'])
  expect(plane.textContent).toContain('25 min of walking')
  expect(api.asked.some((a) => a.includes('capacity'))).toBe(false)
  await hands.press('What if there were one more?')
  expect(await within(plane).findByText(/31 of 34 displays can be kept in time/)).toBeTruthy()
  expect(plane.textContent).toContain('Busiest is TC-0417, 91 % of the time.')
  // What changes nothing worth a word is left out.
  expect(
    within(plane)
      .getAllByRole('row', { name: /more|as it is/ })
      .map((r) => r.textContent),
  ).toEqual(['as it is3134.3', 'one colorimeter more3400.0'])
})
