/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { convertChromaticityToXyz, matrixOfPrimaries, multiplyVector } from '@bichroma/core/color'
import { standardPrimaries, standardWhites, type PatchReading, type Triple, type XYZ } from '@bichroma/core/color'
import { aimOfGround, standingOf, usualPeerLimits, type MemberKnown, type SetAsked } from '@bichroma/core/peers'
import type { PeerSetDetail, Ring } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { InSets } from '../register/InSets'
import { AddPeerSet } from './EditPeerSet'
import { PeerSetPage } from './PeerSetPage'
import { RingsPage } from './RingsPage'
import { apartWords, directionWords, listed } from './words'

const at = Date.UTC(2026, 10, 24, 10)
const day = 86_400_000
const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
afterEach(() => api.end())

const rgbs: Triple[] = [
  [1, 1, 1],
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0.5, 0.5, 0.5],
]
/** Patches of a display: its white's luminance, and how much more of red it has. */
const patches = (luminance: number, red = 1): PatchReading[] => {
  const m = matrixOfPrimaries(standardPrimaries['Display P3'], convertChromaticityToXyz(standardWhites.D65, luminance))
  return rgbs.map((rgb) => {
    const [x, y, z] = multiplyVector(m, rgb.map((v) => v ** 2.2) as unknown as Triple)
    return { name: rgb.join(' '), rgb, xyz: [red * x + 0.1, y + 0.1, z + 0.1] }
  })
}
function known(id: number, luminance: number, change: Partial<MemberKnown> = {}, red = 1): MemberKnown {
  const [white, black, r, green, blue] = patches(luminance).map((p) => p.xyz) as XYZ[]
  return {
    id,
    seen: [{ corners: { white, black, red: r, green, blue }, control: 100, most: 100, whites: [], at }],
    ...{ blackFollows: true, fadePerDay: null, daysUntilDue: 20, byEye: null, rates: null },
    judged: { runId: 10 * id, at: at - id * 60_000, patches: patches(100, red), by: null },
    ...change,
  }
}
const asked: SetAsked = {
  ...{ white: standardWhites.D65, standard: 'sRGB', share: 0.98, headroom: 0.03 },
  ...{ limits: usualPeerLimits, adopted: null, reference: null, now: at },
}
function setOf(members: readonly MemberKnown[], change: Partial<PeerSetDetail> = {}): PeerSetDetail {
  const adopted = change.adopted ?? null
  return {
    ...{ id: 4, name: 'The wall', reference: null, white: { kind: 'standard', name: 'D65' }, black: 'own' },
    ...{ toneResponse: { kind: 'power', exponent: 2.2 }, standard: 'sRGB', share: 0.98, headroom: 0.03 },
    limits: usualPeerLimits,
    members: members.map(({ id }) => ({
      ...{ displayId: id, slot: 2, name: `Sedge ${id}`, maker: 'Quillon', model: 'Q27', panelKind: 'white-led' },
      ...{ room: 'Sedge Room', kept: 'in use', label: 'Plates', judged: null },
    })),
    ...{ aim: null, adopted, asked, working: false, ahead: null, matches: [], looks: [] },
    standing: standingOf(members, { ...asked, adopted }),
    ...change,
  } as PeerSetDetail
}
const open = (set: PeerSetDetail, role: 'administrator' | 'viewer' = 'administrator') => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/peer-sets/4': { body: set },
    'GET /api/instruments': { body: [] },
  })
  return show(
    <Routes>
      <Route path="/peers/:id" element={<PeerSetPage />} />
    </Routes>,
    '/peers/4',
  )
}

test('a set is told by its verdict first, pairs with their signs, and who holds the common ground back @long', async () => {
  open(setOf([known(1, 300), known(2, 200), known(3, 320, {}, 1.03)]))
  expect(await screen.findByRole('heading', { name: /The wall outside the limits|The wall/ })).toBeTruthy()
  expect(screen.getByText(/Not alike: Sedge \d and Sedge 3/)).toBeTruthy()
  const pairs = within(screen.getByRole('table', { name: /Pairs of members/ })).getAllByRole('button')
  expect(pairs).toHaveLength(3)
  // The worst is chosen until somebody chooses another.
  expect(pairs.filter((p) => p.getAttribute('aria-pressed') === 'true')).toHaveLength(1)
  expect(screen.getByText(/stands apart/)).toBeTruthy()
  await hands.pressThis(pairs[0])
  expect(screen.getByRole('heading', { name: 'Sedge 2 beside Sedge 1' })).toBeTruthy()
  // The dimmest holds the light back.
  expect(screen.getByRole('img', { name: /Reaches 200 cd\/m² now/ }).querySelector('.holds')).not.toBeNull()
  expect(screen.getByRole('img', { name: /Reaches 300 cd\/m² now/ }).querySelector('.holds')).toBeNull()
})

test('members whose light nobody knows are named, and baselines are what is offered @long', async () => {
  open(setOf([known(1, 300), known(2, 200, { seen: [] })]))
  expect(await screen.findAllByText(/Nobody knows how bright Sedge 2 can be/)).not.toHaveLength(0)
  expect(screen.queryByRole('button', { name: 'Adopt common ground' })).toBeNull()
  await screen.findByRole('button', { name: 'Start runs of all' })
  await hands.press('Start runs of all')
  expect(screen.getByRole('button', { name: 'Start 2 baselines' })).toBeTruthy()
  const { answers } = api
  answers['POST /api/peer-sets/4/runs'] = {
    body: {
      id: 9,
      started: [{ displayId: 1, runId: 71 }],
      refused: [{ displayId: 2, name: 'Sedge 2', why: 'It is away.' }],
    },
  }
  await hands.press('Start 2 baselines')
  await waitFor(() => expect(screen.getByText('Sedge 2: It is away.')).toBeTruthy())
  expect(api.sent).toEqual([
    {
      ...{ method: 'POST', path: '/api/peer-sets/4/runs' },
      body: {
        kind: 'baseline',
        holds: [1, 2].map((displayId) => ({ displayId, label: 'Plates' })),
      },
    },
  ])
})

test('what Rounds has planned of a set is told: when, how many of its members, and with what', async () => {
  const members = [known(1, 300), known(2, 200)]
  const ahead = { from: at + day, to: at + day + 3_600_000, members: 2, instrument: 'Tarn TC-0522' }
  const { unmount } = open(setOf(members, { ahead }))
  expect(await screen.findByText('Rounds reads 2 on 25 Nov, with Tarn TC-0522.')).toBeTruthy()
  unmount()
  api.end()
  open(setOf(members, { ahead: { ...ahead, to: at + 3 * day, instrument: null } }))
  expect(await screen.findByText('Rounds reads 2 from 25 Nov to 27 Nov, with several instruments.')).toBeTruthy()
})

test('common ground is adopted as it is shown; what moved since is told; viewers change nothing @long', async () => {
  const members = [known(1, 300), known(2, 200)]
  const before = standingOf(members, asked).ground!
  const adopted = { ...before, luminance: before.luminance * 1.2, black: null, at: at - day, by: 'Marit Oyen' }
  const aim = { id: 5, name: 'The wall, common ground', aim: aimOfGround(adopted, setOf(members)) }
  const { unmount } = open(setOf(members, { adopted, aim }))
  expect(await screen.findByText('The ground has moved')).toBeTruthy()
  expect(screen.getByText(/there is less light than was adopted/)).toBeTruthy()
  await screen.findByRole('button', { name: 'Adopt common ground' })
  await hands.press('Adopt common ground')
  await hands.press('Adopt ground')
  await waitFor(() => expect(api.sent).toHaveLength(1))
  expect(api.sent[0]).toMatchObject({ path: '/api/peer-sets/4/aim', body: { luminance: Math.floor(before.luminance) } })
  unmount()
  api.end()
  open(setOf(members), 'viewer')
  expect(await screen.findByRole('table', { name: /Pairs of members/ })).toBeTruthy()
  for (const name of ['Adopt common ground', 'Edit set', 'Start runs of all'])
    expect(screen.queryByRole('button', { name })).toBeNull()
})

test('a set that asks for another white than its aim has says so, and can be adopted again @long', async () => {
  const members = [known(1, 300), known(2, 200)]
  const { luminance, primaries, standard } = standingOf(members, asked).ground!
  const adopted = { luminance, primaries, standard, black: null, at: at - day, by: 'Marit Oyen' }
  const aim = { id: 5, name: 'The wall, common ground', aim: aimOfGround(adopted, setOf(members)) }
  const { unmount } = open(setOf(members, { adopted, aim }))
  await screen.findByRole('table', { name: /Pairs of members/ })
  expect(screen.queryByRole('button', { name: 'Adopt common ground' })).toBeNull()
  expect(screen.queryByText('The set asks for something else')).toBeNull()
  unmount()
  api.end()
  open(setOf(members, { adopted, aim, white: { kind: 'standard', name: 'D50' } }))
  expect(await screen.findByText('The set asks for something else')).toBeTruthy()
  expect(await screen.findByRole('button', { name: 'Adopt common ground' })).toBeTruthy()
})

test('a new set: too few members are said beside the list, what the server refuses at its field @long', async () => {
  api.begin({ 'GET /api/session': signedInAs('administrator') })
  show(<AddPeerSet />)
  await hands.press('Save set')
  expect(await screen.findByText('“Name” is missing; it is needed.')).toBeTruthy()
  expect(screen.getByText(/A set has two members at least/).className).toContain('asks')
  expect(api.sent).toEqual([])
  api.begin({
    'GET /api/session': signedInAs('administrator'),
    'GET /api/displays?limit=50': {
      body: {
        items: [1, 2].map((id) => ({ id, name: `Sedge ${id}`, room: 'Sedge Room', live: true })),
        ...{ next: null, total: 2, more: false },
      },
    },
    'POST /api/peer-sets': refusal(409, 'Another peer set has this name already. Choose another.', 'name'),
  })
  await hands.write('Name', 'The wall')
  for (const n of [1, 2]) {
    await hands.press('Add member')
    await hands.choose(`Member ${n}`, `Sedge ${n}, Sedge Room`)
  }
  await hands.press('Save set')
  expect(await screen.findByText(/Another peer set has this name/)).toBeTruthy()
  expect(api.sent[0].body).toMatchObject({
    name: 'The wall',
    members: [
      { displayId: 1, slot: 1 },
      { displayId: 2, slot: 1 },
    ],
    reference: null,
    share: 0.98,
  })
})

describe('rings', () => {
  const ring = (change: Partial<Ring>): Ring => ({
    ...{ id: 1, referenceId: null, wanted: 0.002, uncertainty: 0.0018, startedAt: at, endedAt: at, by: 'Marit Oyen' },
    ...{ state: 'done', says: null, result: null, instruments: [3, 4].map((id) => ({ id, name: `TC-${id}` })) },
    ...{ displays: 1, stepCount: 4 },
    steps: [3, 4, 4, 3].map((instrumentId, seq) => ({
      ...{ seq, displayId: 1, displayName: 'Sedge 1', instrumentId, runId: seq < 2 ? 40 + seq : null },
      ...{
        runState: seq === 0 ? 'done' : seq === 1 ? 'queued' : null,
        message: seq === 1 ? 'It waits for hands.' : null,
      },
    })),
    ...change,
  })
  const begin = (items: Ring[]) => {
    api.begin({
      'GET /api/session': signedInAs('administrator'),
      'GET /api/instruments': { body: [] },
      'GET /api/rings': { body: { items, next: null, total: items.length, more: false } },
    })
    show(<RingsPage />)
  }

  test('what a ring came to: the furthest first, what may be chance in a quieter tone @long', async () => {
    const offset = (instrument: number, value: number) => ({
      ...{ instrument, luminance: { value, within: 0.002 } },
      ...{ u: { value: 0, within: 0.0002 }, v: { value: 0.0004, within: 0.0002 } },
    })
    begin([ring({ result: [{ panelKind: null, displays: 1, offsets: [offset(3, 0.006), offset(4, -0.001)] }] })])
    expect(await screen.findByText(/furthest from the rest: TC-3, \+0\.6 ± 0\.2 %/)).toBeTruthy()
    const row = within(screen.getByText('TC-4').closest('tr')!)
    expect(row.getByText(/−0\.1/).className).toContain('quiet')
    expect(row.getByText(/\+0\.0004/).className).not.toContain('quiet')
  })

  test('one that is under way says what it waits for, and no other can be started', async () => {
    begin([ring({ state: 'under way', endedAt: null })])
    expect(await screen.findByText('1 of 4 steps')).toBeTruthy()
    expect(screen.getByText('It waits for hands.')).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Start ring' })).toBeNull()
    await hands.press('Break ring off')
    await hands.press('Break it off')
    await waitFor(() => expect(api.sent).toMatchObject([{ path: '/api/rings/1/stop' }]))
  })

  test('one that was broken off says why', async () => {
    begin([ring({ state: 'broken off', says: 'Run 41 failed: the courier went away.' })])
    expect(await screen.findByText('Run 41 failed: the courier went away.')).toBeTruthy()
  })
})

test('a display names the sets in which it must look alike, and says nothing where it is in none', async () => {
  const items = ['The wall', 'Proofs'].map((name, i) => ({ id: i + 1, name }))
  api.begin({ 'GET /api/peer-sets?display=3&limit=3': { body: { items, next: null, total: 5, more: false } } })
  const { container, unmount } = show(<InSets displayId={3} />)
  expect((await screen.findByRole('link', { name: 'Proofs' })).getAttribute('href')).toBe('/peers/2')
  expect(container.textContent).toContain('must look alike in The wall, Proofs and 3 more')
  unmount()
  const none = show(<InSets displayId={4} />)
  await waitFor(() => expect(none.container.textContent).toBe(''))
})

test('words of directions, spans and lists', () => {
  expect(directionWords({ u: 0.001, v: -0.001, luminance: 0.01 })).toBe('redder, bluer and brighter')
  expect(directionWords({ u: -0.001, v: 0.0001, luminance: -0.01 })).toBe('greener and darker')
  expect(directionWords({ u: 0.0001, v: 0.0001, luminance: 0.001 })).toBe('alike')
  expect([listed([]), listed(['a']), listed(['a', 'b']), listed(['a', 'b', 'c'])]).toEqual([
    '',
    'a',
    'a and b',
    'a, b and c',
  ])
  expect(apartWords({ kind: 'steady' })).toBe('not within five years')
})
