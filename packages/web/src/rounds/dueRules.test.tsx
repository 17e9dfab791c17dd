/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import type { DueRules } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { now } from '../test/fixtures'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { DueRulesPage } from './DueRulesPage'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const changed = { changedAt: now, changedBy: 'Marit Oyen' }
const rules = {
  own: 1,
  rules: [
    { level: 'room', subject: '2', name: 'Dome', everyDays: 14, displays: 6, ...changed },
    { level: 'panel', subject: 'oled', name: 'OLED', everyDays: 21, displays: 3, ...changed },
    { level: 'studio', subject: '', name: '', everyDays: 42, displays: 20, ...changed },
  ],
  usual: [{ panel: 'white-led', days: 35, displays: 4, why: 'They drift slowly.' }],
  days: [
    { id: 3, name: 'Grading', date: '2026-12-04', ofName: 'Dome', displays: 6, lacking: 2, freshDays: 7 },
    { id: 4, name: 'Opening', date: '2026-12-20', ofName: 'the studio', displays: 34, lacking: 0, freshDays: 14 },
  ],
  resting: [
    { id: 8, name: 'Field 2', room: 'Field Store', kind: 'paused', until: '2027-01-10', by: 'Tobin Reyk', why: 'lent' },
  ],
} as unknown as DueRules
beforeEach(() =>
  api.begin({
    'GET /api/due-rules': { body: rules },
    'GET /api/session': signedInAs('administrator'),
    'GET /api/rooms': {
      body: [
        { id: 1, name: 'Plate Room' },
        { id: 2, name: 'Dome' },
      ],
    },
    'GET /api/aims': { body: [{ id: 4, name: 'Atlas web' }] },
    'GET /api/limits': { body: [{ id: 9, name: 'Plate work' }] },
  }),
)
afterEach(() => api.end())
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}

test('each rule says for what it is and how many displays go by it; what is usual stands below', async () => {
  show(<DueRulesPage />)
  const room = within((await screen.findByText('room Dome')).closest('tr')!)
  expect([room.getByText('14'), room.getByText('6')]).toHaveLength(2)
  expect(screen.getByText('the studio')).toBeTruthy()
  expect(screen.getByText(/1 display has days of its own\./)).toBeTruthy()
  expect(screen.getByText(/They drift slowly\./)).toBeTruthy()
})

test.each([
  ['room Dome', { level: 'room', of: 2, everyDays: null }],
  ['kind of panel OLED', { level: 'panel', panel: 'oled', everyDays: null }],
  ['the studio', { level: 'studio', everyDays: null }],
])('the rule of %s is taken away by what it is for', async (of, body) => {
  show(<DueRulesPage />)
  await screen.findAllByRole('button', { name: 'Remove rule' })
  await hands.pressInRow(of, 'Remove rule')
  expect(await sent()).toEqual({ method: 'PUT', path: '/api/due-rules', body })
})

test('a rule of a room needs the room before it can be saved @long', async () => {
  show(<DueRulesPage />)
  await screen.findByRole('button', { name: 'Add a rule' })
  await hands.press('Add a rule')
  expect((screen.getByRole('button', { name: 'Save rule' }) as HTMLButtonElement).disabled).toBe(true)
  await hands.choose('room', 'Plate Room')
  await hands.write('Days', '10')
  await hands.press('Save rule')
  expect(await sent()).toEqual({ method: 'PUT', path: '/api/due-rules', body: { level: 'room', everyDays: 10, of: 1 } })
  // What was saved closes the form.
  await waitFor(() => expect(screen.queryByRole('button', { name: 'Save rule' })).toBeNull())
})

test('one of a kind of panel is sent by the panel, and what was chosen of another kind is forgotten @long', async () => {
  show(<DueRulesPage />)
  await screen.findByRole('button', { name: 'Add a rule' })
  await hands.press('Add a rule')
  await hands.choose('room', 'Plate Room')
  await hands.take(null, 'kind of panel')
  expect((screen.getByRole('button', { name: 'Save rule' }) as HTMLButtonElement).disabled).toBe(true)
  await hands.choose('kind of panel', 'OLED')
  await hands.press('Save rule')
  expect((await sent()).body).toEqual({ level: 'panel', everyDays: 30, panel: 'oled' })
})

test('what the server refuses stands in the form, which stays open with what was written @long', async () => {
  api.answers['PUT /api/due-rules'] = refusal(400, '“Days” must be from 1 to 365.', 'everyDays')
  show(<DueRulesPage />)
  await screen.findByRole('button', { name: 'Add a rule' })
  await hands.press('Add a rule')
  await hands.choose('room', 'Plate Room')
  await hands.write('Days', '4000')
  await hands.press('Save rule')
  expect(await screen.findByText('“Days” must be from 1 to 365.')).toBeTruthy()
  expect((screen.getByLabelText('Days') as HTMLInputElement).value).toBe('4000')
})

test('a day that matters needs a name, a day and what it is for @long', async () => {
  show(<DueRulesPage />)
  await screen.findByRole('button', { name: 'Add a day' })
  await hands.press('Add a day')
  const save = () => screen.getByRole('button', { name: 'Add day' }) as HTMLButtonElement
  await hands.write('Name', '   ')
  await hands.write('Day', '2026-12-11')
  await hands.choose('room', 'Dome')
  expect(save().disabled).toBe(true)
  await hands.write('Name', 'Loop handed over')
  expect(save().disabled).toBe(false)
  await hands.write('Days before', '5')
  await hands.press('Add day')
  expect(await sent()).toEqual({
    method: 'POST',
    path: '/api/due-days',
    body: { name: 'Loop handed over', date: '2026-12-11', level: 'room', freshDays: 5, of: 2 },
  })
})

test('days say how many displays are still to be proven, and which are', async () => {
  show(<DueRulesPage />)
  const lacking = await screen.findByText(/2 of 6 to be proven in the 7 days before/)
  expect(lacking.className).toContain('asks')
  expect(screen.getByText(/all 34 are proven freshly enough/).className).toContain('quiet')
  const day = (await screen.findByText(/^Grading/)).closest('li')!
  expect(within(day).getByRole('button', { name: 'Remove day' })).toBeTruthy()
  expect(screen.getByText(/paused until 2027-01-10, said Tobin Reyk: lent/)).toBeTruthy()
})

test('whoever is no administrator sees the rules and changes none', async () => {
  api.answers['GET /api/session'] = signedInAs('technician')
  show(<DueRulesPage />)
  await screen.findByText('room Dome')
  expect(screen.queryByRole('button', { name: 'Add a rule' })).toBeNull()
  expect(screen.queryAllByRole('button', { name: /Remove/ })).toEqual([])
})
