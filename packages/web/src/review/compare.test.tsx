/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, within } from '@testing-library/react'
import type { RunReview } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { metricsOf, reviewOf, runSummary } from '../test/fixtures'
import { hands } from '../test/formHands'
import { StubbedApi } from '../test/stubbedApi'
import { ComparePage } from './ComparePage'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const validation = (id: number, blue: number, light: number, change: Partial<RunReview['run']> = {}) =>
  reviewOf({ run: runSummary({ id, ...change }), displayName: `Sedge ${id}`, metrics: metricsOf(blue, light) })
const begin = (search: string, ...reviews: RunReview[]) => {
  api.begin(Object.fromEntries(reviews.map((r) => [`GET /api/runs/${r.run.id}/review`, { body: r }])))
  return showInApp(<ComparePage />, `/review/compare${search}`)
}
afterEach(() => {
  cleanup()
  api.end()
})
const [good, worse] = [validation(3, 1.01, 1), validation(4, 0.95, 0.98)]
const number = (text: string | null) => Number(text!.replace('−', '-').replace('+', ''))
/** Columns of the list of patches as they stand: name, first, second, difference, apart. */
const patchRows = async () => {
  const list = await screen.findByRole('region', { name: /^List of patches/ })
  return within(list)
    .getAllByRole('row')
    .slice(1)
    .map((row) => [...row.children].map((cell) => cell.textContent!.trim()))
}

test('without two validations it asks for them, and asks the server for no review @long', async () => {
  begin('?a=3', good)
  expect(screen.getByText('Choose two validations to compare.')).toBeTruthy()
  expect(await screen.findByLabelText('Second validation')).toBeTruthy()
  expect(api.asked.filter((path) => path.endsWith('/review'))).toEqual(['/api/runs/3/review'])
})

test('figures are the second less the first, and the one nearer to its aim is marked @long', async () => {
  begin('?a=3&b=4', good, worse)
  const row = (await screen.findByText(/^Luminance/)).closest('tr')!
  const [, first, second, difference] = [...row.children].map((cell) => cell.textContent)
  expect([first, second, difference]).toEqual(['▸ 120.0', '117.6', '−2.4'])
  expect(within(row).getAllByLabelText('nearer to its aim')).toHaveLength(1)
  expect(screen.getByRole('link', { name: 'Sedge 3' }).getAttribute('href')).toBe('/review/3')
})

test('patches are furthest apart first, and add up as a reader would @long', async () => {
  begin('?a=3&b=4', good, worse)
  const rows = await patchRows()
  expect(rows).toHaveLength(39)
  const apart = rows.map((row) => number(row[4]))
  expect(apart).toEqual([...apart].sort((a, b) => b - a))
  for (const [, first, second, difference] of rows)
    expect(Math.abs(number(second) - number(first) - number(difference))).toBeLessThan(0.0101)
})

test('patches are sorted by any column, and by it again the other way round @long', async () => {
  begin('?a=3&b=4', good, worse)
  await patchRows()
  const column = async (n: number) => (await patchRows()).map((row) => number(row[n]))
  await hands.press('second')
  const down = await column(2)
  expect(down).toEqual([...down].sort((a, b) => b - a))
  expect(screen.getByRole('columnheader', { name: /second/ }).getAttribute('aria-sort')).toBe('descending')
  await hands.press(/^second/)
  const up = await column(2)
  expect(up).toEqual([...up].sort((a, b) => a - b))
  await hands.press('Patch')
  const names = (await patchRows()).map(([name]) => name)
  expect(names).toEqual([...names].sort((a, b) => -a.localeCompare(b, 'en', { numeric: true })))
})

test('those further off and those nearer are told apart, and none is in both @long', async () => {
  begin('?a=3&b=4', good, worse)
  const all = (await patchRows()).length
  await hands.take('Patches shown', 'further off')
  const further = await patchRows()
  await hands.take('Patches shown', 'nearer')
  const nearer = await patchRows()
  expect(further.length).toBeGreaterThan(30)
  expect(further.length + nearer.length).toBeLessThanOrEqual(all)
  expect(further.every((row) => number(row[3]) >= 0)).toBe(true)
  expect(nearer.every((row) => number(row[3]) <= 0)).toBe(true)
})

test('of different aims that is said; of one it is not @long', async () => {
  begin('?a=3&b=4', good, validation(4, 0.95, 0.98, { label: 'Dome P3' }))
  expect((await screen.findByRole('note')).textContent).toContain('“Atlas web” and “Dome P3”')
  cleanup()
  api.end()
  begin('?a=3&b=4', good, worse)
  await patchRows()
  expect(screen.queryByRole('note')).toBeNull()
})

test('patches that one of the two has not read are counted', async () => {
  const { patches, ...rest } = worse.metrics
  begin('?a=3&b=4', good, { ...worse, metrics: { ...rest, patches: patches.slice(1) } })
  expect(await patchRows()).toHaveLength(38)
  expect(screen.getByText('1 patch was read in one of the two only.')).toBeTruthy()
})

test('a validation that is not there says so', async () => {
  const detail = 'There is no validation 9.'
  api.begin({ 'GET /api/runs/9/review': { status: 404, body: { title: 'x', status: 404, detail } } })
  showInApp(<ComparePage />, '/review/compare?a=9&b=9')
  expect((await screen.findByRole('alert')).textContent).toContain(detail)
})
