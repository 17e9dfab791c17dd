/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, within } from '@testing-library/react'
import type { Aim } from '@bichroma/core/aims'
import type { Role, StoredAim, StoredLimits } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { AimsPage } from './AimsPage'

const aimOf = (kelvin: number, luminance: number): Aim => ({
  white: { kind: 'temperature', kelvin },
  luminance,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'panel' },
})
const stored = <T,>(id: number, name: string, more: T) => ({ id, name, updatedAt: 5, createdAt: 5, slots: 0, ...more })
const aims = [
  stored(1, 'Plates', { aim: aimOf(5000, 140) }),
  stored(2, 'Loops', { aim: aimOf(6500, 80) }),
] as unknown as StoredAim[]
const limits = [
  stored(3, 'Plate work', {
    limits: {
      rules: [
        { metric: 'averageDeltaE', near: 1, hard: 2 },
        { metric: 'contrast', near: 900, hard: 700 },
      ],
    },
  }),
] as unknown as StoredLimits[]

const api = new StubbedApi()
const begin = (at: string, { role = 'administrator' as Role, of = aims } = {}) => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/aims': { body: of },
    'GET /api/limits': { body: limits },
    'GET /api/rooms': { body: [] },
  })
  return showAt('/aims/:kind?/:id?', <AimsPage />, at)
}
afterEach(() => {
  cleanup()
  api.end()
})
const choices = async () => within(await screen.findByRole('list')).getAllByRole('button')
const chosen = async () => (await choices()).map((c) => c.getAttribute('aria-current'))

test('the first aim is open until another is chosen, and the address keeps which @long', async () => {
  begin('/aims')
  expect((await choices()).map((c) => c.querySelector('b')!.textContent)).toEqual(['Plates', 'Loops'])
  expect((await choices())[0].textContent).toMatch(/5,000 K.*140 cd\/m²/)
  expect(await chosen()).toEqual(['true', 'false'])
  await hands.pressThis((await choices())[1])
  expect(await chosen()).toEqual(['false', 'true'])
  expect((await screen.findByLabelText<HTMLInputElement>('Name')).value).toBe('Loops')
})

test('one that is not there opens the first, and does not break @long', async () => {
  begin('/aims/aims/4711')
  expect(await chosen()).toEqual(['true', 'false'])
})

test('limits tell each rule in words, with what is at least and at most @long', async () => {
  begin('/aims')
  await choices()
  await hands.take('What is listed', 'Limits')
  const [first] = await choices()
  expect([...first.querySelectorAll('small')].map((s) => s.textContent)).toEqual([
    'Average ΔE2000 ≤ 1.00, at most 2.00',
    'Contrast ≥ 900 to 1, at least 700 to 1',
  ])
  expect(screen.getByText(/^How far a figure may be off/)).toBeTruthy()
})

test('a new aim begins with what is usual, and belongs to no stored one @long', async () => {
  begin('/aims')
  await choices()
  await hands.press('Add aim')
  expect(await chosen()).toEqual(['false', 'false'])
  expect((await screen.findByLabelText<HTMLInputElement>('Name')).value).toBe('')
  expect(api.sent).toEqual([])
})

test('without any it says so; a viewer reads and adds none', async () => {
  begin('/aims', { role: 'viewer', of: [] })
  expect(await screen.findByText('Nothing here yet. Add the first.')).toBeTruthy()
  await api.settled()
  expect(screen.queryByRole('button', { name: 'Add aim' })).toBeNull()
})
