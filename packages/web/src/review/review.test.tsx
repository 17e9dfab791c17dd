import { judgement, metrics } from '../test/fixtures'
import { count, markup, textOf } from '../test/markup'
import { ChromaticityDiagram } from '../charts/ChromaticityDiagram'
import { AchievedTable } from './AchievedTable'
import { PatchTable } from './PatchTable'

describe('aim, achieved and difference', () => {
  const rowsOf = (html: string) => html.split('<tr>').slice(1).map(textOf)
  const rows = rowsOf(markup(<AchievedTable metrics={metrics} judgement={judgement} />))
  const row = (name: string) => rows.find((r) => r.startsWith(name))!

  test('stand together with the digits they deserve', () => {
    expect(row('Luminance')).toMatch(/^Luminance cd\/m² 120\.0 120\.0 0\.0 %$/)
    expect(row('White x')).toMatch(/0\.3127 0\.31\d\d −0\.00\d\d$/)
    expect(row('White ')).toMatch(/[\d,]+0 K [\d,]+0 K [+−]?\d+$/)
    expect(row('Tone, average')).toMatch(/\d\.\d\d \d\.\d\d [+−]?\d\.\d\d$/)
    expect(row('Contrast')).toMatch(/^Contrast – \d+ : 1 –$/)
  })

  test('a reader who subtracts gets the difference that is shown', () => {
    const [aim, got, difference] = row('White ')
      .replace('White', '')
      .replaceAll(' K', '')
      .trim()
      .split(' ')
      .map((v) => Number(v.replace(/,/g, '').replace('−', '-').replace('+', '')))
    expect(got - aim).toBe(difference)
  })

  test('every rule has its near edge, its figure and its verdict', () => {
    expect(row('Average ΔE2000')).toMatch(/≤ 1\.00 0\.\d\d within$/)
    expect(row('Luminance off aim')).toMatch(/≤ 2\.0 % 0\.0 % within$/)
  })

  test('a figure whose doubt is known stands with it, and with a whisker; one that cannot be told says so', () => {
    const [average, ...others] = judgement.rules
    const doubted = (interval: { low: number; high: number }, verdict: 'within' | 'untold') =>
      markup(
        <AchievedTable
          metrics={metrics}
          judgement={{ ...judgement, rules: [{ ...average, value: 0.5, interval, verdict }, ...others] }}
        />,
      )
    const of = (html: string) => rowsOf(html).find((r) => r.startsWith('Average ΔE2000'))!
    expect(of(doubted({ low: 0.4, high: 0.62 }, 'within'))).toMatch(/0\.50 ± 0\.12 within$/)
    expect(of(doubted({ low: 0.48, high: 1.9 }, 'untold'))).toMatch(/0\.50 \+1\.40 −0\.02 cannot be told$/)
    expect(count(doubted({ low: 0.4, high: 0.62 }, 'within'), 'class="whisker"')).toBe(1)
    expect(markup(<AchievedTable metrics={metrics} judgement={judgement} />)).not.toContain('whisker')
  })

  test('brief leaves the finer rows out', () => {
    const brief = rowsOf(markup(<AchievedTable metrics={metrics} judgement={judgement} brief />))
    expect(brief.some((r) => r.startsWith('White x'))).toBe(false)
    expect(brief).toHaveLength(rows.length - 3)
  })
})

test('patches are worst first, each as a pair of colours', () => {
  const html = markup(<PatchTable metrics={metrics} formula="de2000" />)
  const errors = html
    .split('<tr')
    .slice(2)
    .map((r) => Number(textOf(r).split(' ').pop()))
  expect(errors).toHaveLength(39)
  expect(errors).toEqual([...errors].sort((a, b) => b - a))
  expect(count(html, 'class="pairchip"')).toBe(39)
})

describe('the chromaticity diagram', () => {
  const corners = (html: string) =>
    html
      .match(/<polygon points="([^"]*)"/g)!
      .map((p) => p.match(/[\d.]+,[\d.]+/g)!.map((c) => c.split(',').map(Number)))

  test('draws the locus, the aim’s triangle and the measured one, and the raw panel’s where there is one', () => {
    expect(corners(markup(<ChromaticityDiagram metrics={metrics} baseline={null} trail={[]} />))).toHaveLength(3)
    const all = corners(markup(<ChromaticityDiagram metrics={metrics} baseline={metrics} trail={[]} />))
    expect(all).toHaveLength(4)
    expect(all.slice(1).every((p) => p.length === 3)).toBe(true)
    for (const point of all.flat())
      expect(point[0] >= 0 && point[0] <= 440 && point[1] >= 0 && point[1] <= 370).toBe(true)
  })

  test('has one scale on both axes, so that distances are what they seem', () => {
    const html = markup(<ChromaticityDiagram metrics={metrics} baseline={null} trail={[]} />)
    const xs = [...html.matchAll(/d="M([\d.]+) [\d.]+V/g)].map((m) => Number(m[1]))
    const ys = [...html.matchAll(/d="M40 ([\d.]+)H/g)].map((m) => Number(m[1]))
    expect(Math.abs(xs[1] - xs[0] - (ys[0] - ys[1]))).toBeLessThan(1.5)
  })

  test('leaves the measured triangle out when its corners were not read', () => {
    const html = markup(<ChromaticityDiagram metrics={{ ...metrics, primaries: null }} baseline={null} trail={[]} />)
    expect(corners(html)).toHaveLength(2)
    expect(html).not.toContain('Primaries, xy')
  })
})
