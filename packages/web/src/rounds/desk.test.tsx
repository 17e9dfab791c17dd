/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import type { Desk, DeskDisplay } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, StubbedApi } from '../test/stubbedApi'
import { at } from '../test/visits'
import { DeskPage } from './DeskPage'

const displayOf = (change: Partial<DeskDisplay> = {}): DeskDisplay => ({
  id: 9,
  name: 'Plate 3',
  verdict: 'within',
  shows: 'Atlas web',
  until: at('2026-12-10T12:00'),
  others: [],
  visit: null,
  reports: [],
  ...change,
})
const planned = (change: Partial<NonNullable<DeskDisplay['visit']>> = {}): DeskDisplay['visit'] => ({
  id: 4,
  state: 'planned',
  at: at('2026-11-25T10:00'),
  minutes: 18,
  attended: false,
  answer: null,
  times: [at('2026-11-25T14:00'), at('2026-11-26T09:30')],
  later: at('2026-11-27T10:00'),
  ...change,
})
const deskOf = (displays: DeskDisplay[], change: Partial<Desk> = {}): Desk => ({
  studio: 'Fen & Lantern',
  workstation: 'plate-03',
  room: 'Plate Room',
  zone: 'Europe/Oslo',
  now: at('2026-11-24T09:00'),
  light: null,
  displays,
  ...change,
})

const api = new StubbedApi()
const begin = (desk: Desk, more: typeof api.answers = {}) => {
  api.begin({ 'GET /api/desk/key-of-desk': { body: desk }, ...more })
  return showAt('/desk/:token', <DeskPage />, '/desk/key-of-desk')
}
afterEach(() => {
  cleanup()
  api.end()
})
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}

test.each([
  [{ verdict: 'within' }, 'You can trust it for Atlas web until Thu 10 Dec.'],
  [{ verdict: 'near', until: null }, 'You can trust it for Atlas web.'],
  [{ verdict: 'outside' }, 'Do not judge colour on it, not even for Atlas web: it was outside its limits'],
  [{ verdict: 'outside', shows: null }, 'Do not judge colour on it: it was outside its limits'],
  [{ verdict: 'untold' }, 'It cannot be told whether it can be trusted for Atlas web: the instrument'],
  [{ verdict: 'lapsed' }, 'Nobody knows whether it can be trusted for Atlas web: it was read too long ago.'],
  [{ verdict: 'unproven', shows: null }, 'Nobody knows whether it can be trusted: it was never read.'],
] as const)('whoever sits there is told in one sentence: %j', async (change, sentence) => {
  begin(deskOf([displayOf(change)]))
  expect((await screen.findByRole('heading', { name: 'Plate 3' })).nextElementSibling!.textContent).toContain(sentence)
})

test('what else it was proven for counts only where it can be trusted', async () => {
  const others = [
    { label: 'Dome P3', verdict: 'near' },
    { label: 'Old plates', verdict: 'outside' },
    { label: 'Proofs', verdict: 'within' },
  ] as const
  begin(deskOf([displayOf({ others: [...others] })]))
  expect(await screen.findByText('It was also proven for Dome P3, Proofs.')).toBeTruthy()
})

test('the light of the room is told, and a desk without displays says so', async () => {
  begin(deskOf([], { light: 'The light here is 310 lx; 20 to 64 are wanted.' }))
  expect((await screen.findByText(/310 lx/)).getAttribute('role')).toBe('status')
  expect(screen.getByText('No display stands at this desk.')).toBeTruthy()
})

test('a link that nobody gave out says so, and can be tried again', async () => {
  const detail = 'This link is not known.'
  begin(deskOf([]), { 'GET /api/desk/key-of-desk': { status: 404, body: { title: 'x', status: 404, detail } } })
  expect((await screen.findByRole('alert')).textContent).toContain(detail)
  api.answers['GET /api/desk/key-of-desk'] = { body: deskOf([displayOf()]) }
  await hands.press('Try again')
  expect(await screen.findByText('Fen & Lantern, Plate Room, plate-03')).toBeTruthy()
})

describe('a visit that is planned', () => {
  test('suits', async () => {
    begin(deskOf([displayOf({ visit: planned() })]))
    expect((await screen.findByText(/^Somebody comes on/)).textContent).toBe(
      'Somebody comes on Wed 25 Nov, 10:00 and needs it for 18 minutes.',
    )
    await hands.press('That suits')
    expect(await sent()).toEqual({
      method: 'POST',
      path: '/api/desk/key-of-desk/answer',
      body: { visitId: 4, answer: 'suits' },
    })
  })

  test('is moved to one of the times that suit everything else', async () => {
    begin(deskOf([displayOf({ visit: planned() })]))
    await hands.pressThis(await screen.findByRole('button', { name: 'Another time…' }))
    await hands.press('Thu 26 Nov, 09:30')
    expect((await sent()).body).toEqual({ visitId: 4, answer: 'another time', at: at('2026-11-26T09:30') })
    expect(screen.queryByRole('group', { name: 'Other times' })).toBeNull()
  })

  test('is put off, and says why where that was too late', async () => {
    const detail = 'It cannot be put off any more: somebody is on the way.'
    begin(deskOf([displayOf({ visit: planned() })]), {
      'POST /api/desk/key-of-desk/answer': refusal(409, detail, 'answer'),
    })
    await hands.pressThis(await screen.findByRole('button', { name: 'Put it off to Fri 27 Nov, 10:00' }))
    expect((await sent()).body).toEqual({ visitId: 4, answer: 'later' })
    expect((await screen.findByRole('alert')).textContent).toBe(detail)
  })

  test.each([
    ['suits', 'You said that this suits.'],
    ['another time', 'You chose this time.'],
    ['later', 'You put it off to then.'],
  ] as const)('that was answered by “%s” says so and asks no more', async (answer, words) => {
    begin(deskOf([displayOf({ visit: planned({ answer, times: [], later: null }) })]))
    expect((await screen.findByText(/^Somebody comes on/)).textContent).toContain(words)
    for (const name of ['That suits', 'Another time…']) expect(screen.queryByRole('button', { name })).toBeNull()
  })

  test('and has begun asks to leave it alone', async () => {
    begin(deskOf([displayOf({ visit: planned({ state: 'begun' }) })]))
    expect(await screen.findByText('It is being read at this moment. Please leave it alone.')).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'That suits' })).toBeNull()
  })
})

describe('“this looks wrong”', () => {
  const open = async (more: typeof api.answers = {}) => {
    begin(deskOf([displayOf()]), more)
    await hands.pressThis(await screen.findByRole('button', { name: 'This looks wrong…' }))
  }

  test('is sent once there are words, and the form closes @long', async () => {
    await open()
    const say = screen.getByRole<HTMLButtonElement>('button', { name: 'Say so' })
    expect(say.disabled).toBe(true)
    await hands.write('What looks wrong?', 'Greys look green')
    expect(say.disabled).toBe(false)
    await hands.pressThis(say)
    expect(await sent()).toEqual({
      method: 'POST',
      path: '/api/desk/key-of-desk/wrong',
      body: { displayId: 9, text: 'Greys look green' },
    })
    expect(await screen.findByRole('button', { name: 'This looks wrong…' })).toBeTruthy()
  })

  test('that is refused keeps what was written @long', async () => {
    await open({ 'POST /api/desk/key-of-desk/wrong': refusal(409, 'Five of this desk are still open.', 'text') })
    await hands.write('What looks wrong?', 'Greys look green')
    await hands.press('Say so')
    expect((await screen.findByRole('alert')).textContent).toBe('Five of this desk are still open.')
    expect(screen.getByLabelText<HTMLInputElement>('What looks wrong?').value).toBe('Greys look green')
  })

  test('a file that is no picture is not sent along @long', async () => {
    await open()
    fireEvent.change(screen.getByLabelText('A picture'), { target: { files: [new File(['words'], 'notes.txt')] } })
    expect((await screen.findByRole('alert')).textContent).toBe('This file is no picture that can be read here.')
    await hands.write('What looks wrong?', 'Greys look green')
    await hands.press('Say so')
    expect((await sent()).body).toEqual({ displayId: 9, text: 'Greys look green' })
  })

  test('that was said before stands there with its answer, or that somebody will look', async () => {
    const reports = [
      { at: at('2026-11-20T08:05'), text: 'Reds glow', answer: null, answeredAt: null },
      { at: at('2026-11-10T08:05'), text: 'Dim', answer: 'Its cable was loose.', answeredAt: at('2026-11-11T09:00') },
    ]
    begin(deskOf([displayOf({ reports })]))
    const [open, answered] = (await screen.findAllByText(/you said:$/)).map((e) => e.closest('p')!.textContent)
    expect(open).toBe('Fri 20 Nov, 08:05, you said: Reds glowSomebody will look at it.')
    expect(answered).toBe('Tue 10 Nov, 08:05, you said: DimWed 11 Nov, 09:00: Its cable was loose.')
  })
})
