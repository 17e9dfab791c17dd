/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor } from '@testing-library/react'
import { barSentences } from '@bichroma/core/rounds'
import type { Visit } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, StubbedApi } from '../test/stubbedApi'
import { at, minute, visit, weekOf } from '../test/visits'
import { VisitPlane } from './VisitPlane'
import { doesWords, dueSentence, instrumentSentence, moveSentence, thenSentence, unplannedSentence } from './words'

const api = new StubbedApi()
const onMove = jest.fn()
beforeEach(() => {
  api.begin()
  onMove.mockClear()
})
afterEach(() => api.end())

const open = (of: Visit | null, may = { start: true, plan: true }, besides: readonly Visit[] = []) =>
  show(<VisitPlane visit={of} week={weekOf([...(of ? [of] : []), ...besides])} may={may} onMove={onMove} />)
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}

test('nothing chosen says what to do', () => {
  open(null)
  expect(screen.getByText('Choose a visit to see why it is then, and to move it.')).toBeTruthy()
})

test('it says when, what, who, with what, and why, and whom it was told', () => {
  open(visit({ told: { personId: 2, instrumentId: 5, at: at('2026-11-24T13:30') }, answer: 'later' }))
  const text = document.body.textContent
  for (const words of [
    'The first time that suits.',
    'by its calendar.',
    'check run of Atlas web, slot 1',
    'Tobin Reyk',
    'Of 2 that fit, it is free.',
    'put it off to then',
    'otherwise: ',
  ])
    expect(text).toContain(words)
})

test('whoever may do nothing is offered nothing; a visit that is over neither', () => {
  const { unmount } = open(visit(), { start: false, plan: false })
  expect(screen.queryAllByRole('button')).toEqual([])
  unmount()
  open(visit({ state: 'done', runId: 31 }))
  expect(screen.queryAllByRole('button')).toEqual([])
  expect(screen.getByRole('link', { name: 'Its run sheet' }).getAttribute('href')).toBe('/runs/31')
})

test('started, it asks for its run; what the server refuses is told', async () => {
  api.answers['POST /api/visits/4/begin'] = refusal(
    409,
    'Plate 3 is in a run already. Wait for it, or stop it first.',
    'visit',
  )
  open(visit())
  await hands.press('Start check run')
  expect(await sent()).toMatchObject({ method: 'POST', path: '/api/visits/4/begin' })
  expect(await screen.findByText(/Plate 3 is in a run already/)).toBeTruthy()
})

test('a pinned one can be let go; one that is not has nothing to let go of', async () => {
  const { unmount } = open(visit())
  expect(screen.queryByRole('button', { name: 'Let it go' })).toBeNull()
  unmount()
  open(visit({ pinned: true }))
  await hands.press('Let it go')
  expect(await sent()).toMatchObject({ method: 'DELETE', path: '/api/visits/4/pin' })
})

test.each([
  ['Not possible…', 'Say so', 'block'],
  ['Take out…', 'Take visit out', 'drop'],
])('%s needs a few words @long', async (button, confirm, how) => {
  open(visit())
  await hands.press(button)
  const ok = () => screen.getByRole<HTMLButtonElement>('button', { name: confirm })
  await hands.write('Reason', ' a ')
  expect(ok().disabled).toBe(true)
  await hands.write('Reason', 'the arm is broken')
  await hands.pressThis(ok())
  expect(await sent()).toEqual({ method: 'POST', path: `/api/visits/4/${how}`, body: { why: 'the arm is broken' } })
})

describe('moved in words', () => {
  const move = async () => {
    await hands.press('Move visit…')
    return () => screen.getByRole<HTMLButtonElement>('button', { name: 'Move visit' })
  }

  test('to somebody else, with what nothing is in the way of @long', async () => {
    open(visit())
    const ok = await move()
    await hands.choose('Person', 'Ilse Haar')
    expect(screen.getByRole('status').textContent).toContain('Ilse Haar. Nothing is in its way.')
    await hands.pressThis(ok())
    expect(onMove).toHaveBeenCalledWith(expect.objectContaining({ id: 4 }), {
      at: at('2026-11-24T10:00'),
      personId: 3,
      instrumentId: 5,
    })
  })

  test('only instruments that fit can be chosen, and one whose certificate has run out bars it @long', async () => {
    open(visit())
    const ok = await move()
    await hands.choose('Instrument', 'HS-0031')
    expect(screen.getByRole('status').textContent).toContain(barSentences.certificate)
    expect(ok().disabled).toBe(true)
    expect(screen.queryByText('TC-0522')).toBeNull()
  })

  test('who has to make way is named; a pinned one does not @long', async () => {
    const other = (id: number, name: string, change: Partial<Visit> = {}) =>
      visit({ id, display: { ...visit().display, id: 10 + id, name }, personId: 3, instrumentId: 7, ...change })
    const { unmount } = open(visit(), undefined, [other(5, 'Plate 4')])
    let ok = await move()
    await hands.choose('Person', 'Ilse Haar')
    expect(screen.getByRole('status').textContent).toContain('Plate 4 makes way.')
    expect(ok().disabled).toBe(false)
    unmount()
    open(visit(), undefined, [other(5, 'Plate 4', { pinned: true })])
    ok = await move()
    await hands.choose('Person', 'Ilse Haar')
    expect(screen.getByRole('status').textContent).toContain(barSentences.pinned)
    expect(ok().disabled).toBe(true)
  })
})

describe('in words', () => {
  const zone = 'Europe/Oslo'

  test.each([
    [{ dueBy: 'asked' }, 'Due now: somebody said that it looks wrong.'],
    [{ dueBy: 'outside' }, 'Due now: it was outside when it was last judged.'],
    [{ dueBy: 'forecast' }, /^Due .+ by its forecast\.$/],
  ] as const)('why it falls due: %j', (change, words) => {
    expect(dueSentence(visit(change), zone)).toEqual(words instanceof RegExp ? expect.stringMatching(words) : words)
  })

  test.each([
    [{ whyThen: 'together', besides: 1 }, 'Together with 1 other in Plate Room.'],
    [{ whyThen: 'together', besides: 3 }, 'Together with 3 others in Plate Room.'],
    [{ whyThen: 'late' }, 'Nothing sooner was free.'],
    [{ whyThen: null }, ''],
  ] as const)('why then: %j', (change, words) => {
    expect(thenSentence(visit(change))).toBe(words)
  })

  test.each([
    [{ whyInstrument: 'only' }, 'No other fits.'],
    [{ whyInstrument: 'only', peerSet: 'Dome wall' }, 'All of peer set “Dome wall” are read with one.'],
    [{ whyInstrument: 'there', sharing: 2 }, 'On the same tour it reads 2 more.'],
  ] as const)('why with that instrument: %j', (change, words) => {
    expect(instrumentSentence(visit(change), weekOf([]).optionSets)).toBe(words)
  })

  test.each([
    [
      { whyNot: 'no instrument fits' },
      'No instrument fits: make a correction for this model, or bring a spectroradiometer.',
    ],
    [{ whyNot: 'no room' }, 'No single thing more would make room for it.'],
    [
      { whyNot: 'no room', reliefs: [{ kind: 'hours' }, { kind: 'instrument', likeId: 5 }] },
      'Room for it with two hours more a day, or one more like TC-0417.',
    ],
  ] as const)('why no plan holds it: %j', (change, words) => {
    expect(unplannedSentence(visit(change as Partial<Visit>), weekOf([]).instruments)).toBe(words)
  })

  test.each([
    [[], 'Nothing is in its way.'],
    [[5], 'Plate 4 makes way.'],
    [[5, 6], 'Plate 4 and Plate 5 make way.'],
    [[5, 6, 7], 'Plate 4 and 2 more make way.'],
    [[8], 'another makes way.'],
  ])('who makes way: %j', (displaced, words) => {
    const named = (id: number, name: string) => visit({ id, display: { ...visit().display, name } })
    const week = weekOf([named(5, 'Plate 4'), named(6, 'Plate 5'), named(7, 'Plate 6')])
    const told = moveSentence(week, { at: week.now + 60 * minute, person: null, bar: null, displaced })
    expect(told.endsWith(words)).toBe(true)
  })

  test('what it does is the kind of its run', () => {
    expect([doesWords({ kind: 'check' }), doesWords({ kind: 'full' })]).toEqual(['check run', 'full run'])
  })
})
