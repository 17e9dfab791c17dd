/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { certificateDays } from '@bichroma/core/register'
import type { Instrument, Workstation } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { day } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { RegisterPage } from './RegisterPage'

const instrument = (id: number, change: Partial<Instrument> = {}): Instrument => ({
  id,
  maker: 'Tessel',
  model: `C${id}`,
  serial: `TC-${id}`,
  kind: 'colorimeter',
  certifiedAt: null,
  workstationId: null,
  workstation: null,
  room: null,
  runId: null,
  kept: 'in use',
  keptSince: null,
  keptWhy: null,
  ...change,
})
const workstation = (id: number, change: Partial<Workstation> = {}): Workstation => ({
  id,
  name: `reed-${id}`,
  roomId: 1,
  operatingSystem: 'linux',
  systemVersion: '13',
  courierOnline: false,
  courierSeenAt: null,
  ...change,
})
const listed = (items: unknown[], total = items.length, next: string | null = null) => ({
  body: { items, next, total, more: false },
})

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = (answers: Parameters<typeof api.begin>[0] = {}, role: 'administrator' | 'viewer' = 'administrator') => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': { body: [{ id: 1, name: 'Sedge Room' }] },
    'GET /api/found': { body: [] },
    'GET /api/instruments': { body: [] },
    'GET /api/models': { body: [] },
    'GET /api/pulse': { body: { couriersOnline: 2, couriers: 3, running: [] } },
    ...answers,
  })
  window.history.replaceState(null, '', '/register')
  return showInApp(<RegisterPage />, '/register')
}
beforeAll(() => layOut(44))
afterEach(() => {
  cleanup()
  api.end()
})

const planeOf = async (title: string) => (await screen.findByRole('heading', { name: title })).closest('section')!

describe('instruments', () => {
  test('say where they are, whether a run holds them, and since when they are kept elsewhere @long', async () => {
    const now = Date.now()
    begin({
      'GET /api/instruments': {
        body: [
          instrument(1, { workstationId: 3, workstation: 'sedge-02', runId: 8, certifiedAt: now - 30 * day }),
          instrument(2, { certifiedAt: now - (certificateDays + 1) * day }),
          instrument(3, { kept: 'retired', keptSince: Date.UTC(2026, 4, 2, 12) }),
        ],
      },
    })
    const plane = await planeOf('Instruments')
    const [held, idle, away] = (await within(plane).findAllByRole('row')).map((row) => row)
    expect(held.textContent).toContain('on sedge-02 · in a run')
    expect(idle.textContent).toContain('not plugged in')
    expect(away.textContent).toContain('retired since 2 May')
    // What was certified too long ago asks for somebody.
    expect(within(held).getByText(/^certified/).className).toBe('quiet')
    expect(within(idle).getByText(/^certified/).className).toBe('asks')
    expect(within(away).queryByText(/^certified/)).toBeNull()
  })

  test('that nobody has reported yet are told where they will appear', async () => {
    begin()
    expect(await screen.findByText('An instrument appears here when a courier first reports it.')).toBeTruthy()
  })
})

describe('workstations', () => {
  test('say their room and system, and when their courier was there @long', async () => {
    begin({
      'GET /api/workstations?limit=40': listed([
        workstation(1, { courierOnline: true }),
        workstation(2, {
          courierSeenAt: Date.UTC(2026, 10, 3, 9, 30),
          operatingSystem: 'windows',
          systemVersion: '11',
        }),
        workstation(3),
      ]),
    })
    const plane = await planeOf('Workstations')
    const [online, seen, never] = await within(plane).findAllByRole('row')
    expect(online.textContent).toContain('Sedge Room')
    expect(online.textContent).toContain('courier online')
    expect(seen.textContent).toMatch(/Windows 11/)
    expect(seen.textContent).toContain('last seen')
    expect(never.textContent).toContain('never seen')
    expect(plane.textContent).toContain('2 of 3 couriers online')
    // So few need no search.
    expect(screen.queryByLabelText('Find a workstation')).toBeNull()
  })

  test('of many the first are shown, more by a press, and one is found by name @long', async () => {
    const many = (from: number) => Array.from({ length: 40 }, (_, i) => workstation(from + i))
    begin({
      'GET /api/workstations?limit=40': listed(many(1), 1200, 'forty'),
      'GET /api/workstations?limit=40&cursor=forty': listed(many(41), 1200, 'eighty'),
      'GET /api/workstations?search=reed-777&limit=40': listed([workstation(777)], 1),
    })
    await hands.pressThis(await screen.findByRole('button', { name: 'Show more of 1,200' }))
    expect(await screen.findByText('reed-80')).toBeTruthy()
    expect(screen.getAllByText(/^reed-/)).toHaveLength(80)
    const field = screen.getByLabelText('Find a workstation')
    fireEvent.change(field, { target: { value: 'reed-777' } })
    fireEvent.blur(field)
    expect(await screen.findByText('reed-777')).toBeTruthy()
    await waitFor(() => expect(screen.getAllByText(/^reed-/)).toHaveLength(1))
    // The field stays, although one would need none.
    expect(screen.getByLabelText('Find a workstation')).toBeTruthy()
  })
})

describe('who may change it', () => {
  const names = ['Add room', 'Add workstation', 'Add display']
  const some = {
    'GET /api/instruments': { body: [instrument(1)] },
    'GET /api/workstations?limit=40': listed([workstation(1)]),
  }

  test('an administrator adds places, and opens instruments and workstations @long', async () => {
    begin(some)
    for (const name of names) expect(await screen.findByRole('button', { name })).toBeTruthy()
    await hands.press('Add room')
    expect(await screen.findByRole('dialog')).toBeTruthy()
    expect(await screen.findByRole('button', { name: 'C1' })).toBeTruthy()
    expect(await screen.findByRole('button', { name: 'reed-1' })).toBeTruthy()
    // Nothing was sent by looking.
    expect(api.sent).toEqual([])
  })

  test('a viewer reads the same and finds nothing to press @long', async () => {
    begin(some, 'viewer')
    expect(await screen.findByText('C1')).toBeTruthy()
    expect(await screen.findByText('reed-1')).toBeTruthy()
    await api.settled()
    for (const name of [...names, 'C1', 'reed-1']) expect(screen.queryByRole('button', { name })).toBeNull()
  })
})
