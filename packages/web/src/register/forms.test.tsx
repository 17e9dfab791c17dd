/** @jest-environment ./tests/browserEnvironment.cjs */
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { DisplayDetail, FoundDisplay, Instrument, Workstation } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { display } from '../test/fixtures'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { AddDisplay } from './AddDisplay'
import { DisplayRest } from './DisplayRest'
import { EditWorkstation } from './EditWorkstation'
import { KeepInstrument } from './KeepInstrument'
import { MakeCorrection } from './MakeCorrection'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const lantern = { ...display({ id: 4, name: 'Lantern 3' }), workstationId: 7, rests: null } as unknown as DisplayDetail
const puck = {
  id: 1,
  kind: 'colorimeter',
  model: 'Tessel C3',
  serial: 'TC-0417',
  workstationId: 7,
  kept: 'in use',
  keptWhy: null,
}
const heron = { ...puck, id: 2, kind: 'spectroradiometer', model: 'Heron S1', serial: 'HS-0031' }
const begin = (change: object = {}) =>
  api.begin({
    'GET /api/session': signedInAs('administrator'),
    'GET /api/limits': { body: [{ id: 3, name: 'Plate work' }] },
    'GET /api/rooms': {
      body: [
        { id: 1, name: 'Plate Room' },
        { id: 2, name: 'Dome' },
      ],
    },
    'GET /api/instruments': { body: [puck, heron] },
    'GET /api/displays/4': { body: lantern },
    'GET /api/displays?limit=50': { body: { items: [lantern], next: null, total: 1, more: false } },
    ...change,
  })
beforeEach(() => begin())
afterEach(() => api.end())
const sent = async (count = 1) => {
  await waitFor(() => expect(api.sent).toHaveLength(count))
  return api.sent[count - 1]
}

describe('a display that a courier found', () => {
  const found: FoundDisplay = {
    ...{ maker: 'Wren', model: 'F7', serial: 'WR-F7-1', firmware: '1.2', slots: 3, panelKind: 'white-led' },
    ...{ workstationId: 7, workstation: 'field-01', room: 'Field Store', moved: null, insteadOf: null },
    like: { limitsId: 3, checkEveryDays: 60 },
  } as FoundDisplay

  test('is filled in by what it reports and by others of its model; only its name is asked @long', async () => {
    const added: string[] = []
    let closed = 0
    show(<AddDisplay found={found} onClose={() => closed++} onAdded={(name) => added.push(name)} />)
    await screen.findByText('Plate work')
    expect(screen.queryByText('Read an EDID file')).toBeNull()
    await hands.press('Add display')
    expect(await screen.findByText(/Name.* is missing/)).toBeTruthy()
    expect(api.sent).toEqual([])
    await hands.write('Name in the studio', 'Field 6')
    await hands.press('Add display')
    expect(await sent()).toMatchObject({
      ...{ method: 'POST', path: '/api/displays' },
      body: { name: 'Field 6', serial: 'WR-F7-1', workstationId: 7, limitsId: 3, checkEveryDays: 60, slots: 3 },
    })
    await waitFor(() => expect([added, closed]).toEqual([['Field 6'], 1]))
  })

  test('that is there already is told at its serial number, and the form stays @long', async () => {
    begin({ 'POST /api/displays': refusal(409, 'Field 2 has this serial number.', 'serial') })
    let closed = 0
    show(<AddDisplay found={found} onClose={() => closed++} onAdded={() => {}} />)
    await screen.findByText('Plate work')
    await hands.write('Name in the studio', 'Field 6')
    await hands.press('Add display')
    expect(await screen.findByText('Field 2 has this serial number.')).toBeTruthy()
    expect(closed).toBe(0)
  })

  test.each([
    ['larger than any', new Uint8Array(40_000), /larger than an EDID/],
    ['no EDID', new Uint8Array(128), /EDID/],
  ])('a file that is %s is said to be none, and nothing is filled in @long', async (_, bytes, words) => {
    show(<AddDisplay onClose={() => {}} onAdded={() => {}} />)
    const file = Object.assign(new File([bytes], 'display.bin'), { arrayBuffer: async () => bytes.buffer })
    fireEvent.change(await screen.findByLabelText('EDID file'), { target: { files: [file] } })
    expect((await screen.findByText(/^display\.bin: /)).textContent).toMatch(words)
    expect((screen.getByLabelText('Serial number') as HTMLInputElement).value).toBe('')
  })
})

describe('a workstation', () => {
  const plate = { id: 7, name: 'plate-02', roomId: 1, operatingSystem: 'linux', systemVersion: '12' } as Workstation

  test('moves to another room under its name @long', async () => {
    let closed = 0
    show(<EditWorkstation workstation={plate} onClose={() => closed++} />)
    await hands.choose('Room', 'Dome')
    await hands.press('Save')
    expect(await sent()).toEqual({
      ...{ method: 'PUT', path: '/api/workstations/7' },
      body: { name: 'plate-02', roomId: 2, operatingSystem: 'linux', systemVersion: '12' },
    })
    await waitFor(() => expect(closed).toBe(1))
  })

  test('gets a new key only once that is said again, and the key is told once @long', async () => {
    begin({ 'POST /api/workstations/7/courier-key': { body: { key: 'wk-new-key' } } })
    show(<EditWorkstation workstation={plate} onClose={() => {}} />)
    await hands.press('New courier key')
    await hands.press('Leave it')
    expect(api.sent).toEqual([])
    await hands.press('New courier key')
    await hands.press('Make the key')
    expect((await sent()).path).toBe('/api/workstations/7/courier-key')
    expect(await screen.findByText(/wk-new-key/)).toBeTruthy()
  })

  test('gets a new link to its desk, shown whole @long', async () => {
    begin({ 'POST /api/workstations/7/desk-link': { body: { token: 'abc' } } })
    show(<EditWorkstation workstation={plate} onClose={() => {}} />)
    await hands.press('New desk link')
    await hands.press('Make the link')
    expect(await screen.findByText(/\/desk\/abc$/)).toBeTruthy()
  })

  test('is retired @long', async () => {
    show(<EditWorkstation workstation={plate} onClose={() => {}} />)
    await hands.press('Retire workstation')
    await hands.press('Retire it')
    expect(await sent()).toEqual({ method: 'DELETE', path: '/api/workstations/7', body: null })
  })
})

describe('an instrument', () => {
  test.each([
    ['at its maker’s', { kept: 'stored', why: 'at its maker’s' }],
    ['', { kept: 'stored' }],
  ])('is put away, with a reason if there is one: “%s” @long', async (why, body) => {
    show(<KeepInstrument instrument={puck as unknown as Instrument} onClose={() => {}} />)
    await hands.take(null, 'stored')
    await hands.write('Why', why)
    await hands.press('Save')
    expect(await sent()).toEqual({ method: 'PUT', path: '/api/instruments/1', body })
  })
})

describe('a correction', () => {
  const open = async (instruments: object[], change: object = {}) => {
    begin({ 'GET /api/instruments': { body: instruments }, ...change })
    show(<MakeCorrection onClose={() => {}} />)
    await hands.choose('Display', /Lantern 3/)
  }
  const make = () => screen.getByRole('button', { name: 'Make correction' }) as HTMLButtonElement

  test('says what to plug in where the display is, until both are there @long', async () => {
    await open([puck, { ...heron, workstationId: 9 }])
    expect(await screen.findByText('Plug a spectroradiometer in where Lantern 3 is.')).toBeTruthy()
    expect(make().disabled).toBe(true)
  })

  test('says what is corrected to what, and how much it leaves @long', async () => {
    await open([puck, heron], { 'POST /api/corrections': { body: { residual: 0.0034 } } })
    expect(await screen.findByText(/Tessel C3 TC-0417 is corrected to Heron S1 HS-0031/)).toBeTruthy()
    await hands.pressThis(make())
    expect((await sent()).body).toEqual({ displayId: 4, instrumentId: 1, referenceId: 2 })
    expect(await screen.findByText(/leaves 0\.0034 Δu′v′.*more than usual/)).toBeTruthy()
  })

  test('that was refused says why @long', async () => {
    await open([puck, heron], { 'POST /api/corrections': refusal(409, 'Lantern 3 is in a run.', '') })
    await screen.findByText(/is corrected to/)
    await hands.pressThis(make())
    expect((await screen.findByRole('alert')).textContent).toContain('Lantern 3 is in a run.')
  })
})

describe('a display that rests', () => {
  test('does so for a reason, until a day or until somebody says so @long', async () => {
    show(<DisplayRest display={lantern} />)
    const rest = screen.getByRole('button', { name: 'Let it rest' }) as HTMLButtonElement
    expect(rest.disabled).toBe(true)
    await hands.write('Why it rests', 'lent to the coast')
    await hands.pressThis(rest)
    expect((await sent()).body).toEqual({ kind: 'paused', why: 'lent to the coast', until: null })
    fireEvent.change(screen.getByLabelText('Until'), { target: { value: '2027-02-01' } })
    await hands.pressThis(rest)
    expect((await sent(2)).body).toMatchObject({ until: '2027-02-01' })
  })

  test('is looked at again', async () => {
    show(<DisplayRest display={{ ...lantern, rests: { kind: 'paused', until: '2027-02-01', why: 'lent' } } as never} />)
    expect(screen.getByText('paused until 2027-02-01: lent')).toBeTruthy()
    await hands.press('Look at it again')
    expect(await sent()).toEqual({ method: 'PUT', path: '/api/displays/4/rest', body: { kind: null } })
  })
})
