import { ruleAtLevel, type LimitRule } from '../../aims/limits'
import type { Metrics } from '../../aims/metrics'
import { toneErrorChart } from './metricsCharts'

const rule = (near: number, levels?: LimitRule['levels']): LimitRule => ({
  metric: 'toneError',
  near,
  hard: 2 * near,
  levels,
})
const rules = [rule(1), rule(2, { from: 0, to: 0.2 }), { ...rule(9), metric: 'averageDeltaE' as const }]

test('a rule that names a level counts there before one for all, wherever it stands in the list', () => {
  const nearAt = (level: number) => ruleAtLevel({ rules }, 'toneError', level)?.near
  expect([0, 0.1, 0.2, 0.21, 1].map(nearAt)).toEqual([2, 2, 2, 1, 1])
  expect(ruleAtLevel({ rules: [...rules].reverse() }, 'toneError', 0.1)?.near).toBe(2)
  expect(ruleAtLevel({ rules }, 'greyChroma', 0.1)).toBeUndefined()
})

test('the tone band of a report is as wide at each level as the rule there says, without a gap', () => {
  const greys = [0.1, 0.2, 0.5, 0.9].map((level) => ({ level, lightnessError: 0.3 }))
  const { svg } = toneErrorChart({ greys } as unknown as Metrics, { rules })
  const bands = [...svg.matchAll(/<rect x="([\d.]+)" y="([\d.]+)" width="([\d.]+)" height="([\d.]+)"/g)]
    .map((m) => m.slice(1).map(Number))
    .filter(([, , , height]) => height > 4)
    .slice(-4)
  expect(bands).toHaveLength(4)
  const [wide, alsoWide, narrow, alsoNarrow] = bands.map(([, , , height]) => height)
  expect(alsoWide).toBeCloseTo(wide, 1)
  expect(alsoNarrow).toBeCloseTo(narrow, 1)
  expect(wide / narrow).toBeCloseTo(2, 1)
  for (const [i, [x]] of bands.entries()) if (i) expect(x).toBeCloseTo(bands[i - 1][0] + bands[i - 1][2], 0)
})
