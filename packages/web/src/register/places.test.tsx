/** @jest-environment ./tests/browserEnvironment.cjs */
import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { DisplayDetail, FoundDisplay, InventoryPlan } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { StubbedApi } from '../test/stubbedApi'
import { DisplayPlace } from './DisplayPlace'
import { FoundPlane } from './FoundPlane'
import { InventoryPage } from './InventoryPage'
import { ChangeMany } from './ModelsPage'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const { sent } = api
const session = { 'GET /api/session': { body: { account: { id: 1, role: 'administrator' }, first: false } } }
beforeEach(() => api.begin({ ...session, 'GET /api/limits': { body: [] } }))
afterEach(() => api.end())

const display = {
  id: 4,
  name: 'Plate 4',
  kept: 'in use',
  keptSince: null,
  keptWhy: null,
  room: { id: 1, name: 'Plate Room' },
  workstation: { id: 2, name: 'plate-02' },
} as unknown as DisplayDetail

test('a display is stored with its reason @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  show(<DisplayPlace display={display} />)
  await user.click(screen.getByRole('button', { name: 'Store or retire' }))
  await user.type(await screen.findByLabelText('Why'), 'Closed until spring.')
  await user.click(screen.getByRole('button', { name: 'Store it' }))
  await waitFor(() =>
    expect(sent).toEqual([
      { method: 'POST', path: '/api/displays/4/keep', body: { kept: 'stored', why: 'Closed until spring.' } },
    ]),
  )
})

test('one that was put away is taken back where it stood, unless another desk is chosen @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  show(<DisplayPlace display={{ ...display, kept: 'stored', keptSince: 0, keptWhy: 'Closed.' }} />)
  expect(screen.getByText(/Stored since .*stood at plate-02\. Closed\./)).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'Take back into use' }))
  await user.click(await screen.findByRole('button', { name: 'Take it back' }))
  await waitFor(() => expect(sent[0].body).toEqual({ kept: 'in use', workstationId: 2 }))
})

test('what is wrong with the new display stands at its field, and nothing is sent @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  show(<DisplayPlace display={display} />)
  await user.click(screen.getByRole('button', { name: 'Replace' }))
  await user.click(await screen.findByRole('button', { name: 'Replace it' }))
  expect(await screen.findByText(/“Serial number” is missing/)).toBeTruthy()
  expect(sent).toEqual([])
})

const found: FoundDisplay = {
  ...{ maker: 'Quillon', model: 'Q27', serial: 'QL-1', firmware: '3', slots: 3, panelKind: 'oled' },
  ...{ workstationId: 7, workstation: 'dome-01', room: 'Dome', moved: null, like: null, insteadOf: null },
}

test('what a courier sees is offered as what it most likely is @long', async () => {
  api.answers = {
    ...session,
    'GET /api/found': {
      body: [
        { ...found, insteadOf: { displayId: 9, name: 'Dome 1' } },
        {
          ...found,
          serial: 'QL-2',
          moved: { displayId: 2, name: 'Two', from: 'a', kept: 'in use', swappedWith: { displayId: 3, name: 'Three' } },
        },
        {
          ...found,
          serial: 'QL-4',
          moved: { displayId: 5, name: 'Five', from: 'a', kept: 'stored', swappedWith: null },
        },
      ],
    },
  }
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  show(<FoundPlane onAdded={() => {}} />)
  expect(await screen.findByRole('button', { name: 'It replaced Dome 1' })).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'They were swapped' }))
  await user.click(await screen.findByRole('button', { name: 'They have' }))
  await waitFor(() =>
    expect(sent[0]).toEqual({ method: 'POST', path: '/api/displays/swap', body: { first: 2, second: 3 } }),
  )
  await user.click(screen.getByRole('button', { name: 'It is back here' }))
  await user.click(await screen.findByRole('button', { name: 'Move it there' }))
  await waitFor(() => expect(sent[1].body).toEqual({ kept: 'in use', workstationId: 7 }))
})

describe('an inventory', () => {
  const plan: InventoryPlan = {
    lines: [
      {
        line: 2,
        name: 'A',
        serial: 'S1',
        kind: 'change',
        changes: [{ field: 'limits', from: 'Loose', to: 'Tight' }],
        faults: [],
      },
      { line: 3, name: 'B', serial: 'S2', kind: 'same', changes: [], faults: [] },
    ],
    ...{
      counts: { new: 0, change: 1, same: 1, fault: 0 },
      newRooms: ['Loft'],
      newWorkstations: [],
      digest: 'd'.repeat(64),
    },
  }
  const choose = async (told: InventoryPlan) => {
    api.answers = {
      ...session,
      'POST /api/inventory/plan': { body: told },
      'POST /api/inventory': { status: 201, body: { written: 1 } },
    }
    show(<InventoryPage />)
    const file = new File(['serial,limits\nS1,Tight\n'], 'list.csv')
    // jsdom's files do not read themselves.
    file.text = async () => 'serial,limits\nS1,Tight\n'
    fireEvent.change(await screen.findByLabelText('Inventory file'), { target: { files: [file] } })
  }

  test('is shown line by line before it is taken in, by the digest of what was shown', async () => {
    const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
    await choose(plan)
    expect(await screen.findByText(/limits:/)).toBeTruthy()
    expect(screen.getByText(/new rooms: Loft/)).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Take one line in' }))
    await waitFor(() =>
      expect(sent.at(-1)).toEqual({
        method: 'POST',
        path: '/api/inventory',
        body: { text: 'serial,limits\nS1,Tight\n', digest: plan.digest },
      }),
    )
  })

  test('with a line that cannot be taken nothing is taken', async () => {
    const fault = {
      ...plan.lines[1],
      kind: 'fault' as const,
      faults: [{ field: 'panel', sentence: 'There is no such panel.' }],
    }
    await choose({ ...plan, lines: [plan.lines[0], fault], counts: { ...plan.counts, same: 0, fault: 1 } })
    expect(await screen.findByText(/There is no such panel/)).toBeTruthy()
    expect((screen.getByRole('button', { name: 'Take one line in' }) as HTMLButtonElement).disabled).toBe(true)
  })
})

test('many at once: what is left empty is not sent @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  show(<ChangeMany title="Two displays" which={{ ids: [1, 2] }} onClose={() => {}} />)
  await user.type(await screen.findByLabelText('Days between checks'), '14')
  await user.click(screen.getByRole('button', { name: 'Change them' }))
  await waitFor(() => expect(sent[0].body).toEqual({ ids: [1, 2], checkEveryDays: 14 }))
})
