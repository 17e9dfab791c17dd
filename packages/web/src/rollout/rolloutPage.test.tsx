/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { ruleNames, usualRules } from '@bichroma/core/rollout'
import type { DisplayRollout, FoundProfile, Role, RolloutRow, RolloutSummary, WantedProfile } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { day, now, placement, rolloutRow } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { RolloutPage } from './RolloutPage'

const hash = 'b'.repeat(64)
const wanted = (change: Partial<WantedProfile> = {}): WantedProfile => ({
  kind: 'profile',
  slot: 1,
  runId: 7,
  profileHash: hash,
  description: 'Atlas web, slot 1, 19 Nov 2026',
  filedAt: now - 5 * day,
  since: now - 5 * day,
  origin: 'usual',
  ...change,
})
const found = (change: Partial<FoundProfile> = {}): FoundProfile => ({
  path: '/usr/share/color/icc/Sedge-1-slot-1.icc',
  hash,
  scope: 'machine',
  waitsFor: null,
  by: null,
  ours: true,
  since: now - day,
  readAt: now,
  told: 'courier',
  ...change,
})
const other = found({ path: 'C:\\profiles\\vendor default.icm', hash: 'c'.repeat(64), ours: false, by: 'Panel Helper' })
const rows: RolloutRow[] = [
  rolloutRow({ wanted: wanted(), found: found() }),
  rolloutRow({
    displayId: 2,
    displayName: 'Sedge 2',
    workstationName: 'sedge-02',
    wanted: wanted(),
    found: other,
    placement: placement({
      id: 5,
      displayId: 2,
      state: 'overridden',
      message: 'Panel Helper put its own in its place.',
    }),
    differs: true,
    mend: 'decision',
    courierOnline: false,
  }),
  rolloutRow({ displayId: 3, displayName: 'Sedge 3', wanted: wanted({ kind: 'no profile' }), placement: null }),
  rolloutRow({ displayId: 4, displayName: 'Sedge 4', wanted: wanted({ kind: 'none' }), found: found({ path: null }) }),
]
const summary = (change: Partial<RolloutSummary> = {}): RolloutSummary => ({
  displays: 12,
  asWanted: 9,
  mends: { decision: 1, courier: 1 },
  noProfile: 1,
  waves: [],
  ...change,
})
const detail = (row: RolloutRow, change: Partial<DisplayRollout> = {}): DisplayRollout => ({
  row,
  policy: {
    rules: usualRules,
    origins: Object.fromEntries(ruleNames.map((name) => [name, 'usual'])),
  } as DisplayRollout['policy'],
  placements: [],
  wanted: [],
  found: [],
  programs: [],
  programsRead: 0,
  curves: null,
  links: [],
  ...change,
})

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = ({
  role = 'administrator' as Role,
  of = summary(),
  items = rows,
  more = {} as typeof api.answers,
} = {}) => {
  const listed = { body: { items, next: null, total: items.length, more: false } }
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': { body: [] },
    'GET /api/rollout/summary': { body: of },
    'GET /api/rollout': listed,
    'GET /api/rollout?limit=100': listed,
    ...Object.fromEntries(rows.map((row) => [`GET /api/displays/${row.displayId}/rollout`, { body: detail(row) }])),
    ...more,
  })
  window.history.replaceState(null, '', '/rollout')
  return showInApp(<RolloutPage />, '/rollout')
}
beforeAll(() => layOut(41))
afterEach(() => {
  cleanup()
  api.end()
})
const rowOf = async (name: string) => (await screen.findByText(name, { selector: 'td b' })).closest('tr')!

describe('the answer', () => {
  test.each([
    [summary({ asWanted: 12, mends: {}, noProfile: 0 }), 'Yes: all 12 displays have in force what is wanted.'],
    [
      summary({ asWanted: 10, mends: {}, noProfile: 2 }),
      'Yes, as far as there are profiles: 10 of 12 displays have in force what is wanted. 2 have no profile for the slot on show.',
    ],
    [
      summary(),
      'Not yet: 2 of 12 displays differ from what is wanted. One waits for a decision. One has no profile for the slot on show.',
    ],
    [
      summary({
        asWanted: 11,
        mends: { decision: 0 },
        noProfile: 0,
        waves: [{ id: 1, name: 'x', state: 'under way' }],
      }),
      'Not yet: one of 12 displays differs from what is wanted. One wave is under way.',
    ],
    [summary({ displays: 0, asWanted: 0, noProfile: 0, mends: {} }), 'No display is in the register yet.'],
  ])('to the question at the top, %# @long', async (of, words) => {
    begin({ of })
    expect(await screen.findByText(words, { selector: '.top p' })).toBeTruthy()
  })
})

test('each row says what is wanted, what was found and how that stands', async () => {
  begin()
  expect((await rowOf('Sedge 1')).textContent).toMatch(/Atlas web, slot 1.*as wanted.*in force/)
  const overridden = await rowOf('Sedge 2')
  expect(overridden.textContent).toMatch(/courier away/)
  expect(overridden.textContent).toMatch(/vendor default\.icm.*by Panel Helper, since/)
  expect(overridden.textContent).toMatch(/overridden.*waits for your decision/)
  expect(within(overridden).getByText('overridden').className).toBe('asks')
  expect((await rowOf('Sedge 3')).textContent).toMatch(/slot 1, which has none yet.*never read back.*none placed/)
  expect((await rowOf('Sedge 4')).textContent).toMatch(/none of ours.*nothing bound/)
})

test('what mends it is counted, and filters when it is pressed @long', async () => {
  begin()
  const plane = (await screen.findByRole('heading', { name: 'What mends it' })).closest('section')!
  const lines = () => within(plane).getAllByRole('button')
  expect(lines().map((b) => b.textContent)).toEqual([
    'all displays12',
    'your decision1',
    'the courier’s return1',
    'a run1',
    'nothing: in force9',
  ])
  expect(lines().map((b) => b.getAttribute('aria-pressed'))).toEqual(['true', 'false', 'false', 'false', 'false'])
  await hands.pressThis(lines()[1])
  await waitFor(() => expect(api.asked.some((path) => /\/rollout\?.*mend=decision/.test(path))).toBe(true))
  expect(lines()[1].getAttribute('aria-pressed')).toBe('true')
  await hands.pressThis(lines()[4])
  await waitFor(() => expect(api.asked.some((path) => /standing=in(\+|%20)force/.test(path))).toBe(true))
  // One at a time.
  expect(api.asked.some((path) => /mend=.*standing=|standing=.*mend=/.test(path))).toBe(false)
})

test('displays are marked by their boxes and by the space key, for a wave @long', async () => {
  begin()
  expect(await screen.findByRole('button', { name: 'Prepare a wave' })).toBeTruthy()
  await rowOf('Sedge 2')
  await hands.tick('Mark Sedge 2')
  expect(screen.getByRole('button', { name: 'Prepare a wave for one display' })).toBeTruthy()
  fireEvent.keyDown(await rowOf('Sedge 1'), { key: ' ' })
  await waitFor(() => expect(screen.getByRole('button', { name: 'Prepare a wave for 2 displays' })).toBeTruthy())
  await hands.tick('Mark Sedge 2')
  expect(screen.getByRole('button', { name: 'Prepare a wave for one display' })).toBeTruthy()
  expect(api.sent).toEqual([])
})

test.each([
  ['technician', ['Read back by hand…'], ['Prepare a wave']],
  ['viewer', [], ['Prepare a wave', 'Read back by hand…']],
] as const)('a %s finds what they may do @long', async (role, may, mayNot) => {
  begin({ role })
  await rowOf('Sedge 1')
  await api.settled()
  for (const name of may) expect(screen.getByRole('button', { name })).toBeTruthy()
  for (const name of mayNot) expect(screen.queryByRole('button', { name })).toBeNull()
  expect(screen.queryByLabelText('Mark Sedge 1')).toBeNull()
})

describe('one display', () => {
  const open = async (name: string) => {
    await hands.pressThis(await rowOf(name))
    return (await screen.findByRole('link', { name })).closest('section')!
  }

  test('what was put in its place is told, and ours is placed again by a press @long', async () => {
    const refused = refusal(409, 'The courier of sedge-02 is away.', 'runId')
    begin({ more: { 'POST /api/placements': refused } })
    const plane = await open('Sedge 2')
    expect(plane.textContent).toContain('vendor default.icm another’s, put there by Panel Helper')
    expect(plane.textContent).toContain('Panel Helper put its own in its place.')
    await hands.pressThis(within(plane).getByRole('button', { name: 'Place it again' }))
    await waitFor(() => expect(api.sent).toEqual([{ method: 'POST', path: '/api/placements', body: { runId: 7 } }]))
    expect(await screen.findByText('The courier of sedge-02 is away.')).toBeTruthy()
    await hands.pressThis(within(plane).getByRole('button', { name: 'Read back now' }))
    await waitFor(() => expect(api.sent.at(-1)!.path).toBe('/api/placements/5/verify'))
  })

  test('that is as wanted has nothing to place @long', async () => {
    begin()
    const plane = await open('Sedge 1')
    await api.settled()
    expect(within(plane).queryByRole('button', { name: /^Place/ })).toBeNull()
    expect(within(plane).getByRole('button', { name: 'Read back now' })).toBeTruthy()
  })

  test('a program that looks past the profile is told, and where its switch is @long', async () => {
    const programs = [
      {
        program: 'Reedview',
        kind: 'browser' as const,
        switch: 'management' as const,
        found: 'off',
        wanted: 'on',
        settable: true,
        where: 'Settings, Display',
      },
    ]
    const body = detail(rows[0], { programs: programs as never, programsRead: 2, curves: 'lost' as never })
    begin({ more: { 'GET /api/displays/1/rollout': { body } } })
    const plane = await open('Sedge 1')
    expect(plane.textContent).toContain('Everything right but the browser:')
    expect(plane.textContent).toContain('Reedview: colour management off, should be on. Settings, Display')
    expect(plane.textContent).toContain('The video card has lost the curves of the slot.')
  })

  test('which is reached from another workstation says so, and can be taken off it @long', async () => {
    const links = [{ workstationId: 8, workstationName: 'loft-08', state: 'missing' as const, courierOnline: true }]
    begin({ more: { 'GET /api/displays/1/rollout': { body: detail(rows[0], { links }) } } })
    const plane = await open('Sedge 1')
    expect(within(plane).getByText('Also reached from 1 more')).toBeTruthy()
    await hands.pressThis(within(plane).getByRole('button', { name: 'Remove loft-08' }))
    await waitFor(() => expect(api.sent).toEqual([{ method: 'DELETE', path: '/api/displays/1/links/8', body: null }]))
  })

  test('each rule of its policy stands there as a question with its answer @long', async () => {
    begin()
    const plane = await open('Sedge 1')
    const policy = within(plane).getByText('Which policy holds').closest('details')!
    expect(policy.querySelectorAll('dt')).toHaveLength(ruleNames.length)
    expect(policy.textContent).toContain('When something else is foundtell the usual policy')
  })
})
