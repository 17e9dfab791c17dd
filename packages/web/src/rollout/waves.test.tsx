/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import type { PreviewRow, WaveDetail, WaveItem, WavePreview } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { PrepareWave, selectionOf } from './PrepareWave'
import { WavePage } from './WavePage'

const hour = 3_600_000
const at = Date.UTC(2026, 10, 24, 10)
const api = new StubbedApi()
const digest = 'd'.repeat(64)

const previewRow = (change: Partial<PreviewRow>): PreviewRow => ({
  displayId: 1,
  displayName: 'Sedge 1',
  workstationId: 1,
  workstationName: 'sedge-01',
  operatingSystem: 'linux',
  action: 'place',
  not: null,
  fileName: 'Sedge-1.icc',
  runId: 7,
  profileHash: 'b'.repeat(64),
  slot: 1,
  inPlaceOf: null,
  ours: false,
  scope: 'machine',
  waits: [],
  ...change,
})
const rows: PreviewRow[] = [
  previewRow({}),
  previewRow({
    ...{
      displayId: 2,
      displayName: 'Dome 1',
      operatingSystem: 'windows',
      scope: 'user',
      waits: ['courier', 'sign-out'],
    },
    inPlaceOf: 'C:\\Windows\\System32\\spool\\drivers\\color\\glint.icc',
  }),
  previewRow({ displayId: 3, displayName: 'Plate 4', action: 'release', fileName: null, slot: null }),
  previewRow({ displayId: 4, displayName: 'Field 2', action: null, not: 'already so', fileName: null }),
]
const preview: WavePreview = {
  digest,
  chosen: 9,
  does: 3,
  waits: { courier: 1 },
  not: { 'already so': 5, 'no profile': 1 },
  rows,
} as WavePreview

const item = (change: Partial<WaveItem>): WaveItem => ({
  displayId: 1,
  displayName: 'Sedge 1',
  workstationName: 'sedge-01',
  step: 1,
  action: 'place',
  fileName: 'Sedge-1.icc',
  slot: 1,
  before: null,
  state: 'there',
  mend: null,
  says: null,
  outAt: at,
  thereAt: at + hour,
  ...change,
})
const none = { 'held back': 0, 'under way': 0, there: 0, failed: 0, 'left out': 0, undoing: 0, undone: 0 }
const wave = (change: Partial<WaveDetail> = {}): WaveDetail =>
  ({
    id: 5,
    name: 'Plates',
    state: 'under way',
    says: null,
    selection: { rooms: [2], differs: true },
    startedAt: at,
    startedBy: 'Marit Oyen',
    endedAt: null,
    expiresAt: at + 14 * 24 * hour,
    leftMs: null,
    first: 3,
    gate: 'word',
    stopShare: 0.2,
    counts: { ...none, there: 3, 'held back': 4 },
    items: { items: [item({})], total: 1, next: null, more: false },
    ...change,
  }) as WaveDetail

beforeEach(() =>
  api.begin({
    'POST /api/waves/preview': { body: preview },
    'POST /api/waves': { body: { id: 12 } },
    'GET /api/session': signedInAs('administrator'),
    'GET /api/waves/5?limit=200': { body: wave() },
    'GET /api/rooms': {
      body: [
        { id: 1, name: 'Plate Room' },
        { id: 2, name: 'Dome' },
      ],
    },
    'GET /api/aims': { body: [{ id: 1, name: 'Atlas web' }] },
    'GET /api/models': { body: [{ maker: 'Quillon', model: 'Q27' }] },
  }),
)
afterEach(() => api.end())

const prepare = (address = '/rollout/waves/new?differs=yes') => {
  // Where the browser is, as whoever changes the address asks.
  window.history.replaceState(null, '', address)
  show(
    <Routes>
      <Route path="/rollout/waves/new" element={<PrepareWave />} />
      <Route path="/rollout/waves/:id" element={<p>the wave’s own page</p>} />
    </Routes>,
    address,
  )
}
const previews = () => api.sent.filter((s) => s.path === '/api/waves/preview').map((s) => s.body)
const others = () => api.sent.filter((s) => s.path !== '/api/waves/preview')

describe('an address that chooses displays', () => {
  const nothing = { displays: '', rooms: '', aims: '', systems: '', models: '', verdicts: '', differs: '' }

  test('what it does not say chooses nothing, and what is no number is left out', () => {
    expect(selectionOf(nothing)).toEqual({})
    expect(selectionOf({ ...nothing, displays: '3.x.-1.0.7.1e99' })).toEqual({ displays: [3, 7] })
    expect(selectionOf({ ...nothing, rooms: '2|nonsense|4' })).toEqual({ rooms: [2, 4] })
  })

  test('names may hold anything but the joint', () => {
    expect(selectionOf({ ...nothing, models: 'Quillon Q27|Ostrel Reed 24, "B"', differs: 'yes' })).toEqual({
      models: ['Quillon Q27', 'Ostrel Reed 24, "B"'],
      differs: true,
    })
    expect(selectionOf({ ...nothing, differs: 'perhaps' })).toEqual({})
  })
})

describe('a wave before anybody agrees', () => {
  test('says what would be done, what will wait, and what is left out and why @long', async () => {
    prepare()
    expect(await screen.findByText(/3 displays get what is wanted\./)).toBeTruthy()
    expect(screen.getByText(/1 will wait for/)).toBeTruthy()
    expect(screen.getByText(/5 are left out, as wanted already\. 1 is left out, without a profile/)).toBeTruthy()
    expect(screen.getByText('3 of 9 chosen')).toBeTruthy()
    expect(screen.getByText('and 5 more')).toBeTruthy()
    const rowOf = (name: string) => within(screen.getByText(name).closest('tr')!)
    // By its name and not by its folder, and whose it is.
    expect(rowOf('Dome 1').getByText(/glint\.icc/).textContent).toBe('glint.icc another’s')
    expect(rowOf('Dome 1').getByText('the user')).toBeTruthy()
    expect(rowOf('Plate 4').getByText('ours is taken away')).toBeTruthy()
    expect(rowOf('Field 2').getByText('as wanted already')).toBeTruthy()
    expect(others()).toEqual([])
  })

  test('what was looked at is what is started, by its digest; the share is told as a part of one @long', async () => {
    prepare()
    await screen.findByText('In which steps')
    await hands.write('Name', 'Plates')
    await hands.write('Stop at failed, %', '35')
    await hands.choose('The rest goes once', 'they were read back and somebody says so')
    await hands.press('Start wave with 3 displays')
    expect(await screen.findByText('the wave’s own page')).toBeTruthy()
    expect(others()).toEqual([
      {
        method: 'POST',
        path: '/api/waves',
        body: {
          name: 'Plates',
          first: 3,
          gate: 'word',
          stopShare: 0.35,
          days: 14,
          selection: { differs: true },
          digest,
        },
      },
    ])
  })

  test('what changed in between is refused, and nothing that was written is lost @long', async () => {
    api.answers['POST /api/waves'] = refusal(409, 'Something changed since you looked. Look again.', 'digest')
    prepare()
    await screen.findByText('In which steps')
    await hands.write('Name', 'Plates')
    await hands.press('Start wave with 3 displays')
    expect(await screen.findByText(/Something changed since you looked/)).toBeTruthy()
    expect((screen.getByLabelText('Name') as HTMLInputElement).value).toBe('Plates')
  })

  test('a wave without a name is told at its field @long', async () => {
    prepare()
    await screen.findByText('In which steps')
    await hands.write('Name', '')
    await hands.press('Start wave with 3 displays')
    expect(await screen.findByText(/“.ame”/)).toBeTruthy()
    expect(others()).toEqual([])
  })

  test('with nothing to do it cannot be started @long', async () => {
    api.answers['POST /api/waves/preview'] = {
      body: { ...preview, does: 0, chosen: 0, waits: {}, not: {}, rows: [] },
    }
    prepare()
    const start = (await screen.findByRole('button', { name: 'Nothing would be done' })) as HTMLButtonElement
    expect(start.disabled).toBe(true)
    expect(screen.getByText('No display fits what is chosen.')).toBeTruthy()
  })

  test('displays marked by hand are what is asked for, until other things choose @long', async () => {
    prepare('/rollout/waves/new?displays=4.7')
    expect(await screen.findByText(/2 displays marked by hand/)).toBeTruthy()
    expect(previews()).toEqual([{ selection: { displays: [4, 7] } }])
    await hands.press('choose by other things')
    await waitFor(() => expect(previews().at(-1)).toEqual({ selection: { differs: true } }))
  })

  test('rooms and systems narrow it down, and the preview is asked for anew @long', async () => {
    prepare()
    await screen.findByText('In which steps')
    await hands.choose('Rooms', 'Dome')
    await waitFor(() => expect(previews().at(-1)).toEqual({ selection: { rooms: [2], differs: true } }))
    await hands.tick('Only what differs')
    await waitFor(() => expect(previews().at(-1)).toEqual({ selection: { rooms: [2] } }))
  })
})

describe('a wave under way', () => {
  const open = () =>
    show(
      <Routes>
        <Route path="/rollout/waves/:id" element={<WavePage />} />
      </Routes>,
      '/rollout/waves/5',
    )
  const sent = async () => {
    await waitFor(() => expect(api.sent).toHaveLength(1))
    return api.sent[0]
  }

  test('says who started it, of what, and how far it is', async () => {
    open()
    expect(await screen.findByText(/by Marit Oyen/)).toBeTruthy()
    expect(screen.getByText(/the rest goes once somebody says so; more than 20 % failed stop it/)).toBeTruthy()
    expect(screen.getByRole('img', { name: /^4 held back, 3 there$/ })).toBeTruthy()
    expect(await screen.findByText(/Dome/)).toBeTruthy()
  })

  test('the rest goes by a word, which is what is asked for first', async () => {
    open()
    const word = await screen.findByRole('button', { name: 'Let the rest go' })
    expect(word.className).toContain('primary')
    await hands.press('Let the rest go')
    expect(await sent()).toEqual({ method: 'POST', path: '/api/waves/5/word', body: null })
  })

  test('it is undone after a second look that says of how many @long', async () => {
    api.answers['GET /api/waves/5?limit=200'] = {
      body: wave({ counts: { ...none, there: 2, failed: 1, 'held back': 4 } }),
    }
    open()
    await screen.findByRole('button', { name: 'Undo wave' })
    await hands.press('Undo wave')
    expect(await screen.findByText(/^3 displays get back the profile and the binding/)).toBeTruthy()
    expect(api.sent).toEqual([])
    await hands.press('Undo it')
    expect(await sent()).toMatchObject({ path: '/api/waves/5/undo' })
  })

  test.each([
    ['under way', ['Undo wave', 'Pause wave', 'Let the rest go']],
    ['paused', ['Undo wave', 'Go on']],
    ['stopped', ['Undo wave', 'Go on']],
    ['done', ['Undo wave']],
    ['undoing', []],
    ['undone', []],
  ] as const)('what can be done while it is %s', async (state, acts) => {
    api.answers['GET /api/waves/5?limit=200'] = { body: wave({ state, says: 'Every third failed.' }) }
    open()
    const says = await screen.findByText('Every third failed.')
    expect(says.className).toBe(state === 'stopped' ? 'asks' : 'second')
    await waitFor(() =>
      expect(screen.queryAllByRole('button', { name: /wave|Go on|rest/ }).map((b) => b.textContent)).toEqual(acts),
    )
  })

  test('a technician sees it and does nothing to it', async () => {
    api.answers['GET /api/session'] = signedInAs('technician')
    open()
    await screen.findByText(/by Marit Oyen/)
    expect(screen.queryByRole('button', { name: 'Undo wave' })).toBeNull()
    expect(screen.queryByRole('button', { name: 'Pause wave' })).toBeNull()
  })

  test('each display says what it had, what became of it, and what it waits for @long', async () => {
    const items = [
      item({ before: '/usr/share/color/icc/old.icc' }),
      item({ displayId: 2, displayName: 'Dome 1', state: 'failed', says: 'The disk is full.', step: 2, thereAt: null }),
      item({
        displayId: 3,
        displayName: 'Plate 4',
        state: 'under way',
        mend: 'courier',
        action: 'release',
        slot: null,
      }),
    ]
    api.answers['GET /api/waves/5?limit=200'] = { body: wave({ items: { items, total: 9, next: 'x', more: false } }) }
    open()
    const rowOf = async (name: string) => within((await screen.findByText(name)).closest('tr')!)
    expect((await rowOf('Sedge 1')).getByText('old.icc')).toBeTruthy()
    const failed = await rowOf('Dome 1')
    expect(failed.getByText('The disk is full.').className).toBe('asks')
    expect(failed.getByText(/rest$/)).toBeTruthy()
    expect((await rowOf('Plate 4')).getByText('ours is taken away')).toBeTruthy()
    expect(screen.getByText('and 6 more; find them by name or state')).toBeTruthy()
  })
})
