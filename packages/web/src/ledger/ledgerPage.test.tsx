/** @jest-environment ./tests/browserEnvironment.cjs */
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import type { LedgerEntry, LedgerProof } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { day, now } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, StubbedApi } from '../test/stubbedApi'
import { LedgerPage } from './LedgerPage'

const entry = (id: number, change: Partial<LedgerEntry> = {}): LedgerEntry => ({
  id,
  at: now - id * 3_600_000,
  accountId: 1,
  by: 'Marit Oyen',
  act: 'changed',
  thing: 'display',
  thingId: 4,
  name: 'Sedge 4',
  changes: [{ field: 'checkEveryDays', from: 28, to: 7 }],
  why: null,
  evidence: {},
  hash: `${id}`.padStart(64, 'a'),
  ...change,
})
const page = (items: LedgerEntry[], total = items.length, next: string | null = null) => ({
  body: { items, next, total, more: false },
})

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = (answers: Parameters<typeof api.begin>[0], at = '/ledger') => {
  api.begin(answers)
  // Whoever has gone elsewhere changes no address: this is the page that is open.
  window.history.replaceState(null, '', at)
  return showInApp(<LedgerPage />, at)
}
beforeAll(() => layOut(42))
afterEach(() => {
  cleanup()
  api.end()
})

/** The row in which a text stands. */
const rowOf = async (text: string) => (await screen.findByText(text)).closest('tr')!

test('tells who did what to which thing, how it was and became, why and by what @long', async () => {
  begin({
    'GET /api/ledger': page([
      entry(12),
      entry(11, {
        thing: 'run',
        thingId: 31,
        name: 'Full run on Sedge 4',
        act: 'withdrew',
        changes: [],
        why: 'the lens was dirty',
        evidence: { reading: 3.14159265, run: 31, instrument: 'TC-0417' },
      }),
      entry(10, { act: 'removed', name: 'Old aim', thing: 'aim', changes: [{ field: 'luminance', from: 120 }] }),
      entry(9, {
        by: 'Bichroma',
        accountId: null,
        thing: 'settings',
        name: 'Name of profiles',
        changes: [{ field: 'secret' }],
      }),
    ]),
  })
  const first = await rowOf('Sedge 4')
  expect(first.textContent).toContain('Marit Oyen')
  expect(first.textContent).toContain('check every days 28 → 7')
  expect(within(first).getByRole('link', { name: 'Sedge 4' }).getAttribute('href')).toBe('/register/4')
  expect(within(first).getByTitle(`SHA-256 ${entry(12).hash}`).textContent).toBe('12')

  const run = await rowOf('Full run on Sedge 4')
  expect(within(run).getByRole('link').getAttribute('href')).toBe('/runs/31')
  // The run is where the link leads; five figures of a number say enough.
  expect(run.textContent).toContain('“the lens was dirty” reading 3.1416 · instrument TC-0417')
  expect(run.textContent).not.toContain('run 31')

  // What is gone leads nowhere, and neither does what has no page.
  const removed = await rowOf('Old aim')
  expect(within(removed).queryByRole('link')).toBeNull()
  expect(removed.textContent).toContain('luminance 120 → nothing')
  const own = await rowOf('Name of profiles')
  expect(within(own).queryByRole('link')).toBeNull()
  expect(own.textContent).toContain('secret anew')
  expect(screen.getByText('4', { selector: '.plane *' })).toBeTruthy()
})

test('is narrowed by words, thing, day and person; the address and the file know it @long', async () => {
  begin({ 'GET /api/ledger': page([entry(3), entry(2, { by: 'Tobin Ferro', name: 'Plate 2' })]) })
  await screen.findByText('Plate 2')
  fireEvent.change(screen.getByLabelText('Find entries'), { target: { value: 'plate' } })
  fireEvent.blur(screen.getByLabelText('Find entries'))
  await waitFor(() => expect(api.asked.at(-1)).toBe('/api/ledger?search=plate'))
  await hands.choose('Thing', 'peer sets')
  await waitFor(() => expect(api.asked.at(-1)).toBe('/api/ledger?search=plate&thing=peer+set'))
  expect(screen.getByText('Save as file').closest('a')!.getAttribute('href')).toBe(
    '/api/ledger/file?search=plate&thing=peer+set',
  )
  // Nothing of that kind: it says so, and not that nothing was ever done.
  expect(await screen.findByText('No entry fits.')).toBeTruthy()
})

test('what one person did is asked by a press on their name, and everybody again by another @long', async () => {
  const two = page([entry(3), entry(2, { by: 'Tobin Ferro', name: 'Plate 2' })])
  begin({
    'GET /api/ledger': two,
    'GET /api/ledger?by=Tobin+Ferro': page([entry(2, { by: 'Tobin Ferro', name: 'Plate 2' })]),
  })
  await hands.pressThis(await screen.findByRole('button', { name: 'Tobin Ferro' }))
  await waitFor(() => expect(screen.queryByText('Sedge 4')).toBeNull())
  expect(screen.getByText(/Only what Tobin Ferro did\./)).toBeTruthy()
  expect(api.asked).toContain('/api/ledger?by=Tobin+Ferro')
  await hands.press('Show everybody')
  expect(await screen.findByText('Sedge 4')).toBeTruthy()
  expect(screen.queryByText(/Only what/)).toBeNull()
})

test('an address that was sent to somebody shows what its sender saw @long', async () => {
  begin(
    { 'GET /api/ledger?by=Tobin+Ferro&from=2026-11-20': page([entry(2, { by: 'Tobin Ferro' })]) },
    '/ledger?by=Tobin+Ferro&from=2026-11-20',
  )
  expect(await screen.findByText(/Only what Tobin Ferro did\./)).toBeTruthy()
  expect((screen.getByLabelText('From day') as HTMLInputElement).value).toBe('2026-11-20')
  expect(api.asked).toEqual(['/api/ledger?by=Tobin+Ferro&from=2026-11-20'])
})

test('the first day of a studio says that nothing was done', async () => {
  begin({})
  expect(await screen.findByText('Nothing has been done yet.')).toBeTruthy()
})

test('more than fits comes as it is scrolled to, each entry once @long', async () => {
  const many = (from: number, count: number) =>
    Array.from({ length: count }, (_, i) => entry(from - i, { name: `Thing ${from - i}`, at: now - (from - i) * day }))
  begin({
    'GET /api/ledger': page(many(90, 50), 90, 'fifty'),
    'GET /api/ledger?cursor=fifty': page(many(40, 40), 90),
  })
  await screen.findByText('Thing 90')
  // What is out of sight is not drawn.
  expect(screen.queryByText('Thing 41')).toBeNull()
  const scroller = screen.getByRole('region', { name: 'Ledger' })
  act(() => scroller.scrollTo({ top: 42 * 49 }))
  await waitFor(() => expect(api.asked.filter((a) => a.includes('cursor'))).toHaveLength(1))
  act(() => scroller.scrollTo({ top: 42 * 89 }))
  expect(await screen.findByText('Thing 1')).toBeTruthy()
  expect(api.asked.filter((a) => a.includes('cursor'))).toHaveLength(1)
})

describe('proving it', () => {
  const prove = async (proof: LedgerProof | ReturnType<typeof refusal>) => {
    begin({
      'GET /api/ledger': page([entry(3)]),
      'GET /api/ledger/proof': 'status' in proof ? proof : { body: proof },
    })
    await screen.findByText('Sedge 4')
    await hands.press('Prove the ledger')
  }

  test('says that all entries follow one another, and shows the head that can be kept elsewhere @long', async () => {
    await prove({ entries: 12_345, head: 'f'.repeat(64), faults: [] })
    const alert = await screen.findByRole('alert')
    expect(alert.textContent).toContain('All 12,345 entries follow one another, and none was changed.')
    expect(alert.textContent).toContain(`Head ${'f'.repeat(64)}`)
    await hands.pressThis(within(alert).getByRole('button'))
    await waitFor(() => expect(screen.queryByText(/follow one another/)).toBeNull())
  })

  test('names the places that do not hold, the first eight of many @long', async () => {
    const faults = Array.from({ length: 11 }, (_, i) => ({ id: 20 + i, what: 'its text is not what was hashed' }))
    await prove({ entries: 40, head: 'f'.repeat(64), faults })
    const alert = await screen.findByRole('alert')
    expect(alert.textContent).toContain('11 places in 40 entries do not hold.')
    expect(alert.textContent).toContain('Entry 20: its text is not what was hashed.')
    expect(alert.textContent).toContain('Entry 27:')
    expect(alert.textContent).not.toContain('Entry 28:')
    expect(alert.textContent).not.toContain('Head')
  })

  test('one place reads as one @long', async () => {
    await prove({ entries: 40, head: 'f'.repeat(64), faults: [{ id: 7, what: 'the one before is missing' }] })
    expect((await screen.findByRole('alert')).textContent).toContain('One place in 40 entries do not hold.')
  })

  test('says what stood in the way @long', async () => {
    await prove(refusal(409, 'The ledger is being proved already. Wait for it to end.', ''))
    expect(await screen.findByText(/being proved already/)).toBeTruthy()
    expect(screen.queryByText(/follow one another/)).toBeNull()
  })
})
