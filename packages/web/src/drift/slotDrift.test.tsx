/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import type { LimitRule } from '@bichroma/core/aims'
import { standardWhites } from '@bichroma/core/color'
import { figureKey, forecastRule, signedKey, slotDrift, type TrackedFigures } from '@bichroma/core/drift'
import type { DisplayEvent, HistoryPoint, SlotHistory } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { formatDay } from '../parts/times'
import { day, now } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { StubbedApi } from '../test/stubbedApi'
import { SlotDriftPage } from './SlotDriftPage'

const rules: LimitRule[] = [
  { metric: 'averageDeltaE', near: 1, hard: 1.5 },
  { metric: 'luminanceOff', near: 5, hard: 10 },
  { metric: 'contrast', near: 800, hard: 600 },
]
const key = (rule: LimitRule) => figureKey(rule, 'de2000')
/** Weeks of checks, the newest today, with what each read. */
function historyOf(
  figures: readonly TrackedFigures[],
  change: Partial<SlotHistory> = {},
  point: (n: number) => Partial<HistoryPoint> = () => ({}),
): SlotHistory {
  const history = figures.map((f, n): HistoryPoint => ({
    runId: 40 + n,
    at: now - 28 * day * (figures.length - 1 - n),
    kind: 'check',
    imported: false,
    calibrated: n === 0,
    segment: 0,
    instrument: 'Colorimeter C3 TC-0417',
    verdict: 'within',
    figures: f,
    ...point(n),
  }))
  const drift = slotDrift(
    history.map((h) => ({ ...h, instrumentId: 1 })),
    standardWhites.D65,
  )
  return {
    displayName: 'Sedge 2',
    slot: 1,
    label: 'Atlas web',
    slots: [{ number: 1, label: 'Atlas web' }],
    limitsName: 'Plate work',
    formula: 'de2000',
    history,
    rules: figures.length
      ? rules.map((rule) => ({
          rule,
          key: key(rule),
          trend: drift.trends[key(rule)] ?? null,
          forecast: forecastRule(drift, rule, 'de2000', { edge: rule.hard, now }),
        }))
      : [],
    events: [],
    ...change,
  }
}
/** Ten checks of light that fades by a per cent a month, colours that hold, and a contrast that does not move. */
const fading = Array.from({ length: 10 }, (_, n) => ({
  [key(rules[0])]: 0.6 + 0.004 * (n % 2),
  [signedKey]: -0.9 * n - 0.02 * (n % 3),
  [key(rules[2])]: 1100 + (n % 2),
}))

const api = new StubbedApi()
const begin = (history: SlotHistory, at = '/drift/2') => {
  api.begin({ [`GET /api/drift/2${at.split('/drift/2')[1]}`]: { body: history } })
  return showAt('/drift/:id', <SlotDriftPage />, at)
}
const figures = async () => {
  const plane = (await screen.findByRole('heading', { name: /Figures with limits/ })).closest<HTMLElement>('.plane')!
  return within(plane).getAllByRole('button')
}
const chart = () => document.querySelector<SVGElement>('.chart svg.recharts-surface')!
const dots = () => [...chart().querySelectorAll('.recharts-scatter circle')]
const words = () => [...chart().querySelectorAll('.recharts-label')].map((t) => t.textContent)
beforeAll(() => layOut(30))
afterEach(() => {
  cleanup()
  api.end()
})

test('the figure that will be past its edge first is shown first, and its forecast in a sentence @long', async () => {
  const history = historyOf(fading)
  begin(history)
  const [colour, light, contrast] = await figures()
  expect([colour, light, contrast].map((b) => b.getAttribute('aria-pressed'))).toEqual(['false', 'true', 'false'])
  expect(history.rules[1].forecast.kind).toBe('crosses')
  expect(screen.getByText(history.rules[1].forecast.sentence)).toBeTruthy()
  // As it was read, with its sign; how it moves; when it leaves.
  expect(light.querySelector('.fig')!.textContent).toMatch(/^−8\.1 %$/)
  const [, moves, leaves] = /^−(\d\.\d{3}) a month; leaves (.+)$/.exec(light.querySelector('small')!.textContent!)!
  expect(Number(moves)).toBeGreaterThan(0.9)
  expect(Number(moves)).toBeLessThan(1.1)
  expect(leaves).toMatch(/\d{1,2} \w{3}/)
  expect(contrast.querySelector('small')!.textContent).toMatch(/a month; not within five years$/)
})

test('another figure is shown once it is chosen: title, edges and forecast are its own @long', async () => {
  const history = historyOf(fading)
  begin(history)
  await hands.pressThis((await figures())[0])
  expect((await figures()).map((b) => b.getAttribute('aria-pressed'))).toEqual(['true', 'false', 'false'])
  expect(screen.getByText(history.rules[0].forecast.sentence)).toBeTruthy()
  expect(document.querySelector('.slotdrift .plane h2')!.textContent).toContain('ΔE2000')
})

describe('the chart', () => {
  test('has a dot for every reading of its figure, an edge on both sides of a figure with a sign, and now @long', async () => {
    begin(historyOf([...fading, { [key(rules[0])]: 0.6 }]))
    await figures()
    await waitFor(() => expect(dots()).toHaveLength(10))
    await waitFor(() => expect(words().filter((w) => w === 'hard edge')).toHaveLength(2))
    expect(words().filter((w) => w === 'near edge')).toHaveLength(2)
    expect(words()).toContain('now')
    await hands.pressThis((await figures())[0])
    await waitFor(() => expect(dots()).toHaveLength(11))
    expect(words().filter((w) => /edge/.test(w!))).toEqual(['near edge', 'hard edge'])
  })

  test('readings come later to the right, and more of a figure stands higher @long', async () => {
    begin(historyOf(fading))
    await figures()
    await waitFor(() => expect(dots()).toHaveLength(10))
    const [x, y] = ['cx', 'cy'].map((name) => dots().map((d) => Number(d.getAttribute(name))))
    for (let i = 1; i < 10; i++) expect(x[i]).toBeGreaterThan(x[i - 1])
    for (let i = 1; i < 10; i++) expect(y[i]).toBeGreaterThan(y[i - 1])
    // Equal steps of time are equal steps along the axis.
    for (let i = 2; i < 10; i++) expect(x[i] - x[i - 1]).toBeCloseTo(x[1] - x[0], 3)
  })

  test('what was imported is an open dot @long', async () => {
    begin(historyOf(fading, {}, (n) => ({ imported: n === 4 })))
    await figures()
    await waitFor(() => expect(dots()).toHaveLength(10))
    expect(dots().map((d) => d.getAttribute('fill') === 'var(--plane)')).toEqual(
      Array.from({ length: 10 }, (_, n) => n === 4),
    )
  })

  test('what happened stands on it by its kind; a change of instrument does not, for dots tell by whom they were read @long', async () => {
    const events: DisplayEvent[] = [
      { at: now - 100 * day, kind: 'moved', text: 'Moved from Reed Room to Sedge Room.' },
      { at: now - 60 * day, kind: 'instrument', text: 'Read with Colorimeter C3 TC-0522 from now on.' },
    ]
    begin(historyOf(fading, { events }))
    await figures()
    await waitFor(() => expect(words()).toContain('moved'))
    expect(words()).not.toContain('instrument')
    const list = within(screen.getByRole('list', { name: 'What happened to it' }))
    const told = list.getAllByRole('listitem').map((l) => l.textContent!)
    // The newest first.
    expect(told).toEqual([...events].reverse().map((e) => formatDay(e.at) + e.text))
  })

  test('a figure that no validation read says so @long', async () => {
    begin(historyOf(fading.map(({ [signedKey]: light }) => ({ [signedKey]: light }))))
    await hands.pressThis((await figures())[2])
    expect(screen.getByText('This figure was not read in any validation.')).toBeTruthy()
    expect((await figures())[2].querySelector('.fig')!.textContent).toBe('–')
  })
})

describe('its head', () => {
  test('says of which slot, since when and by which limits @long', async () => {
    begin(historyOf(fading))
    expect((await screen.findByRole('heading', { level: 1 })).textContent).toBe('Sedge 2, slot 1, Atlas web')
    expect(screen.getByText(/^10 validations since .*, judged by “Plate work”$/)).toBeTruthy()
  })

  test('compares the last two, where there are two @long', async () => {
    begin(historyOf(fading))
    await figures()
    await hands.press('Compare the last two')
    expect(await screen.findByText('elsewhere')).toBeTruthy()
    cleanup()
    api.end()
    begin(historyOf(fading.slice(0, 1)))
    expect((await figures())[0].querySelector('small')!.textContent).toBe('after 3 more checks')
    expect(screen.queryByRole('button', { name: 'Compare the last two' })).toBeNull()
  })

  test('leads to other slots of the display, and asks for what it is sent to @long', async () => {
    const slots = [
      { number: 1, label: 'Atlas web' },
      { number: 2, label: 'Atlas print' },
    ]
    begin(historyOf(fading, { slots }))
    api.answers['GET /api/drift/2?slot=2'] = { body: historyOf(fading, { slots, slot: 2 }) }
    await figures()
    await hands.take('Slot shown', '2 Atlas print')
    await waitFor(() => expect(api.asked).toContain('/api/drift/2?slot=2'))
  })

  test('a slot that was never validated says when its curve begins', async () => {
    begin(historyOf([], { label: '' }))
    expect(await screen.findByText('A curve begins with the first validation of this slot.')).toBeTruthy()
    expect(screen.getByText('Not validated yet')).toBeTruthy()
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Sedge 2, slot 1, empty')
  })
})
