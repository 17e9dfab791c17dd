import { verdictWords, type Verdict } from '@bichroma/core/aims'
import { count, markup, textOf } from '../test/markup'
import { AimRing } from './AimRing'
import { Figure } from './Figure'
import { VerdictLabel, VerdictSign } from './VerdictSign'

const verdicts = Object.keys(verdictWords) as Verdict[]
const d65 = { x: 0.3127, y: 0.329 }

describe('verdict signs', () => {
  test('every verdict has a shape of its own, told apart without hue', () => {
    const shapes = verdicts.map((verdict) =>
      markup(<VerdictSign verdict={verdict} />)
        .replace(/style="[^"]*"/, '')
        .replace(/aria-label="[^"]*"/, ''),
    )
    expect(new Set(shapes).size).toBe(6)
  })

  test.each(verdicts)('%s is named when it stands alone, and only once beside its word', (verdict) => {
    expect(markup(<VerdictSign verdict={verdict} />)).toContain(`aria-label="${verdictWords[verdict]}"`)
    const label = markup(<VerdictLabel verdict={verdict} />)
    expect(textOf(label)).toBe(verdictWords[verdict])
    expect(label).not.toContain('aria-label')
  })

  test('only what asks for attention is drawn in ochre', () => {
    const ochre = verdicts.filter((verdict) => markup(<VerdictSign verdict={verdict} />).includes('--ochre'))
    expect(ochre).toEqual(['near', 'untold', 'outside'])
  })
})

describe('the aim ring', () => {
  const ring = (verdict: Verdict, measured: typeof d65 | null = { x: 0.3137, y: 0.33 }) =>
    markup(<AimRing aim={d65} measured={measured} verdict={verdict} />)

  test('has the aim’s white outside and another inside when they differ', () => {
    const colors = ring('within').match(/rgb\([^)]*\)/g)!
    expect(colors).toHaveLength(2)
    expect(colors[0]).not.toBe(colors[1])
    const same = ring('within', d65).match(/rgb\([^)]*\)/g)!
    expect(same[0]).toBe(same[1])
  })

  test('is broken when lapsed, and without a disc when unproven', () => {
    expect(ring('lapsed')).toContain('stroke-dasharray="10 4.81"')
    expect(ring('within')).not.toContain('stroke-dasharray')
    expect(count(ring('unproven'), 'rgb(')).toBe(1)
  })

  test('says what it is and how much it enlarges', () => {
    expect(ring('near')).toContain('aria-label="Aim ring, near edge; white difference drawn 12 times as large"')
  })

  test('has neither white where nothing is aimed at', () => {
    expect(markup(<AimRing aim={null} measured={null} verdict="unproven" />)).not.toContain('rgb(')
  })
})

test('figures have fixed digits and a quiet unit; nothing is a dash', () => {
  expect(textOf(markup(<Figure value={119.94} unit="cd/m²" digits={1} />))).toBe('119.9 cd/m²')
  expect(textOf(markup(<Figure value={null} digits={1} />))).toBe('–')
})
