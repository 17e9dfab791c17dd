/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor } from '@testing-library/react'
import type { InstrumentOffsetTold, Ring } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { Anew } from '../review/WithdrawValidation'
import { hands } from '../test/formHands'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { offsetSentence, othersWords } from './Offsets'
import { RingsPage } from './RingsPage'

const at = Date.UTC(2026, 10, 24, 10)
const day = 86_400_000
const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
afterEach(() => api.end())

const offset = (change: Partial<InstrumentOffsetTold> = {}): InstrumentOffsetTold => ({
  ...{ id: 6, instrumentId: 2, instrument: 'Tarn TC-0288', source: 'checks', ringId: null, since: at - 260 * day },
  ...{ luminance: 0.006, within: 0.002, u: 0, v: 0, withinUv: 0, at, by: 'Marit Oyen', state: 'weighed' },
  ...{ runs: 62, judged: 0, others: 14, takenAt: null, takenBy: null, endedAt: null, endedBy: null, renewedAt: null },
  ...change,
})
const offsetOf = (instrument: number, luminance: number) => ({
  ...{ instrument, luminance: { value: luminance, within: 0.002 } },
  ...{ u: { value: 0.0002, within: 0.0001 }, v: { value: 0, within: 0.0001 } },
})
const ring: Ring = {
  ...{ id: 3, referenceId: 1, wanted: 0.002, uncertainty: 0.002, startedAt: at - 30 * day, endedAt: at - 30 * day },
  ...{ by: 'Marit Oyen', state: 'done', says: null, displays: 2, stepCount: 8, steps: [] },
  result: [
    { panelKind: null, displays: 2, offsets: [offsetOf(1, 0), offsetOf(2, 0.006)] },
    { panelKind: 'oled', displays: 1, offsets: [offsetOf(1, 0), offsetOf(2, 0.005)] },
  ],
  instruments: [
    { id: 1, name: 'Tarn TC-0417' },
    { id: 2, name: 'Tarn TC-0288' },
  ],
}
const open = (offsets: InstrumentOffsetTold[], role: 'administrator' | 'viewer' = 'administrator') => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/instruments': { body: [] },
    'GET /api/instrument-offsets': { body: offsets },
    'GET /api/rings': { body: { items: [ring], next: null, total: 1, more: false } },
    'POST /api/instrument-offsets': { status: 201, body: { id: 6 } },
    'POST /api/instrument-offsets/6/take': { body: {} },
    'POST /api/instrument-offsets/6/end': { body: {} },
  })
  return show(<RingsPage />)
}

test('what is weighed says how many verdicts would be others, and is taken into account by whoever may @long', async () => {
  const { unmount } = open([offset()])
  expect(await screen.findByText(/Tarn TC-0288 has read 0\.6 % ± 0\.2 bright since about/)).toBeTruthy()
  expect(screen.getByText(/14 verdicts of 62 validations would be others/)).toBeTruthy()
  await screen.findByRole('button', { name: 'Take into account' })
  await hands.press('Take into account')
  const [, sure] = screen.getAllByRole('button', { name: 'Take into account' })
  await hands.pressThis(sure)
  await waitFor(() => expect(api.sent).toMatchObject([{ path: '/api/instrument-offsets/6/take' }]))
  unmount()
  api.end()
  open([offset()], 'viewer')
  expect(await screen.findByText(/14 verdicts/)).toBeTruthy()
  expect(screen.queryByRole('button', { name: 'Take into account' })).toBeNull()
  expect(screen.queryByRole('button', { name: /Weigh/ })).toBeNull()
})

test('a ring’s offset is weighed from a day on, for each instrument but the one it was held against @long', async () => {
  open([])
  await screen.findByRole('button', { name: 'Weigh the offset of Tarn TC-0288' })
  expect(screen.queryByRole('button', { name: 'Weigh the offset of Tarn TC-0417' })).toBeNull()
  await hands.press('Weigh the offset of Tarn TC-0288')
  await hands.press('Weigh it')
  await waitFor(() => expect(api.sent).toHaveLength(1))
  expect(api.sent[0]).toMatchObject({
    path: '/api/instrument-offsets',
    body: { instrumentId: 2, source: 'ring', ringId: 3 },
  })
  const { since } = api.sent[0].body as { since: number }
  expect(since).toBeLessThanOrEqual(ring.startedAt)
  expect(ring.startedAt - since).toBeLessThan(day)
})

test('one that is taken says by whom, how far it has come, and what it does not touch', async () => {
  const taken = { takenAt: at, takenBy: 'Marit Oyen' }
  open([
    offset({ ...taken, state: 'taking', judged: 20 }),
    offset({ ...taken, id: 7, state: 'taken', renewedAt: at + day }),
    offset({ ...taken, id: 8, state: 'ended', endedAt: at + 2 * day, endedBy: 'Tobin', runs: 0, others: 0 }),
  ])
  expect(await screen.findByText(/20 of 62/)).toBeTruthy()
  expect(screen.getByText(/not for what it has read since its certificate of 25 Nov/)).toBeTruthy()
  expect(screen.getByText(/put away by Tobin on 26 Nov/)).toBeTruthy()
  expect(screen.getAllByRole('button', { name: 'Put away' })).toHaveLength(2)
})

test('sentences of offsets', () => {
  expect(offsetSentence(offset({ luminance: -0.012, source: 'ring', u: 0.0003, v: -0.0001 }))).toMatch(
    /^Tarn TC-0288 has read 1\.2\s% ± 0\.2 dark, u′ \+0\.0003, v′ −0\.0001 since \d/,
  )
  expect(othersWords(offset({ others: 1, runs: 1 }))).toBe('1 verdict of 1 validation would be another')
  expect(othersWords(offset({ others: 0 }))).toBe('no verdict of 62 validations would be others')
  expect(othersWords(offset({ state: 'taken' }))).toBe('14 verdicts of 62 validations are others than as read')
})

test('a validation that was judged anew says so, with what it was as it was read', () => {
  const anew = { offsetId: 6, luminance: 0.006, since: at - 9 * day, by: 'Marit Oyen', at, averageDeltaE: 1.234 }
  show(<Anew anew={{ ...anew, verdict: 'outside' }} instrument="Tarn TC-0288" />)
  expect(document.body.textContent).toMatch(
    /Judged anew: Tarn TC-0288 has read \+0\.6 % since 15 Nov, which Marit Oyen took into account on 24 Nov\. As it was read: .*outside.*1\.23 ΔE/,
  )
})
