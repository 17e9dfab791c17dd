/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, within } from '@testing-library/react'
import type { LedgerEntry, RunDetail } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { display, now, reviewOf, run } from '../test/fixtures'
import { StubbedApi } from '../test/stubbedApi'
import { EvidencePage } from './EvidencePage'

const api = new StubbedApi()
const begin = (of: RunDetail, entries: Partial<LedgerEntry>[] = []) => {
  api.begin({
    [`GET /api/runs/${of.id}`]: { body: of },
    [`GET /api/runs/${of.id}/review`]: { body: reviewOf() },
    [`GET /api/displays/${of.displayId}`]: { body: display() },
    [`GET /api/ledger/run/${of.id}?limit=20`]: {
      body: { items: entries, next: null, total: entries.length, more: false },
    },
  })
  return showAt('/review/:id/evidence', <EvidencePage />, `/review/${of.id}/evidence`)
}
afterEach(() => {
  cleanup()
  api.end()
})
/** What a plane of facts says, by name. */
const factsOf = async (title: string) => {
  const plane = (await screen.findByRole('heading', { name: title })).closest('section')!
  return Object.fromEntries(
    within(plane)
      .getAllByRole<HTMLTableRowElement>('row')
      .map((row) => [row.cells[0].textContent, row.cells[1].textContent]),
  )
}
const hash = 'd'.repeat(64)
const proved = {
  act: 'proved',
  evidence: { version: '0.9.1', certified: Date.UTC(2026, 5, 2), firmware: '3.1', tables: hash },
} as Partial<LedgerEntry>

test('aim, instrument and display stand as they were when it was proved @long', async () => {
  begin(run({ profileHash: hash }), [{ act: 'changed', evidence: { version: 'another' } } as never, proved])
  await screen.findByText('0.9.1')
  expect(await factsOf('By')).toMatchObject({ readings: '2', software: '0.9.1' })
  expect((await factsOf('By')).run).toMatch(/^Full run, .*, started by Marit Oyen$/)
  expect(await factsOf('Instrument')).toMatchObject({
    instrument: 'Colorimeter C3 TC-0417',
    certified: '2026-06-02',
    correction: 'the instrument’s own, for wide-gamut phosphor LED',
  })
  expect(await factsOf('Display')).toMatchObject({ serial: 'Q-1', 'firmware then': '3.1', tables: hash, profile: hash })
})

test('what nobody wrote down is not made up', async () => {
  begin(run())
  await screen.findByText('Q-1')
  expect(await factsOf('By')).not.toHaveProperty('software')
  expect((await factsOf('Instrument')).certified).toBe('it does not tell')
  const of = await factsOf('Display')
  for (const name of ['firmware then', 'tables', 'profile']) expect(of).not.toHaveProperty(name)
})

test('a correction that was made stands with what it leaves and its whole matrix', async () => {
  const matrix = [
    [1.02, -0.013, 0.004],
    [0.001, 0.998, 0],
    [-0.002, 0.003, 1.1],
  ] as const
  const correction = {
    kind: 'made',
    id: 2,
    madeAt: Date.UTC(2026, 9, 1),
    residual: 0.00123,
    matrix,
    displayName: 'Reed 4',
  }
  begin(run({ correction: correction as never }))
  const plane = (await screen.findByRole('heading', { name: 'Instrument' })).closest('section')!
  expect((await factsOf('Instrument')).correction).toBe('made on Reed 4, 2026-10-01, leaves 0.0012 Δu′v′')
  const numbers = [...plane.querySelectorAll('tr')]
    .slice(3)
    .map((row) => row.cells[1].textContent!.split(/\s+/).map(Number))
  expect(numbers).toEqual(matrix.map((row) => [...row]))
})

test('an imported run names its file by its hash', async () => {
  begin(run({ imported: { fileName: 'loop.txt', format: 'CGATS.17', hash } as never, correction: null }))
  expect(await factsOf('By')).toMatchObject({ file: 'loop.txt, CGATS.17', 'SHA-256': hash })
  expect((await factsOf('By')).run).toMatch(/^imported, /)
  expect((await factsOf('Instrument')).correction).toBe('none')
})

test('conditions say what was found, and who looked where a person did', async () => {
  const [ready, ...rest] = run().stages
  const conditions = [
    { id: 'courier', label: 'Courier online', found: 'on sedge-01', ok: true, remedy: null },
    {
      id: 'night',
      label: 'Night light',
      found: 'off',
      ok: false,
      remedy: null,
      confirm: { by: 'Tobin Reyk', at: now },
    },
  ]
  begin(run({ stages: [{ ...ready, conditions: conditions as never }, ...rest] }))
  const plane = (await screen.findByRole('heading', { name: 'Conditions' })).closest('section')!
  const [courier, night] = within(plane).getAllByRole<HTMLTableRowElement>('row')
  expect([courier.textContent, courier.cells[1].className]).toEqual(['Courier onlineon sedge-01', 'second'])
  expect(night.textContent).toMatch(/^Night lightoff, looked at by Tobin Reyk, /)
  expect(night.cells[1].className).toBe('asks')
})

test('raw readings stand with all their digits; of thousands the first, and how many more the file has @long', async () => {
  const [reading] = run().log
  const log = Array.from({ length: 2000 }, (_, seq) => ({ ...reading, seq, name: `Patch ${seq}` }))
  begin(run({ log }))
  const list = await screen.findByRole('region', { name: 'Raw readings' })
  const all = within(list).getAllByRole<HTMLTableRowElement>('row').slice(1)
  expect(all).toHaveLength(600)
  expect([...all[0].cells].map((cell) => cell.textContent)).toEqual([
    'Patch 0',
    '1.000 1.000 1.000',
    '114.0000',
    '120.3000',
    '131.0000',
    'Baseline',
  ])
  expect(within(list).getByText('and 1,400 more in the file')).toBeTruthy()
  expect(screen.getByRole('link', { name: 'save as CGATS' }).getAttribute('href')).toBe('/api/runs/9/report?as=cgats')
})
