/** @jest-environment ./tests/browserEnvironment.cjs */
import { act, cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes, useLocation } from 'react-router'
import type { Pulse, Role } from '@bichroma/contract'
import { queryClient } from '../api/queries'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { useInterface } from '../theme/useInterface'
import { Frame } from './Frame'
import { showInApp } from './showInApp'

const pulseOf = (change: Partial<Pulse> = {}): Pulse => ({
  running: [],
  couriersOnline: 31,
  couriers: 34,
  dueToday: 0,
  astray: 0,
  instrumentsFree: 2,
  instruments: 3,
  ...change,
})
const running = (runId: number, change: Partial<Pulse['running'][number]> = {}): Pulse['running'][number] => ({
  runId,
  label: 'Full run',
  displayName: `Sedge ${runId}`,
  slot: 1,
  stage: 'Shape',
  done: 0.4,
  secondsLeft: 130,
  state: 'running',
  ...change,
})
const displays = ['Lantern 1', 'Lantern 3', 'Heron 1'].map((name, n) => ({ id: 20 + n, name }))

/** The stream of events, of which nothing comes here but what a test sends. */
class Stream {
  static CLOSED = 2
  static last: Stream
  readyState = 1
  onopen?: () => void
  onmessage?: (event: { data: string }) => void
  onerror?: () => void
  isClosed = false
  constructor(readonly address: string) {
    Stream.last = this
  }
  close() {
    this.isClosed = true
  }
}
/** Calls of this browser, as somebody would get them. */
class Call {
  static permission = 'granted'
  static all: Call[] = []
  onclick?: () => void
  constructor(
    readonly title: string,
    readonly options: { body: string; tag: string },
  ) {
    Call.all.push(this)
  }
}

const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
const Where = () => <p data-testid="where">{useLocation().pathname + useLocation().search}</p>
const where = () => screen.getByTestId('where').textContent
const api = new StubbedApi({ items: displays, next: null, total: 3, more: false })
const begin = ({
  role = 'administrator' as Role,
  pulse = pulseOf(),
  at = '/register',
  more = {} as typeof api.answers,
} = {}) => {
  api.begin({ 'GET /api/session': signedInAs(role), 'GET /api/pulse': { body: pulse }, ...more })
  window.history.replaceState(null, '', at)
  return showInApp(
    <Routes>
      <Route element={<Frame />}>
        <Route path="*" element={<Where />} />
      </Route>
    </Routes>,
    at,
  )
}
const rail = () => screen.getByRole('navigation', { name: 'Areas' })
const line = async (text: RegExp) => (await screen.findByText(text)).closest('footer')!
beforeAll(() => {
  layOut(30)
  globalThis.EventSource = Stream as never
})
beforeEach(() => {
  Call.all = []
  globalThis.Notification = Call as never
  useInterface.setState({ theme: 'dark', paletteOpen: false, keysOpen: false, calls: false })
})
afterEach(() => {
  cleanup()
  api.end()
})

describe('the rail', () => {
  const everybody = ['Floor', 'Register', 'Aims', 'Runs', 'Review', 'Drift', 'Peer sets', 'Rollout', 'Rounds']
  test.each<[Role, string[]]>([
    ['administrator', [...everybody, 'Ledger', 'People']],
    ['technician', everybody],
    ['viewer', everybody],
  ])('shows a %s what is theirs', async (role, areas) => {
    begin({ role })
    await screen.findByTitle(`Signed in as Marit Oyen, ${role}`)
    await api.settled()
    expect(
      within(rail())
        .getAllByRole('link')
        .map((l) => l.textContent),
    ).toEqual(areas)
  })

  test('counts what asks for attention, and says nothing of nothing @long', async () => {
    begin({ pulse: pulseOf({ dueToday: 3, astray: 12 }) })
    expect(await within(rail()).findByTitle('3 ask for attention')).toBeTruthy()
    expect(within(rail()).getByRole('link', { name: 'Rollout 12' })).toBeTruthy()
    cleanup()
    api.end()
    begin()
    await api.settled()
    expect(rail().querySelector('.asks')).toBeNull()
  })

  test('folds into one button that says where one is, and folds again once somebody went somewhere', async () => {
    begin({ at: '/rounds/week' })
    const fold = rail().querySelector('.fold')!
    expect(fold.textContent).toBe('Rounds▾')
    expect(fold.getAttribute('aria-expanded')).toBe('false')
    await hands.pressThis(fold)
    expect(rail().className).toContain('open')
    await hands.pressThis(within(rail()).getByRole('link', { name: 'Drift' }))
    expect(where()).toBe('/drift')
    expect(rail().className).not.toContain('open')
    expect(fold.textContent).toBe('Drift▾')
  })

  test('changes the theme, and whoever signs out is signed out', async () => {
    begin({ role: 'viewer', more: { 'DELETE /api/session': { body: null } } })
    await hands.pressThis(within(rail()).getByRole('button', { name: 'Dark theme' }))
    expect(useInterface.getState().theme).toBe('light')
    await hands.pressThis(within(rail()).getByRole('button', { name: 'Light theme' }))
    expect(useInterface.getState().theme).toBe('dark')
    await hands.pressThis(within(rail()).getByRole('button', { name: 'Your account' }))
    expect(where()).toBe('/account')
    expect(rail().querySelector('.fold')!.textContent).toBe('Your account▾')
    await hands.pressThis(within(rail()).getByRole('button', { name: 'Sign out' }))
    await waitFor(() => expect(api.sent).toEqual([{ method: 'DELETE', path: '/api/session', body: null }]))
  })
})

describe('keys', () => {
  test.each([
    ['f', '/'],
    ['o', '/rollout'],
    ['s', '/peers'],
  ])('g and %s go to %s', async (key, path) => {
    begin()
    await api.settled()
    await user.keyboard(`g${key}`)
    await waitFor(() => expect(where()).toBe(path))
  })

  test('? lists them all; each area stands there with its own @long', async () => {
    begin()
    await api.settled()
    await user.keyboard('?')
    const list = within(await screen.findByRole('dialog', { name: 'Keys' }))
    const told = list.getAllByRole('row').map((r) => r.textContent!)
    for (const text of ['Ctrl KGo to, or start', 'g rGo to Register', 'g pGo to People']) expect(told).toContain(text)
    const own = told.filter((t) => t.startsWith('g ')).map((t) => t[2])
    expect(new Set(own).size).toBe(own.length)
  })
})

describe('the palette', () => {
  const open = async () => {
    await api.settled()
    await user.keyboard('{Control>}k{/Control}')
    return screen.findByRole('combobox', { name: 'Command' })
  }
  const take = (command: string) =>
    hands.pressThis(document.querySelector(`.ant-select-item-option[title="${command}"]`)!)
  const offered = () => [...document.querySelectorAll('.ant-select-item-option-content')].map((o) => o.textContent)

  test('opens by its key, and goes to an area by the beginnings of its words @long', async () => {
    begin()
    const field = await open()
    await user.type(field, 'go lim')
    expect(await screen.findByText('No command fits.')).toBeTruthy()
    await user.clear(field)
    await user.type(field, 'g dri')
    await waitFor(() => expect(offered()).toEqual(['Go to Drift']))
    await take('Go to Drift')
    expect(where()).toBe('/drift')
    expect(useInterface.getState().paletteOpen).toBe(false)
  })

  test('opens a display, or starts a run on it; the server is asked for its name alone @long', async () => {
    begin()
    const field = await open()
    await user.type(field, 'start run on lan 3')
    await waitFor(() => expect(offered()).toEqual(['Start run on Lantern 3']))
    await waitFor(() => expect(api.asked.some((a) => /search=lan(\+|%20)3(&|$)/.test(a))).toBe(true))
    expect(api.asked.filter((a) => /start|run/.test(a.split('search=')[1] ?? ''))).toEqual([])
    await take('Start run on Lantern 3')
    expect(where()).toBe('/runs/new?display=21')
  })

  test('offers the other theme @long', async () => {
    begin()
    const field = await open()
    await user.type(field, 'light')
    await take('Use the light theme')
    expect(useInterface.getState().theme).toBe('light')
  })
})

describe('the line at the bottom', () => {
  test('says that nothing goes on, and what is there', async () => {
    begin({ pulse: pulseOf({ dueToday: 2 }) })
    const text = (await line(/Couriers/)).textContent
    expect(text).toBe('No run is going onCouriers 31 / 34Due today 2Instruments free 2 / 3')
  })

  test('shows two runs, counts the rest, and leads to each', async () => {
    const waiting = running(4, { state: 'waiting', secondsLeft: 0 })
    begin({
      pulse: pulseOf({ running: [running(3), waiting, running(5), running(6)] }),
      more: { 'GET /api/runs/3': { body: null }, 'GET /api/runs/4': { body: null } },
    })
    const footer = await line(/Couriers/)
    const [first, second] = within(footer).getAllByRole('link')
    expect(first.textContent).toBe('Full runSedge 3, slot 1 · Shape≈ 2 min')
    expect(first.querySelector<HTMLElement>('.bar i')!.style.width).toBe('40%')
    expect(second.textContent).toBe('Full runSedge 4, slot 1 · waits for you')
    expect(footer.textContent).toContain('and 2 more')
    await hands.pressThis(second)
    expect(where()).toBe('/runs/4')
  })

  test('follows a run’s own readings where they are ahead of it', async () => {
    const live = { id: 3, state: 'running', stage: 'prove', progress: { done: 0.9, secondsLeft: 20 } }
    begin({ pulse: pulseOf({ running: [running(3)] }), more: { 'GET /api/runs/3': { body: live } } })
    const link = within(await line(/Couriers/)).getByRole('link')
    await waitFor(() => expect(link.textContent).toBe('Full runSedge 3, slot 1 · Prove< 1 min'))
    expect(link.querySelector<HTMLElement>('.bar i')!.style.width).toBe('90%')
  })
})

describe('the stream of events', () => {
  const seen = (data: unknown) => act(async () => Stream.last.onmessage?.({ data: JSON.stringify(data) }))
  const asksAgain = async (path: string, told: () => unknown) => {
    const before = api.asked.filter((a) => a === path).length
    await told()
    await waitFor(() => expect(api.asked.filter((a) => a === path).length).toBeGreaterThan(before))
  }

  test('what a topic tells of is asked for again, and nothing else', async () => {
    begin()
    await api.settled()
    const before = api.asked.length
    await seen({ type: 'changed', topics: ['aims'] })
    await api.settled()
    expect(api.asked.slice(before)).toEqual([])
    await asksAgain('/api/pulse', () => seen({ type: 'changed', topics: ['couriers'] }))
    expect(api.asked.slice(before)).not.toContain('/api/session')
  })

  test('after a break everything is asked for again, not when it opens first @long', async () => {
    begin()
    await api.settled()
    const before = api.asked.length
    await act(async () => Stream.last.onopen?.())
    await api.settled()
    expect(api.asked).toHaveLength(before)
    await asksAgain('/api/pulse', () => act(async () => Stream.last.onopen?.()))
  })

  test('whoever is refused it may be signed out: the session is asked for', async () => {
    begin()
    await api.settled()
    Stream.last.readyState = Stream.CLOSED
    await asksAgain('/api/session', () => act(async () => Stream.last.onerror?.()))
  })

  test('what may come late is asked for at a moment of this browser’s own, once', async () => {
    begin()
    await api.settled()
    const before = api.asked.length
    const told = { type: 'changed', topics: ['runs'], spreadMs: 20 }
    await seen(told)
    await seen(told)
    await waitFor(() => expect(api.asked.slice(before)).toContain('/api/pulse'))
    await api.settled()
    expect(api.asked.slice(before).filter((a) => a === '/api/pulse')).toHaveLength(1)
  })

  test('ends with what it was opened for', async () => {
    begin()
    await api.settled()
    cleanup()
    expect(Stream.last.isClosed).toBe(true)
  })
})

describe('calls', () => {
  const waits = (...ids: number[]) => pulseOf({ running: ids.map((id) => running(id, { state: 'waiting' })) })
  /** Queries tell of what they hold from the next turn on. */
  const says = (pulse: Pulse) =>
    act(async () => {
      queryClient.setQueryData(['pulse'], pulse)
      await new Promise((done) => setTimeout(done, 0))
    })

  test('a run that begins to wait calls once, and again when it waits anew', async () => {
    useInterface.setState({ calls: true })
    begin({ pulse: waits(3) })
    await waitFor(() => expect(Call.all).toHaveLength(1))
    expect(Call.all[0]).toMatchObject({
      title: 'Sedge 3 waits for hands',
      options: { body: 'Full run of slot 1. Open the run sheet for what to do.', tag: 'run-3' },
    })
    await says(waits(3, 4))
    expect(Call.all.map((c) => c.options.tag)).toEqual(['run-3', 'run-4'])
    await says(pulseOf({ running: [running(3)] }))
    await says(waits(3))
    expect(Call.all.map((c) => c.options.tag)).toEqual(['run-3', 'run-4', 'run-3'])
  })

  test.each([
    ['whoever did not ask for calls', false, 'granted'],
    ['whose browser may not call', true, 'denied'],
  ])('%s is not called', async (_, calls, permission) => {
    useInterface.setState({ calls })
    Call.permission = permission
    begin({ pulse: waits(3) })
    await screen.findByText(/waits for you/)
    expect(Call.all).toEqual([])
    Call.permission = 'granted'
  })
})
