/** @jest-environment ./tests/browserEnvironment.cjs */
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { MemoryRouter } from 'react-router'
import type { Listed } from '../api/lists'
import { layOut } from '../test/layOut'
import { countWords, LongTable } from './LongTable'

interface Row {
  id: number
}

beforeAll(() => layOut(40))
afterEach(cleanup)

const listed = (n: number, change: Partial<Listed<Row>> = {}): Listed<Row> => ({
  items: Array.from({ length: n }, (_, i) => ({ id: i + 1 })),
  total: n,
  more: false,
  error: null,
  empty: false,
  stale: false,
  hasNext: false,
  fetchNext: jest.fn(),
  refetch: jest.fn(),
  ...change,
})
const onOpen = jest.fn()
const onSort = jest.fn()
beforeEach(() => jest.clearAllMocks())

const table = (list: Listed<Row>, sort = '') => (
  <MemoryRouter>
    <LongTable<Row>
      label="Things"
      list={list}
      keyOf={(r) => r.id}
      rowHeight={40}
      onOpen={onOpen}
      sort={sort}
      onSort={onSort}
      none="Nothing fits."
      columns={[
        { title: 'Thing', sort: 'name', show: (r) => `thing ${r.id}` },
        { title: 'Do', show: (r) => <a href={`#${r.id}`}>open {r.id}</a> },
      ]}
    />
  </MemoryRouter>
)
const rows = () => screen.getAllByRole('row').slice(1)

test('of 10,000 rows only those in sight are there, and it says how many there are', () => {
  render(table(listed(10_000)))
  expect(rows().length).toBeLessThan(60)
  expect(screen.getByRole('table', { name: 'Things' }).getAttribute('aria-rowcount')).toBe('10001')
  expect(rows()[0].getAttribute('aria-rowindex')).toBe('2')
})

test('arrows, page keys, home and end go through the rows, and one of them has the focus @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  render(table(listed(10_000)))
  await user.click(screen.getByText('thing 3'))
  expect(onOpen).toHaveBeenLastCalledWith({ id: 3 })
  act(() => rows()[2].focus())
  await user.keyboard('{ArrowDown}{ArrowDown}{ArrowUp}')
  expect(document.activeElement?.textContent).toContain('thing 4')
  await user.keyboard('{Enter}')
  expect(onOpen).toHaveBeenLastCalledWith({ id: 4 })
  await user.keyboard('{PageDown}')
  expect(Number(document.activeElement?.getAttribute('aria-rowindex'))).toBeGreaterThan(10)
  await user.keyboard('{Home}')
  expect(document.activeElement?.textContent).toContain('thing 1')
  // One stop of the tab key, however many rows.
  expect(rows().filter((r) => r.tabIndex === 0)).toHaveLength(1)
})

test('enter on a link inside a row is the link’s own', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  render(table(listed(5)))
  act(() => screen.getByText('open 2').focus())
  await user.keyboard('{Enter}')
  expect(onOpen).not.toHaveBeenCalledWith({ id: 1 })
})

test('more is asked for as the end comes near, and not before', () => {
  const far = listed(200, { hasNext: true, total: 5000 })
  render(table(far))
  expect(far.fetchNext).not.toHaveBeenCalled()
  cleanup()
  const near = listed(30, { hasNext: true, total: 5000 })
  render(table(near))
  expect(near.fetchNext).toHaveBeenCalled()
})

test('a row that is pressed stays under the pointer, whatever arrives before it is lifted, and is what opens', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  const { rerender } = render(table(listed(5)))
  const pressed = screen.getByText('thing 3')
  await user.pointer({ keys: '[MouseLeft>]', target: pressed })
  rerender(table({ ...listed(1), items: [{ id: 9 }] }))
  expect(screen.getByText('thing 3')).toBe(pressed)
  await user.pointer({ keys: '[/MouseLeft]', target: pressed })
  expect(onOpen.mock.calls).toEqual([[{ id: 3 }]])
  await screen.findByText('thing 9')
  expect(screen.queryByText('thing 3')).toBeNull()
})

test.each(['pointercancel', 'contextmenu', 'blur'])(
  'a press that ends by %s holds nothing any longer',
  async (ends) => {
    const { rerender } = render(table(listed(5)))
    fireEvent.pointerDown(screen.getByText('thing 3'))
    rerender(table(listed(2)))
    expect(screen.getByText('thing 3')).toBeTruthy()
    fireEvent(window, new Event(ends))
    await waitFor(() => expect(screen.queryByText('thing 3')).toBeNull())
  },
)

test('a head sorts, and sorts no more when pressed again; it says so', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  const { rerender } = render(table(listed(3)))
  const head = () => screen.getByRole('columnheader', { name: /Thing/ })
  expect(head().getAttribute('aria-sort')).toBe('none')
  await user.click(screen.getByRole('button', { name: 'Thing' }))
  expect(onSort).toHaveBeenLastCalledWith('name')
  rerender(table(listed(3), 'name'))
  expect(head().getAttribute('aria-sort')).toBe('ascending')
  await user.click(screen.getByRole('button', { name: /Thing/ }))
  expect(onSort).toHaveBeenLastCalledWith('')
})

test('empty, on its way, and failed', async () => {
  const { rerender } = render(table(listed(0)))
  expect(screen.getByText('Nothing fits.')).toBeTruthy()
  rerender(table(listed(0, { empty: true })))
  expect(screen.getByRole('status').textContent).toBe('Loading…')
  const failed = listed(0, { error: new Error('The server does not answer.') })
  rerender(table(failed))
  expect(screen.getByRole('alert').textContent).toContain('The server does not answer.')
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
  expect(failed.refetch).toHaveBeenCalled()
})

test('how many there are, in words', () => {
  expect(countWords({ total: 12_345, more: false, empty: false })).toBe('12,345')
  expect(countWords({ total: 1000, more: true, empty: false })).toBe('more than 1,000')
  expect(countWords({ total: 0, more: false, empty: true })).toBe('')
})
