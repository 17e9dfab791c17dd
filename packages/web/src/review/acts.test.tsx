/** @jest-environment ./tests/browserEnvironment.cjs */
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { DisplayDetail } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { day, display, now, run, slot } from '../test/fixtures'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { ImportReadings } from './ImportReadings'
import { RebuildProfile } from './RebuildProfile'
import { WithdrawValidation, Withdrawn } from './WithdrawValidation'

const lantern = {
  ...display({ id: 4, name: 'Lantern 3' }),
  slots: [slot({ number: 1, active: true }), slot({ number: 2, label: null })],
}
const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = (role: 'administrator' | 'technician' | 'viewer', change: object = {}) =>
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/settings': { body: { profile: { version: 4, kind: 'matrix', black: 'measured', readings: 'own' } } },
    'GET /api/aims': { body: [{ id: 9, name: 'Atlas web' }] },
    'GET /api/displays/4': { body: lantern as unknown as DisplayDetail },
    'GET /api/displays?limit=1': { body: { items: [lantern], next: null, total: 1, more: false } },
    ...change,
  })
afterEach(() => api.end())
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}
const disabled = (name: string) => (screen.getByRole('button', { name }) as HTMLButtonElement).disabled

describe('withdrawing a validation', () => {
  const validation = run({ id: 7, kind: 'check' })

  test('needs a reason, which is sent on one line @long', async () => {
    begin('administrator')
    show(<WithdrawValidation run={validation} />)
    await screen.findByText('Withdraw validation')
    await hands.press('Withdraw validation')
    const save = (await screen.findAllByRole('button', { name: 'Withdraw validation' })).at(-1) as HTMLButtonElement
    expect(save.disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('Why it shall not count'), {
      target: { value: 'Knocked,\n  and nobody saw' },
    })
    expect(save.disabled).toBe(false)
    await hands.pressThis(save)
    expect(await sent()).toEqual({
      ...{ method: 'POST', path: '/api/runs/7/withdraw' },
      body: { reason: 'Knocked, and nobody saw' },
    })
    expect(await screen.findByText('The validation was withdrawn.')).toBeTruthy()
  })

  test.each([
    ['technician', {}],
    ['administrator', { withdrawn: { by: 'Marit Oyen', at: now, reason: 'Knocked.' } }],
    ['administrator', { takenBack: { by: 'Marit Oyen', at: now } }],
    ['administrator', { kind: 'uniformity' }],
  ] as const)('is not offered to a %s for %j', async (role, change) => {
    begin(role)
    show(
      <>
        <WithdrawValidation run={run({ id: 7, kind: 'check', ...(change as object) })} />
        <RebuildProfile runId={7} has />
      </>,
    )
    // Once that stands there, the session is known.
    await screen.findByRole('button', { name: 'Make profile anew' })
    expect(screen.queryByText('Withdraw validation')).toBeNull()
  })

  test('one that was says by whom, when and why', () => {
    begin('viewer')
    show(<Withdrawn withdrawn={{ by: 'Marit Oyen', at: now - 400 * day, reason: 'Knocked.' }} />)
    expect(screen.getByText(/^Withdrawn by Marit Oyen on .*2025: Knocked\. It is kept/)).toBeTruthy()
  })
})

describe('a profile made anew', () => {
  test('is as the studio has it unless something else is taken, and never reads for itself @long', async () => {
    begin('technician', { 'POST /api/runs/7/profile': { body: { profileName: 'Lantern-3.icc' } } })
    show(<RebuildProfile runId={7} has={false} />)
    await screen.findByRole('button', { name: 'Make profile' })
    await hands.press('Make profile')
    await hands.take('Kind of profile', 'table')
    await hands.take('Version of the profile', 'version 2')
    await hands.pressThis(screen.getAllByRole('button', { name: 'Make profile' }).at(-1)!)
    expect(await sent()).toEqual({
      ...{ method: 'POST', path: '/api/runs/7/profile' },
      body: { profile: { version: 2, kind: 'table', black: 'measured', readings: 'prove' } },
    })
    expect(await screen.findByText(/^Lantern-3\.icc was made/)).toBeTruthy()
  })

  test('that is refused says why and leaves the form open @long', async () => {
    begin('technician', {
      'POST /api/runs/7/profile': refusal(409, 'Slot 1 has been written since this run.', ''),
    })
    show(<RebuildProfile runId={7} has />)
    await screen.findByRole('button', { name: 'Make profile anew' })
    await hands.press('Make profile anew')
    await hands.press('Make profile')
    expect(await screen.findByText(/Slot 1 has been written since/)).toBeTruthy()
    expect(screen.getByText('Make a profile from this run’s readings')).toBeTruthy()
  })

  test('is nothing for who only looks', async () => {
    begin('viewer')
    show(<RebuildProfile runId={7} has />)
    await waitFor(() => expect(screen.queryByRole('button')).toBeNull())
  })
})

describe('readings measured elsewhere', () => {
  const file = (text: string, name = 'walk.csv') => Object.assign(new File([text], name), { text: async () => text })
  const open = async () => {
    show(<ImportReadings />)
    await screen.findByRole('button', { name: 'Import readings' })
    await hands.press('Import readings')
    await screen.findByText('Import readings measured elsewhere')
  }

  test('wait for a file; then go to the display, its slot in use and the slot’s own aim @long', async () => {
    begin('technician', { 'POST /api/displays/4/validations': { body: { id: 55 } } })
    await open()
    await screen.findByText(/Left empty, it is the slot’s own/)
    const save = () => screen.getAllByRole('button', { name: 'Import readings' }).at(-1) as HTMLButtonElement
    expect(save().disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('File of readings'), { target: { files: [file('R,G,B,X,Y,Z')] } })
    expect(await screen.findByText('walk.csv')).toBeTruthy()
    await hands.write('Measured with', 'Borrowed puck')
    await hands.pressThis(save())
    const { path, body } = await sent()
    expect(path).toBe('/api/displays/4/validations')
    expect(body).toMatchObject({ slot: 1, instrument: 'Borrowed puck', fileName: 'walk.csv', text: 'R,G,B,X,Y,Z' })
    expect(body).not.toHaveProperty('aimId')
    expect(Math.abs((body as { readAt: number }).readAt - Date.now())).toBeLessThan(10 * 60_000)
  })

  test('without an instrument are not sent: the field says what is missing @long', async () => {
    begin('technician')
    await open()
    fireEvent.change(screen.getByLabelText('File of readings'), { target: { files: [file('R,G,B,X,Y,Z')] } })
    await screen.findByText('walk.csv')
    await screen.findByText(/Left empty, it is the slot’s own/)
    await hands.pressThis(screen.getAllByRole('button', { name: 'Import readings' }).at(-1)!)
    expect(await screen.findByText(/instrument.* is missing/i)).toBeTruthy()
    expect(api.sent).toEqual([])
  })

  test('that the server cannot read are told at the file, and the form stays @long', async () => {
    begin('technician', {
      'POST /api/displays/4/validations': refusal(400, 'Line 2 holds four figures where six belong.', 'text'),
    })
    await open()
    fireEvent.change(screen.getByLabelText('File of readings'), { target: { files: [file('R,G,B,X')] } })
    await screen.findByText('walk.csv')
    await screen.findByText(/Left empty, it is the slot’s own/)
    await hands.write('Measured with', 'Borrowed puck')
    await hands.pressThis(screen.getAllByRole('button', { name: 'Import readings' }).at(-1)!)
    expect(await screen.findByText(/Line 2 holds four figures/)).toBeTruthy()
    expect(disabled('Not now')).toBe(false)
  })

  test('are nothing for who only looks', async () => {
    begin('viewer')
    show(<ImportReadings />)
    await waitFor(() => expect(screen.queryByRole('button')).toBeNull())
  })
})
