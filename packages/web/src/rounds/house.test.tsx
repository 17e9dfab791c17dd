/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import type { RoundsHouse } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { now } from '../test/fixtures'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { HousePage, weekWords } from './HousePage'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const desk = [...Array.from({ length: 5 }, () => ({ from: '09:00', to: '17:30' })), null, null]
const person = { goes: true, roomId: null, carries: 1, week: null, off: [], mail: null }
const house: RoundsHouse = {
  now,
  hours: { zone: 'Europe/Oslo', desk, lunch: { from: '12:00', to: '12:45' }, closed: [] },
  minutes: { seat: 4, takeDown: 1, warm: 30 },
  walk: { rooms: 5, buildings: 20 },
  heads: [],
  people: [
    { ...person, id: 2, name: 'Tobin Reyk', off: [{ from: '2026-12-21', to: '2026-12-23', why: 'away' }] },
    { ...person, id: 3, name: 'Ilse Haar', goes: false },
  ],
  instruments: [
    {
      ...{ id: 5, name: 'Tessel C3 TC-0417', roomId: 1, carrierId: null, hangsAt: null, hangs: null },
      validUntil: now - 1,
    },
  ],
  between: [{ kind: 'room', a: '1', b: '2', minutes: 12 }],
  times: [{ level: 'room', of: 2, name: 'Dome', times: ['before', 'after'] }],
  rooms: [
    { id: 1, name: 'Plate Room', building: 'Mill' },
    { id: 2, name: 'Dome', building: 'Yard' },
  ],
} as unknown as RoundsHouse

const begin = (role: 'administrator' | 'technician' = 'administrator', change: object = {}) =>
  api.begin({
    'GET /api/rounds/house': { body: house },
    'GET /api/session': signedInAs(role),
    'GET /api/links': { body: [] },
    ...change,
  })
beforeEach(() => begin())
afterEach(() => api.end())
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}
/** Presses a button once it is there: what may be changed is known when the session is. */
const pressIn = async (around: Element, name: string) =>
  hands.pressThis(await within(around as HTMLElement).findByRole('button', { name }))
/** Opens the form of what stands in the row, or beside the words, of a text. */
const change = async (text: string) => {
  show(<HousePage />)
  const at = await screen.findByText(text)
  const around = (at.closest('tr') ?? at.closest('li'))!
  await pressIn(around, 'Change')
}

test.each([
  [desk, 'Mon–Fri 09:00–17:30'],
  [[null, null, null, null, null, null, null], 'never'],
  [
    [desk[0], null, desk[0], { from: '08:00', to: '12:00' }, null, null, null],
    'Mon 09:00–17:30, Wed 09:00–17:30, Thu 08:00–12:00',
  ],
])('a week in words: %#', (week, words) => {
  expect(weekWords(week)).toBe(words)
})

test('it says who goes and when, how instruments are kept, whose certificate ran out, and what way is longer', async () => {
  show(<HousePage />)
  const tobin = within((await screen.findByText('Tobin Reyk')).closest('tr')!)
  expect([tobin.getByText('desk hours'), tobin.getByText('where instruments lie')]).toHaveLength(2)
  expect(tobin.getByText('2026-12-21 – 2026-12-23')).toBeTruthy()
  expect(within(screen.getByText('Ilse Haar').closest('tr')!).getByText('does not go')).toBeTruthy()
  const puck = within(screen.getByText('Tessel C3 TC-0417').closest('tr')!)
  expect([puck.getByText('Plate Room'), puck.getByText(/^ran out /)]).toHaveLength(2)
  expect(screen.getByText('Plate Room – Dome').textContent).toContain('12 min')
  expect(screen.getByText('1 of 2')).toBeTruthy()
})

test('who may not change it is offered nothing to change', async () => {
  begin('technician')
  show(<HousePage />)
  await screen.findByText('Tobin Reyk')
  for (const name of ['Change', 'Add times', 'Add a way']) expect(screen.queryByRole('button', { name })).toBeNull()
})

describe('a person', () => {
  test('gets a room, mail, a week of their own and days away @long', async () => {
    await change('Tobin Reyk')
    await hands.choose('Room', 'Dome')
    await hands.write('Mail', ' tobin@fen-and-lantern.example ')
    await hands.take(null, 'has a week of their own')
    await hands.tick('Fri, work')
    await hands.write('Mon from', '07:30')
    await hands.write('Away 1, why', 'at sea')
    await hands.press('Save person')
    const { method, path, body } = await sent()
    expect([method, path]).toEqual(['PUT', '/api/rounds/people/2'])
    expect(body).toMatchObject({
      goes: true,
      roomId: 2,
      mail: 'tobin@fen-and-lantern.example',
      off: [{ from: '2026-12-21', to: '2026-12-23', why: 'at sea' }],
    })
    const { week } = body as { week: unknown[] }
    expect(week[0]).toEqual({ from: '07:30', to: '17:30' })
    expect(week.slice(4)).toEqual([null, null, null])
    await waitFor(() => expect(screen.queryByText('Rounds of Tobin Reyk')).toBeNull())
  })

  test('who does not go any more is not asked the rest, and no mail is none @long', async () => {
    await change('Tobin Reyk')
    await hands.press('Remove')
    await hands.write('Mail', '')
    await hands.tick('Goes to displays')
    expect(screen.queryByLabelText('Mail')).toBeNull()
    await hands.press('Save person')
    expect((await sent()).body).toMatchObject({ goes: false, mail: null, off: [] })
  })

  test('what is refused is told in the form, which stays as it was filled in @long', async () => {
    begin('administrator', {
      'PUT /api/rounds/people/2': refusal(400, '“Mail” must be an address, as in name@studio.example.', 'mail'),
    })
    await change('Tobin Reyk')
    await hands.write('Mail', 'tobin')
    await hands.press('Save person')
    expect((await screen.findByRole('alert')).textContent).toContain('must be an address')
    expect((screen.getByLabelText('Mail') as HTMLInputElement).value).toBe('tobin')
    await hands.press('Leave as it is')
    await waitFor(() => expect(screen.queryByText('Rounds of Tobin Reyk')).toBeNull())
  })
})

describe('an instrument', () => {
  test('is with somebody who goes, and nobody else can be chosen @long', async () => {
    await change('Tessel C3 TC-0417')
    await hands.take(null, 'is with somebody')
    expect((screen.getByRole('button', { name: 'Save instrument' }) as HTMLButtonElement).disabled).toBe(true)
    await hands.choose('Carrier', 'Tobin Reyk')
    expect(screen.queryByRole('option', { name: 'Ilse Haar' })).toBeNull()
    await hands.press('Save instrument')
    expect(await sent()).toEqual({
      ...{ method: 'PUT', path: '/api/rounds/instruments/5' },
      body: { roomId: 1, carrierId: 2, hangsAt: null },
    })
  })

  test('lies where it was seen last @long', async () => {
    await change('Tessel C3 TC-0417')
    await hands.choose('Room', 'where it was seen last')
    await hands.press('Save instrument')
    expect((await sent()).body).toEqual({ roomId: null, carrierId: null, hangsAt: null })
  })

  test('hangs at a display only once one is chosen @long', async () => {
    await change('Tessel C3 TC-0417')
    await hands.take(null, 'hangs at a display')
    expect((screen.getByRole('button', { name: 'Save instrument' }) as HTMLButtonElement).disabled).toBe(true)
  })
})

describe('ways and times', () => {
  test('a way that is known can be given other minutes, but not other ends, or be as usual again @long', async () => {
    await change('Plate Room – Dome')
    await hands.write('Minutes', '9')
    await hands.press('Save way')
    expect((await sent()).body).toEqual({ kind: 'room', a: '1', b: '2', minutes: 9 })
    api.end()
    begin()
    await waitFor(() => expect(screen.queryByText('A way')).toBeNull())
    await pressIn(screen.getByText('Plate Room – Dome').closest('li')!, 'Change')
    await hands.press('As usual')
    expect((await sent()).body).toEqual({ kind: 'room', a: '1', b: '2', minutes: null })
  })

  test('a new way between buildings forgets the rooms that were chosen before @long', async () => {
    show(<HousePage />)
    await screen.findByRole('button', { name: 'Add a way' })
    await hands.press('Add a way')
    await hands.choose('From', 'Plate Room')
    await hands.take(null, 'between buildings')
    expect((screen.getByRole('button', { name: 'Save way' }) as HTMLButtonElement).disabled).toBe(true)
    await hands.choose('From', 'Mill')
    await hands.choose('To', 'Yard')
    await hands.press('Save way')
    expect((await sent()).body).toEqual({ kind: 'building', a: 'Mill', b: 'Yard', minutes: 5 })
  })

  test('times of a room: what is ticked is sent; taken away they are those further out @long', async () => {
    await change('Dome')
    await hands.tick('during work')
    await hands.press('Save times')
    const { path, body } = await sent()
    expect(path).toBe('/api/rounds/times')
    expect(body).toMatchObject({ level: 'room', of: 2 })
    expect((body as { times: string[] }).times.sort()).toEqual(['after', 'before', 'desk'])
  })

  test('times for everywhere else name nothing @long', async () => {
    show(<HousePage />)
    await screen.findByRole('button', { name: 'Add times' })
    await hands.press('Add times')
    expect((screen.getByRole('button', { name: 'Save times' }) as HTMLButtonElement).disabled).toBe(true)
    await hands.take(null, 'everywhere else')
    await hands.press('Save times')
    expect((await sent()).body).toEqual({ level: 'studio', times: ['before', 'desk', 'after'] })
  })
})

describe('the studio’s hours', () => {
  const open = async () => {
    show(<HousePage />)
    const plane = (await screen.findByText('At the desks')).closest('.inside') as HTMLElement
    await pressIn(plane, 'Change')
  }

  test('no lunch, a closed day, and who hears of it once a month @long', async () => {
    await open()
    await hands.tick('Lunch')
    await hands.press('Add closed day')
    await hands.write('Name of closed day 1', 'Harvest')
    await hands.write('Minutes to seat', '6')
    await hands.write('Minutes between buildings', '25')
    await hands.press('Save hours')
    const { path, body } = await sent()
    expect(path).toBe('/api/rounds/settings')
    expect(body).toMatchObject({
      hours: { zone: 'Europe/Oslo', lunch: null, closed: [{ date: '', name: 'Harvest' }] },
      minutes: { seat: 6, takeDown: 1, warm: 30 },
      walk: { rooms: 5, buildings: 25 },
      heads: [],
    })
  })

  test('a day that begins to be worked takes the hours of the day before @long', async () => {
    await open()
    await hands.write('Fri to', '15:00')
    await hands.tick('Sat, work')
    await hands.tick('Mon, work')
    await hands.press('Save hours')
    const { desk: week } = ((await sent()).body as { hours: { desk: unknown[] } }).hours
    expect(week).toEqual([
      null,
      desk[1],
      desk[2],
      desk[3],
      { from: '09:00', to: '15:00' },
      { from: '09:00', to: '15:00' },
      null,
    ])
  })
})
