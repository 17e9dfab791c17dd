/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import { policyBook, usualRules } from '@bichroma/core/rollout'
import type { PolicyListing } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { day, now } from '../test/fixtures'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { PoliciesPage } from './PoliciesPage'
import { answerWords, rulesInWords } from './words'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const changed = { changedAt: now - day, changedBy: 'Marit Oyen' }
const studio: PolicyListing = {
  level: 'studio',
  of: 0,
  name: 'the studio',
  rules: { whenOther: 'put back once' },
  ...changed,
}
const dome: PolicyListing = { level: 'room', of: 2, name: 'Dome', rules: { whenSwitched: 'switch back' }, ...changed }

const begin = (
  policies: PolicyListing[] = [studio, dome],
  role: 'administrator' | 'viewer' = 'administrator',
  change = {},
) =>
  api.begin({
    'GET /api/policies': { body: policies },
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': {
      body: [
        { id: 1, name: 'Plate Room' },
        { id: 2, name: 'Dome' },
      ],
    },
    'GET /api/aims': { body: [{ id: 7, name: 'Atlas web' }] },
    ...change,
  })
afterEach(() => api.end())
const planeOf = async (title: string) =>
  (await screen.findByRole('heading', { name: title })).closest<HTMLElement>('section, .plane')!
/** The answer that stands beside a question. */
const answerIn = (plane: HTMLElement, asks: string) => within(plane).getByText(asks).nextElementSibling!
const other = rulesInWords.whenOther.asks
const switched = rulesInWords.whenSwitched.asks

test('the studio answers every question, what it says nothing of as usual; a room only those that it was given', async () => {
  begin()
  show(<PoliciesPage />)
  const whole = await planeOf('The studio')
  for (const { asks } of Object.values(rulesInWords)) expect(within(whole).getByText(asks)).toBeTruthy()
  expect(answerIn(whole, other).textContent).toBe(answerWords('whenOther', 'put back once'))
  expect(answerIn(whole, switched).textContent).toBe(answerWords('whenSwitched', usualRules.whenSwitched))
  // What nobody decided is quieter than what somebody did.
  expect([answerIn(whole, other).className, answerIn(whole, switched).className]).toEqual(['', 'quiet'])
  const room = await planeOf('Room Dome')
  expect(answerIn(room, switched).textContent).toBe('switch it back')
  expect(within(room).queryByText(other)).toBeNull()
})

test('a studio that nobody decided anything for is told as it begins', async () => {
  begin([])
  show(<PoliciesPage />)
  const whole = await planeOf('The studio')
  expect(within(whole).getByText('as Bichroma begins with')).toBeTruthy()
  expect(within(whole).getAllByText((_, e) => e?.tagName === 'DD' && e.className === 'quiet')).toHaveLength(
    Object.keys(usualRules).length,
  )
})

test('an answer of the studio is changed, and those that it has stay @long', async () => {
  begin()
  show(<PoliciesPage />)
  await hands.pressThis(await within(await planeOf('The studio')).findByRole('button', { name: 'Change rules' }))
  await hands.choose(switched, 'tell')
  await hands.press('Save policy')
  await waitFor(() => expect(api.sent).toHaveLength(1))
  expect(api.sent[0]).toEqual({
    method: 'PUT',
    path: '/api/policies',
    body: { level: 'studio', rules: { whenOther: 'put back once', whenSwitched: 'tell' } },
  })
  await waitFor(() => expect(screen.queryByText('Rules of the studio')).toBeNull())
})

test('an answer is taken back: further out decides again @long', async () => {
  begin()
  show(<PoliciesPage />)
  await hands.pressThis(await within(await planeOf('Room Dome')).findByRole('button', { name: 'Change rules' }))
  await hands.choose(switched, 'as further out')
  await hands.press('Save policy')
  await waitFor(() => expect(api.sent).toHaveLength(1))
  expect(api.sent[0].body).toEqual({ level: 'room', of: 2, rules: {} })
  // Then its displays go by the studio, and by what is usual.
  const held = policyBook([studio, { ...dome, rules: {} }])({ display: 9, room: 2, aim: null })
  expect(held.rules).toEqual({ ...usualRules, ...studio.rules })
})

test('a policy of a room that has one begins with what it says; another kind of thing forgets what was chosen @long', async () => {
  begin()
  show(<PoliciesPage />)
  await hands.pressThis(await screen.findByRole('button', { name: 'Add policy' }))
  const next = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Choose its rules' })
  expect(next().disabled).toBe(true)
  await hands.choose('Room', 'Plate Room')
  expect(next().disabled).toBe(false)
  await hands.take(null, 'an aim')
  expect(next().disabled).toBe(true)
  await hands.take(null, 'a room')
  await hands.choose('Room', 'Dome')
  await hands.press('Choose its rules')
  expect(await screen.findByText('Rules of room Dome')).toBeTruthy()
  await hands.press('Save policy')
  await waitFor(() => expect(api.sent).toHaveLength(1))
  expect(api.sent[0].body).toEqual({ level: 'room', of: 2, rules: dome.rules })
})

test('what the server refuses leaves the form open as it was filled in @long', async () => {
  begin([studio], 'administrator', { 'PUT /api/policies': refusal(409, 'There is no aim 7 any more.', 'of') })
  show(<PoliciesPage />)
  await hands.pressThis(await screen.findByRole('button', { name: 'Add policy' }))
  await hands.take(null, 'an aim')
  await hands.choose('Aim', 'Atlas web')
  await hands.press('Choose its rules')
  await hands.choose(switched, 'switch it back')
  await hands.press('Save policy')
  expect(await screen.findByText('There is no aim 7 any more.')).toBeTruthy()
  expect(screen.getByText('Rules of aim Atlas web')).toBeTruthy()
  expect(
    screen.getByText('switch it back', {
      selector: '.ant-select-content *, .ant-select-content, .ant-select-selection-item',
    }),
  ).toBeTruthy()
})

test('whoever is no administrator reads them and changes none', async () => {
  begin([studio, dome], 'viewer')
  show(<PoliciesPage />)
  await planeOf('Room Dome')
  for (const name of ['Change rules', 'Add policy', 'Names and nights…'])
    expect(screen.queryByRole('button', { name })).toBeNull()
})
