/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, within } from '@testing-library/react'
import type { Limits } from '@bichroma/core/aims'
import type { Role, RunReview } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { metricsOf, now, reviewOf, runSummary } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { ReviewPage } from './ReviewPage'

const hash = 'e'.repeat(64)
const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = (review: RunReview, { role = 'technician' as Role, more = {} as typeof api.answers } = {}) => {
  api.begin({ 'GET /api/session': signedInAs(role), 'GET /api/runs/9/review': { body: review }, ...more })
  return showAt('/review/:id', <ReviewPage />, '/review/9')
}
beforeAll(() => layOut(30))
afterEach(() => {
  cleanup()
  api.end()
})
const acts = async () => {
  const header = (await screen.findByRole('heading', { level: 1 })).closest('header')!
  return [...header.querySelectorAll('.acts button')].map((b) => b.textContent)
}

test('the verdict stands on top in a sentence, with what it is of and by whom @long', async () => {
  begin(reviewOf())
  const header = (await screen.findByRole('heading', { level: 1 })).closest('header')!
  expect(header.textContent).toContain('Sedge 1, slot 1, Atlas web')
  expect(header.querySelector('.verdict')!.textContent).toContain(reviewOf().judgement.sentence)
  expect(header.textContent).toMatch(/Full run, .* · sRGB · D65 · 120 cd\/m².* · Colorimeter C3 TC-0417 · Marit Oyen/)
})

describe('what can be done', () => {
  const outside = { ...reviewOf().judgement, verdict: 'outside' as const }
  const previous = { run: runSummary({ id: 4 }), metrics: metricsOf(1.02) }
  const imported = { fileName: 'loop.txt', format: 'CGATS.17', hash } as never
  test.each<[string, Partial<RunReview>, string[]]>([
    ['of a first run', {}, ['Save or open', 'Evidence', 'Run sheet', 'Make profile']],
    [
      'with a profile and a run before',
      { profileHash: hash, previous },
      ['Compare', 'Save or open', 'Evidence', 'Run sheet', 'Make profile anew', 'Place profile'],
    ],
    ['outside', { judgement: outside }, ['Save or open', 'Evidence', 'Run sheet']],
    ['imported', { run: runSummary({ imported }) }, ['Save or open', 'Evidence']],
    [
      'withdrawn',
      {
        run: runSummary({ withdrawn: { at: now, by: 'Marit Oyen', reason: 'It was knocked.' } as never }),
        profileHash: hash,
      },
      ['Save or open', 'Evidence', 'Run sheet'],
    ],
  ])('%s @long', async (_, change, may) => {
    begin(reviewOf(change))
    await acts()
    await api.settled()
    expect(await acts()).toEqual(may)
  })

  test('a viewer places nothing', async () => {
    begin(reviewOf({ profileHash: hash }), { role: 'viewer' })
    await acts()
    await api.settled()
    expect(await acts()).not.toContain('Place profile')
  })
})

test('its profile is placed by a press; a refusal keeps the page where it is @long', async () => {
  begin(reviewOf({ profileHash: hash }), {
    more: { 'POST /api/placements': refusal(409, 'The display is in no room.', 'runId') },
  })
  await hands.pressThis(await screen.findByRole('button', { name: 'Place profile' }))
  expect(await screen.findByText('The display is in no room.')).toBeTruthy()
  expect(api.sent).toEqual([{ method: 'POST', path: '/api/placements', body: { runId: 9 } }])
  delete api.answers['POST /api/placements']
  await hands.press('Place profile')
  expect(await screen.findByText('elsewhere')).toBeTruthy()
})

test('everything that can be saved is there; a profile only where there is one @long', async () => {
  const links = async () => {
    await hands.pressThis(await screen.findByRole('button', { name: 'Save or open' }))
    return (await screen.findAllByRole('menuitem')).map((i) => i.querySelector('a')!.getAttribute('href'))
  }
  const report = '/api/runs/9/report'
  const always = [report, `${report}?as=pdf`, `${report}?as=pdf&evidence=1`, `${report}?as=csv`, `${report}?as=cgats`]
  begin(reviewOf())
  expect(await links()).toEqual(always)
  cleanup()
  api.end()
  begin(reviewOf({ profileHash: hash }))
  expect([...(await links())].sort()).toEqual([...always, '/api/runs/9/profile'].sort())
})

describe('differences by another formula', () => {
  const choose = async (name: string) => {
    await hands.choose('Colour differences shown by', name)
    return within(screen.getByLabelText('Patches')).getAllByRole('row').length
  }

  test('are shown, and the verdict stays by its own @long', async () => {
    begin(reviewOf())
    await screen.findByRole('heading', { level: 1 })
    expect(await choose('ΔE94')).toBeGreaterThan(39)
    expect(screen.getByText(/^The verdict is by ΔE2000\./).textContent).toContain(
      'These limits have no edges for ΔE94, so its figures are only shown.',
    )
    expect(document.querySelector('.verdict')!.textContent).toContain(reviewOf().judgement.sentence)
  })

  test('are judged by edges of their own where the limits have some @long', async () => {
    const others = { de76: [{ metric: 'averageDeltaE', near: 0.01, hard: 0.02 }] } as const
    const limits: Limits = { ...reviewOf().limits, others }
    begin(reviewOf({ limits }))
    await screen.findByRole('heading', { level: 1 })
    await choose('ΔE76')
    expect(screen.getByText(/^The verdict is by ΔE2000\./).textContent).toContain(
      'Figures by ΔE76 have edges of their own here.',
    )
    const row = screen.getByText(/^Average ΔE76/).closest('tr')!
    expect(row.textContent).toMatch(/≤ 0\.01.*outside$/)
  })
})

test('the raw panel before is told of what writes, and of nothing else @long', async () => {
  begin(reviewOf({ baseline: metricsOf(1.3, 0.9) }))
  const plane = (await screen.findByRole('heading', { name: 'Before, tables bypassed' })).closest('section')!
  expect(plane.textContent).toContain('108.0 cd/m²')
  cleanup()
  api.end()
  begin(reviewOf({ run: runSummary({ kind: 'check' }), baseline: metricsOf(1.3, 0.9) }))
  await screen.findByRole('heading', { level: 1 })
  expect(screen.queryByRole('heading', { name: 'Before, tables bypassed' })).toBeNull()
})

test('views that need the room take that of the patches @long', async () => {
  begin(reviewOf({ previous: { run: runSummary({ id: 4 }), metrics: metricsOf(1.02) } }))
  await screen.findByRole('heading', { level: 1 })
  expect(screen.getByText(/^dashed:/)).toBeTruthy()
  await hands.take('View shown', 'Profile')
  expect(screen.queryByLabelText('Patches')).toBeNull()
  expect(screen.queryByText(/^dashed:/)).toBeNull()
  await hands.take('View shown', 'Screen')
  expect(screen.getByLabelText('Patches')).toBeTruthy()
})
