/** @jest-environment ./tests/browserEnvironment.cjs */
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { namedLimits, type Limits } from '@bichroma/core/aims'
import type { StoredLimits } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { StubbedApi } from '../test/stubbedApi'
import { LimitsEditor } from './LimitsEditor'

const api = new StubbedApi()
beforeEach(() => api.begin({ 'POST /api/limits': { body: { id: 9 } } }))
afterEach(() => api.end())

const limits: Limits = { rules: [{ metric: 'averageDeltaE', near: 1, hard: 1.5 }] }
const stored: StoredLimits = { id: 3, name: 'Everyday', limits, updatedAt: 0 }

test('limits are sent as they were, without what stands for the usual @long', async () => {
  show(<LimitsEditor stored={stored} initial={limits} mayEdit />)
  await hands.press(/^Save limits/)
  await waitFor(() => expect(api.sent).toHaveLength(1))
  expect(api.sent[0]).toMatchObject({ method: 'PUT', path: '/api/limits/3' })
  expect(api.sent[0].body).toEqual({
    name: 'Everyday',
    limits: { formula: 'de2000', rules: [{ metric: 'averageDeltaE', near: 1, hard: 1.5 }] },
  })
})

test('what decides where doubt covers an edge is chosen in words, and kept @long', async () => {
  show(<LimitsEditor stored={stored} initial={limits} mayEdit />)
  expect(screen.getByText('it cannot be told')).toBeTruthy()
  await hands.choose('Where doubt about the instrument covers a hard edge', /^the figure decides as it was seen$/)
  await hands.press(/^Save limits/)
  await waitFor(() => expect(api.sent[0].body).toMatchObject({ limits: { decision: 'simple' } }))
})

test('edges in the wrong order are told at their field, and nothing is sent @long', async () => {
  show(<LimitsEditor stored={stored} initial={limits} mayEdit />)
  await hands.write('Near edge', '4')
  await hands.press(/^Save limits/)
  expect(
    await screen.findByText(/The near edge of “Average ΔE2000” must not be larger than its hard edge/),
  ).toBeTruthy()
  expect(api.sent).toEqual([])
})

test('new limits begin with a named set, its reasons and edges under other formulas included @long', async () => {
  show(<LimitsEditor stored={null} initial={limits} mayEdit />)
  await hands.choose('Begin with', /^Exacting: /)
  await hands.write('Name', 'Proofs')
  await hands.press(/^Add limits/)
  await waitFor(() => expect(api.sent).toHaveLength(1))
  const exacting = namedLimits.find((n) => n.name === 'Exacting')!
  expect(api.sent[0].body).toEqual({ name: 'Proofs', limits: exacting.limits })
})

test('a rule is added from what has none, and taken away @long', async () => {
  show(<LimitsEditor stored={stored} initial={limits} mayEdit />)
  await hands.press('Add rule')
  fireEvent.click(screen.getAllByRole('button', { name: 'Remove this rule' })[0])
  await hands.press(/^Save limits/)
  await waitFor(() =>
    expect(api.sent[0].body).toMatchObject({ limits: { rules: [{ metric: 'worstDeltaE', near: 2, hard: 3 }] } }),
  )
})

test('who may not change them reads them, with no button that would', () => {
  show(<LimitsEditor stored={stored} initial={limits} mayEdit={false} />)
  expect(screen.queryByRole('button', { name: /limits|rule$/ })).toBeNull()
  expect((screen.getByLabelText('Near edge') as HTMLInputElement).disabled).toBe(true)
})
