/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, within } from '@testing-library/react'
import type { Forecast } from '@bichroma/core/drift'
import type { FleetGroup, InstrumentReading } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { day, now } from '../test/fixtures'
import { hands } from '../test/formHands'
import { FleetGroups } from './FleetGroups'
import { Horizon, HorizonScale } from './Horizon'
import { forecastWords } from './DriftPage'
import { InstrumentStandings } from './InstrumentStandings'

const crosses = (inDays: number, early: number, late: number | null): Forecast =>
  ({
    kind: 'crosses',
    at: now + inDays * day,
    earliest: now + early * day,
    latest: late === null ? null : now + late * day,
    sentence: `In about ${inDays} days.`,
  }) as Forecast
const kind = (kind: 'past' | 'steady', sentence = '') => ({ kind, sentence }) as Forecast
const few = (observations: number) => ({ kind: 'not enough history', observations, sentence: '' }) as Forecast

test.each([
  [null, 'no rule decides'],
  [kind('past'), 'past, by its trend'],
  [kind('steady'), 'not within five years'],
  [few(1), 'after 3 more checks'],
  [few(3), 'after 1 more check'],
  [crosses(-2, -20, 9), 'about now'],
  [crosses(0, -20, 9), 'about now'],
  [crosses(40, 20, 90), '3 Jan'],
])('when a slot leaves its limits, in few words: %#', (forecast, words) => {
  expect(forecastWords(forecast, now)).toContain(words)
})

describe('a strip of the months ahead', () => {
  const strip = (forecast: Forecast | null) => {
    const { container } = show(<Horizon forecast={forecast} now={now} />)
    const svg = container.querySelector('svg')!
    return {
      says: svg.getAttribute('aria-label'),
      bar: svg.querySelector('rect'),
      paths: [...svg.querySelectorAll('path')],
    }
  }

  test('has a bar from the earliest day to the latest, and a mark at the likeliest', () => {
    const { says, bar, paths } = strip(crosses(100, 60, 200))
    expect(says).toBe('In about 100 days.')
    const [from, width] = ['x', 'width'].map((name) => Number(bar!.getAttribute(name)))
    const at = Number(/^M([\d.]+) 2v13$/.exec(paths.at(-1)!.getAttribute('d')!)![1])
    expect(from).toBeLessThan(at)
    expect(from + width).toBeGreaterThan(at)
    // Twice as far away is twice as far along.
    expect(at / from).toBeCloseTo(100 / 60, 6)
  })

  test('soon is told by a colour of its own, later is not', () => {
    const color = (inDays: number) => strip(crosses(inDays, inDays - 5, inDays + 5)).bar!.getAttribute('fill')
    expect(color(30)).toBe('var(--ochre)')
    expect(color(90)).not.toBe(color(30))
  })

  test('a bar without a latest day goes to the strip’s end; one beyond it is an arrow there', () => {
    const open = strip(crosses(100, 60, null)).bar!
    expect(Number(open.getAttribute('x')) + Number(open.getAttribute('width'))).toBeCloseTo(110, 6)
    const far = strip(crosses(900, 700, null))
    expect(far.bar).toBeNull()
    expect(far.paths.at(-1)!.getAttribute('d')).toMatch(/^M104 4/)
  })

  test.each([
    [kind('past'), 'past its limits by its trend'],
    [kind('steady'), 'does not move towards its limits'],
    [few(2), 'not enough history'],
    [null, 'not enough history'],
  ])('what has no day is said: %#', (forecast, says) => {
    const found = strip(forecast)
    expect([found.says, found.bar]).toEqual([says, null])
  })

  test('its head has the months at its ends and in its middle', () => {
    show(<HorizonScale now={now} />)
    expect(['now', 'Aug 27', 'May 28'].map((text) => screen.getByText(text))).toHaveLength(3)
  })
})

describe('groups of the fleet', () => {
  const group = (name: string, median: number): FleetGroup => ({
    ...{ name, slots: 4, outside: 0, soon: 0, least: median - 0.2, quarter: median - 0.1 },
    ...{ median, threeQuarters: median + 0.1, most: median + 0.3 },
  })
  const groups = {
    model: [group('Quillon QL-27', 0.5), group('Wren F7', 0.9)],
    age: [group('a year', 0.6)],
    room: [group('Dome', 0.4)],
    instrument: [],
  }

  test('are by model first, each with its spread in words, and by what is taken', async () => {
    show(<FleetGroups groups={groups} />)
    const row = within(screen.getByText('Wren F7').closest('tr')!)
    expect(row.getByRole('img', { name: 'from 0.70 to 1.20, median 0.90' })).toBeTruthy()
    await hands.take('Grouped by', 'age')
    expect(screen.getByText('followed for')).toBeTruthy()
    expect(screen.queryByText('Wren F7')).toBeNull()
    await hands.take('Grouped by', 'instrument')
    expect(screen.getByRole('region', { name: 'Distribution by instrument' })).toBeTruthy()
  })

  test('all are drawn to one scale: what is wider is drawn wider', () => {
    const wide = { ...group('Wide', 1), quarter: 0.2, threeQuarters: 1.8, most: 2 }
    const { container } = show(<FleetGroups groups={{ ...groups, model: [group('Narrow', 1), wide] }} />)
    const [narrow, wider] = [...container.querySelectorAll('rect')].map((r) => Number(r.getAttribute('width')))
    expect(wider / narrow).toBeCloseTo(8, 6)
  })
})

describe('instruments beside each other', () => {
  const reads = (name: string, luminance: number, stands: boolean): InstrumentReading =>
    ({
      ...{ instrumentId: luminance * 100, name, slots: 6, luminance, x: -0.1, z: 0.25, stands },
      sentence: `${name} reads ${luminance} % bright.`,
    }) as InstrumentReading

  test('one that stands out is told with its sentence, the others by figures with their signs', () => {
    show(<InstrumentStandings changes={[]} instruments={[reads('TC-0417', 0.2, false), reads('TC-0288', 0.9, true)]} />)
    expect(screen.getAllByRole('note').map((n) => n.textContent)).toEqual(['TC-0288 reads 0.9 % bright.'])
    const row = within(screen.getByText('TC-0417').closest('tr')!)
    expect([row.getByText('+0.2 %'), row.getByText('−0.1 %')]).toHaveLength(2)
  })

  test('one that has begun to read otherwise is told first, and then none is said to read like the others', () => {
    const sentence = 'TC-0288 has read 0.6 % ± 0.2 bright since about 3 March 2026.'
    const change = {
      instrumentId: 3,
      name: 'TC-0288',
      since: 0,
      luminance: 0.006,
      within: 0.002,
      readings: 14,
      sentence,
    }
    show(<InstrumentStandings instruments={[reads('TC-0417', 0.2, false)]} changes={[change]} />)
    expect(screen.getAllByRole('note').map((n) => n.textContent)).toEqual([`${sentence} `])
    expect(screen.queryByText(/None reads differently/)).toBeNull()
  })

  test('none that stands out, and none that can be compared, are said', () => {
    const { unmount } = show(<InstrumentStandings changes={[]} instruments={[reads('TC-0417', 0.2, false)]} />)
    expect(screen.getByText(/None reads differently/)).toBeTruthy()
    unmount()
    show(<InstrumentStandings changes={[]} instruments={[]} />)
    expect(screen.getByText(/No slot has been read by two instruments/)).toBeTruthy()
  })
})
