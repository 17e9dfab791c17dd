/** @jest-environment ./tests/browserEnvironment.cjs */
import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { LightWeeks, Room, RoomWatch } from '@bichroma/contract'
import { queryClient } from '../../api/queries'
import { LayBack, LightNotice } from '../../parts/LightNotice'
import { showInApp as show } from '../../parts/showInApp'
import { curveOf } from './curveOf'
import { LevelPlane } from './LevelPlane'
import { RoomForm } from './RoomForm'
import { WatchPlane } from './WatchPlane'
import { WeekStrips } from './WeekStrips'

const minute = 60_000
const hour = 60 * minute

const watch: RoomWatch = {
  instrumentId: 5,
  instrument: 'Colorimeter C3 TC-0119',
  since: 0,
  by: 'Marit Oyen',
  state: 'reading',
  stateSince: 0,
  says: null,
  readAt: 0,
  standing: 'within',
  out: null,
}
const room: Room = {
  id: 4,
  name: 'Diorama Shop',
  building: null,
  light: { lux: { from: 250, to: 460 } },
  newestLight: null,
  allowMinutes: 15,
  holdsRuns: 'needed',
  level: null,
  watch: null,
  proposal: null,
}

const sent: { method: string; path: string; body: unknown }[] = []
let rooms: Room[]
let role: string
beforeEach(() => {
  sent.length = 0
  rooms = [room]
  role = 'administrator'
  globalThis.fetch = (async (path: string, init: RequestInit) => {
    if (init.method !== 'GET')
      sent.push({ method: init.method!, path, body: init.body ? JSON.parse(String(init.body)) : null })
    const answers: Record<string, unknown> = {
      '/api/session': { account: { id: 1, role }, first: false },
      '/api/rooms': rooms,
      '/api/instruments': [
        {
          id: 5,
          model: 'Colorimeter C3',
          serial: 'TC-0119',
          kept: 'in use',
          workstationId: 9,
          workstation: 'diorama-03',
        },
        { id: 6, model: 'Colorimeter C3', serial: 'TC-0288', kept: 'in use', workstationId: null, workstation: null },
      ],
    }
    const body = answers[path] ?? { items: [{ id: 9, name: 'diorama-03' }], next: null, total: 1, more: false }
    return { ok: true, status: 200, json: async () => body }
  }) as never
})
afterEach(() => queryClient.clear())

describe('the curve of a day', () => {
  const reading = (at: number, illuminanceLux = 300) => ({ at, illuminanceLux, kelvin: 4000 })
  test('has a gap where nothing was read for longer than a watch is silent, and none where nobody watches', () => {
    const readings = [reading(0), reading(5 * minute), reading(60 * minute)]
    expect(curveOf({ readings, hours: [] }, 20 * minute).map((p) => p.lux)).toEqual([300, 300, null, 300])
    expect(curveOf({ readings, hours: [] }, Infinity).map((p) => p.lux)).toEqual([300, 300, 300])
  })
  test('is of the hours, in their middle, where only those are kept', () => {
    const one = (at: number) => ({ at, readings: 12, lux: 310, least: 300, most: 320, kelvin: null, outside: 0 })
    const points = curveOf({ readings: [], hours: [one(0), one(hour), one(5 * hour)] }, minute)
    expect(points.map((p) => [p.at, p.lux])).toEqual([
      [hour / 2, 310],
      [1.5 * hour, 310],
      [1.5 * hour + 1, null],
      [5.5 * hour, 310],
    ])
  })
})

test('an instrument that is here is offered first, and left with one press @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  show(<WatchPlane room={room} />)
  await user.click(await screen.findByRole('button', { name: 'Leave it here' }))
  await waitFor(() => expect(sent).toEqual([{ method: 'POST', path: '/api/rooms/4/watch', body: { instrumentId: 5 } }]))
})

test.each([
  ['in a run', null, /A run has Colorimeter C3 TC-0119 since .*lay it back, its diffuser in front/],
  ['elsewhere', 'field-03', /is at field-03 since .*Bring it back to Diorama Shop/],
  ['away', null, /not plugged in since .*Plug it into a workstation in Diorama Shop/],
  ['refused', 'Turn the diffuser in front.', /does not read since .*: Turn the diffuser in front\./],
] as const)('a watch that is %s says what to do', async (state, says, words) => {
  show(<WatchPlane room={{ ...room, watch: { ...watch, state, says } }} />)
  expect(await screen.findByText(words)).toBeTruthy()
})

test('somebody who only looks cannot end a watch', async () => {
  role = 'viewer'
  show(<WatchPlane room={{ ...room, watch }} />)
  await screen.findByText(/TC-0119/)
  expect(screen.queryByRole('button')).toBeNull()
})

test('a room form sends what was typed, and leaves out what was left empty @long', async () => {
  show(<RoomForm room={room} />)
  const field = await screen.findByLabelText('Agreed, lx')
  await waitFor(() => expect(field).toHaveProperty('disabled', false))
  fireEvent.change(field, { target: { value: '430' } })
  fireEvent.click(screen.getByText('all runs'))
  fireEvent.click(screen.getByText('Save room'))
  await waitFor(() =>
    expect(sent).toEqual([
      {
        method: 'PUT',
        path: '/api/rooms/4',
        body: {
          name: 'Diorama Shop',
          building: null,
          light: { lux: { from: 250, to: 460 } },
          allowMinutes: 15,
          holdsRuns: 'all',
          level: { lux: 430, allowed: null },
        },
      },
    ]),
  )
})

const weeks: LightWeeks = {
  weeks: 13,
  zone: 'UTC',
  cells: Array.from({ length: 7 }, () => Array.from({ length: 24 }, () => null)),
  months: [],
  level: { lux: 430, from: 390, to: 470, days: 11, hours: 99 },
  change: 'propose',
  followers: [{ displayId: 20, display: 'Diorama 1', slot: 1, label: 'Diorama hall', luminance: 138, wanted: 116 }],
}

test('another level is told with what it comes to; agreeing on it says which proposal was meant', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  const proposal = { id: 3, madeAt: 0, fromLux: 510, toLux: 430, quartiles: { from: 390, to: 470 }, days: 11 }
  show(<LevelPlane room={{ ...room, level: { lux: 510, since: 0 }, proposal }} weeks={weeks} />)
  // ρE/π for 430 lx.
  expect(await screen.findByText(/430 lx instead of 510 lx: paper there has 116 cd\/m²/)).toBeTruthy()
  expect(screen.getByText('should be 116')).toBeTruthy()
  await user.click(await screen.findByRole('button', { name: 'Agree on 430 lx' }))
  await waitFor(() =>
    expect(sent).toEqual([
      { method: 'PUT', path: '/api/rooms/4/light/level', body: { proposalId: 3, decision: 'accept' } },
    ]),
  )
})

test('each hour of the week is told in words too, and hatched only from a quarter out', () => {
  const cell = { readings: 12, lux: 300, least: 280, most: 500, outside: 0.2 }
  const cells = weeks.cells.map((row, d) =>
    row.map((_, h) => (d === 0 && h === 9 ? cell : d === 1 && h === 9 ? { ...cell, outside: 0.25 } : null)),
  )
  const { container } = show(<WeekStrips weeks={{ ...weeks, cells }} range={room.light!.lux} onWeeks={() => {}} />)
  expect(screen.getAllByText(/300 lx on average, 280 to 500; 20 % out of what was wanted/)).toHaveLength(1)
  expect(container.querySelectorAll('.mean')).toHaveLength(2)
  expect(container.querySelectorAll('.mean.out')).toHaveLength(1)
})

test('whoever is about to work is told while the light is out, and whoever ends a run to lay the instrument back', async () => {
  rooms = [
    {
      ...room,
      watch: {
        ...watch,
        state: 'refused',
        standing: 'out too long',
        out: { since: 0, problem: '481 lx, wanted 250 to 460 lx' },
      },
    },
  ]
  show(
    <>
      <LightNotice roomId={4} />
      <LayBack instrument="Colorimeter C3 TC-0119" />
      <LayBack instrument="Colorimeter C3 TC-0288" />
    </>,
  )
  expect(await screen.findByText(/out of what is wanted since .*481 lx/)).toBeTruthy()
  expect(screen.getAllByText(/its diffuser in front: it watches/)).toHaveLength(1)
})
