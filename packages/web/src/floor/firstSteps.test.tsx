/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen } from '@testing-library/react'
import type { Role } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { FirstSteps } from './FirstSteps'

const order = [
  'Add a room',
  'Add a workstation',
  'Start its courier',
  'Set limits',
  'Set an aim',
  'Add the first display',
]
const all = { rooms: 1, couriers: 1, couriersOnline: 1, limits: 1, aims: 1 }

const api = new StubbedApi([])
const begin = async (there: Partial<typeof all>, role: Role = 'administrator') => {
  const { rooms, couriers, couriersOnline, limits, aims } = { ...all, ...there }
  const some = (n: number) => ({ body: Array.from({ length: n }, (_, id) => ({ id })) })
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': some(rooms),
    'GET /api/limits': some(limits),
    'GET /api/aims': some(aims),
    'GET /api/pulse': { body: { couriers, couriersOnline } },
  })
  showInApp(<FirstSteps />)
  await api.settled()
}
afterEach(() => {
  cleanup()
  api.end()
})
const steps = () => screen.getAllByRole('listitem')
const subtitle = () => screen.getByRole('heading', { level: 1 }).nextElementSibling!.textContent

test.each([
  [{ rooms: 0, couriers: 0, couriersOnline: 0, limits: 0, aims: 0 }, 0, '/register'],
  [{ couriers: 0, couriersOnline: 0 }, 1, '/register'],
  [{ couriersOnline: 0 }, 2, '/register'],
  [{ limits: 0 }, 3, '/aims/limits'],
  [{ aims: 0 }, 4, '/aims'],
  [{}, 5, '/register'],
])('with %o the next step is number %i, and leads there', async (there, next, to) => {
  await begin(there)
  expect(steps().map((s) => s.querySelector('b')!.textContent)).toEqual(order)
  expect(steps().findIndex((s) => s.className === 'now')).toBe(next)
  const link = screen.getByRole('link')
  expect([link.textContent, link.getAttribute('href')]).toEqual([order[next], to])
  expect(subtitle()).toBe(`Six steps to the first one; next: ${order[next].toLowerCase()}`)
})

test('what is there already is ticked, whatever its place', async () => {
  await begin({ couriers: 0, couriersOnline: 0, aims: 0 })
  expect(steps().map((s) => s.className)).toEqual(['done', 'now', '', 'done', '', ''])
  expect(screen.getByText('2 of 6 done')).toBeTruthy()
})

test('who is no administrator is told who does it, and is offered nothing', async () => {
  await begin({}, 'viewer')
  expect(subtitle()).toBe('An administrator adds rooms, workstations and displays')
  expect(screen.queryByRole('link')).toBeNull()
})
