/** @jest-environment ./tests/browserEnvironment.cjs */
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { matchStart, settleMatch } from '@bichroma/core/peers'
import type { PeerMatch, PeerSetDetail } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { ByEyePage } from './ByEyePage'
import { aimNameFor } from './words'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
afterEach(() => api.end())

const repeats = [
  { side: 0, u: 0.001, v: 0 },
  { side: 1, u: 0.002, v: 0 },
]
const match: PeerMatch = {
  ...{ id: 3, displayId: 2, besideId: 1, name: 'Sedge 2', besideName: 'Sedge 1', at: 1, by: 'Tobin', repeats },
  ...{ settled: settleMatch(repeats), offset: { u: 0.0031, v: -0.0002 }, state: 'in force' },
  aim: { id: 8, name: 'The wall, Sedge 2 by eye' },
}
const set = {
  ...{ id: 4, name: 'The wall', reference: 1, aim: { id: 5, name: 'The wall, common ground' }, matches: [] },
  members: [1, 2].map((displayId) => ({ displayId, slot: 1, name: `Sedge ${displayId}`, kept: 'in use' })),
} as unknown as PeerSetDetail

const open = (change: Partial<PeerSetDetail> = {}, role: 'technician' | 'viewer' | 'administrator' = 'technician') => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/peer-sets/4': { body: { ...set, ...change } },
    'POST /api/peer-sets/4/match': { body: {} },
    'POST /api/peer-sets/4/matches': { status: 201, body: { id: 9 } },
    'DELETE /api/peer-matches/3': { body: {} },
  })
  return show(
    <Routes>
      <Route path="/peers/:id/eye" element={<ByEyePage />} />
      <Route path="/peers/:id" element={<p>Its page</p>} />
    </Routes>,
    '/peers/4/eye',
  )
}
const shown = () => api.sent.filter((s) => s.path.endsWith('/match')).map((s) => s.body as { u: number; v: number })
const alike = async () => {
  const before = shown().length
  await hands.press('They look alike')
  await waitFor(() => expect(shown().length).toBeGreaterThanOrEqual(before))
}

test('three repetitions, each begun from another side, are kept with what was moved in each @long', async () => {
  open()
  await screen.findByRole('button', { name: 'Begin' })
  await hands.press('Begin')
  await hands.press('Show both whites')
  await screen.findByRole('button', { name: 'Redder' })
  expect(shown()).toEqual([{ displayId: 2, besideId: 1, ...matchStart(0) }])
  // Nothing tells how far it is: the eye is asked.
  expect(document.body.textContent).not.toMatch(/0\.00\d\d/)
  await hands.press('Redder')
  await waitFor(() => expect(shown()).toHaveLength(2))
  expect(shown()[1].u - matchStart(0).u).toBeCloseTo(0.002, 5)
  fireEvent.keyDown(window.document.body, { key: 'ArrowDown' })
  await waitFor(() => expect(shown()).toHaveLength(3))
  expect(shown()[2].v - shown()[1].v).toBeCloseTo(-0.002, 5)
  for (let side = 0; side < 3; side++) {
    await screen.findByText(`repetition ${side + 1} of 3`)
    await screen.findByRole('button', { name: 'They look alike' })
    await alike()
  }
  await screen.findByRole('button', { name: 'Keep this match' })
  expect(screen.getByRole('img', { name: /Repetitions in u′v′/ })).toBeTruthy()
  await hands.press('Keep this match')
  await screen.findByText('Its page')
  const kept = api.sent.find((s) => s.path.endsWith('/matches'))!.body as { repeats: { side: number; u: number }[] }
  expect(kept.repeats.map((r) => r.side)).toEqual([0, 1, 2])
  expect(kept.repeats[0]).toMatchObject({ u: shown()[2].u, v: shown()[2].v })
  expect(kept.repeats[1]).toMatchObject(matchStart(1))
})

test('a white that the display does not have leaves the last one where it was @long', async () => {
  open()
  await screen.findByRole('button', { name: 'Begin' })
  await hands.press('Begin')
  await hands.press('Show both whites')
  await screen.findByRole('button', { name: 'Redder' })
  api.answers['POST /api/peer-sets/4/match'] = refusal(409, 'Sedge 2 has no white further this way.', 'u')
  await hands.press('Redder')
  expect(await screen.findByText('Sedge 2 has no white further this way.')).toBeTruthy()
  api.answers['POST /api/peer-sets/4/match'] = { body: {} }
  await hands.press('Bluer')
  await waitFor(() => expect(shown()).toHaveLength(3))
  expect(shown()[2].u).toBeCloseTo(matchStart(0).u, 5)
})

test('matches are told with whom and when; an administrator takes one back, a viewer only looks @long', async () => {
  const { unmount } = open({ matches: [match] }, 'administrator')
  expect(await screen.findByText('Sedge 2 beside Sedge 1')).toBeTruthy()
  expect(document.body.textContent).toMatch(/u′ \+0\.0031, v′ −0\.0002, scatter 0\.0005 of 2/)
  await screen.findByRole('button', { name: 'Take back' })
  await hands.press('Take back')
  await hands.press('Take it back')
  await waitFor(() => expect(api.sent).toMatchObject([{ method: 'DELETE', path: '/api/peer-matches/3' }]))
  unmount()
  api.end()
  open({ matches: [match] }, 'viewer')
  expect(await screen.findByText('Technicians and administrators match members by eye.')).toBeTruthy()
  expect(screen.queryByRole('button', { name: 'Take back' })).toBeNull()
})

test('a member that was matched is as it should be with its own aim, the others with the set’s', () => {
  const matched = { ...set, matches: [match] }
  expect(aimNameFor(matched, 2)).toBe('The wall, Sedge 2 by eye')
  expect(aimNameFor(matched, 1)).toBe('The wall, common ground')
  expect(aimNameFor({ ...set, matches: [{ ...match, state: 'ended' }] }, 2)).toBe('The wall, common ground')
})
