/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor } from '@testing-library/react'
import { studioSettingsSchema, type StudioSettings } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, StubbedApi } from '../test/stubbedApi'
import { NamesAndNights } from './NamesAndNights'

const settings = {
  studioName: 'Fen & Lantern',
  profile: { version: 4, kind: 'matrix', black: 'measured', readings: 'prove' },
  profileName: '{display} slot {slot} {date}',
  placing: 'keep',
  night: { from: '22:00', to: '05:30', idleMinutes: 30 },
} as StudioSettings

const api = new StubbedApi()
const onClose = jest.fn()
beforeEach(() => {
  onClose.mockClear()
  api.begin()
  showInApp(<NamesAndNights settings={settings} onClose={onClose} />)
})
afterEach(() => {
  cleanup()
  api.end()
})

test('what these settings are is what may be stored', () => {
  expect(studioSettingsSchema.isValidSync(settings)).toBe(true)
})

test('an example of a profile’s name follows what is written', async () => {
  expect(screen.getByText(/As in “Sedge 2 slot 1 2026-11-24”/)).toBeTruthy()
  await hands.write('Names of profiles', '')
  await hands.write('Names of profiles', '{{aim} at {{luminance}')
  expect(await screen.findByText(/As in “Atlas web at 120”/)).toBeTruthy()
})

test('what was changed is saved with all that was not, and it closes', async () => {
  await hands.take(null, 'takes the old one’s place')
  await hands.take(null, 'table')
  await hands.write('Night begins', '21:15')
  await hands.press('Save names and nights')
  await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1))
  expect(api.sent).toEqual([
    {
      method: 'PUT',
      path: '/api/settings',
      body: {
        ...settings,
        placing: 'overwrite',
        profile: { ...settings.profile, kind: 'table' },
        night: { from: '21:15', to: '05:30', idleMinutes: 30 },
      },
    },
  ])
})

test('what cannot be is told where it stands, and nothing is sent', async () => {
  await hands.write('Night ends', '25:00')
  await hands.write('Names of profiles', 'Always the same')
  await hands.press('Save names and nights')
  expect(await screen.findByText(/must be a time of day, as in 21:30/)).toBeTruthy()
  expect(screen.getByText(/must hold {display}, for two displays never share a profile/)).toBeTruthy()
  expect(api.sent).toEqual([])
  expect(onClose).not.toHaveBeenCalled()
})

test('what the server refuses stays open, with its sentence at the field; leaving sends nothing', async () => {
  api.answers['PUT /api/settings'] = refusal(409, 'Another profile has this name.', 'profileName')
  await hands.press('Save names and nights')
  expect(await screen.findByText('Another profile has this name.')).toBeTruthy()
  expect(onClose).not.toHaveBeenCalled()
  api.sent.length = 0
  await hands.press('Leave as it is')
  expect([onClose.mock.calls.length, api.sent.length]).toEqual([1, 0])
})
