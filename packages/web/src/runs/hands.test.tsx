import { askNames } from '@bichroma/core/runs'
import type { Condition, LevelGauge as Gauge, RunDetail } from '@bichroma/contract'
import { run } from '../test/fixtures'
import { markup, textOf } from '../test/markup'
import { toLookAt } from './Confirmations'
import { asksHands, HandsNow } from './HandsNow'
import { LevelGauge } from './LevelGauge'
import { Stages } from './Stages'

const gauge = (change: Partial<Gauge>): Gauge => ({ from: 130, to: 133.2, luminances: [150], turn: 'down', ...change })

test.each<[Gauge['turn'], number, string]>([
  ['down', 150.26, '▼ Turn the brightness down 150.3 cd/m², to rest between 130.0 and 133.2'],
  ['up', 98, '▲ Turn the brightness up 98.0 cd/m²'],
  ['hold', 131, '■ Leave it as it is 131.0 cd/m²'],
])('the gauge says what to turn by shape and word, with the newest light: %s', (turn, newest, words) => {
  const html = markup(<LevelGauge gauge={gauge({ turn, luminances: [150, newest] })} display="Field 4" />)
  expect(textOf(html)).toContain(words)
  expect(textOf(html)).toContain('Brightness of Field 4')
  expect(html).toContain('role="status"')
})

describe('what a run waits for somebody to look at', () => {
  const condition = (change: Partial<Condition>): Condition => ({
    id: 'mirroring',
    label: 'Mirroring off',
    found: 'sedge-01 does not tell',
    ok: false,
    confirm: 'needed',
    remedy: null,
    ...change,
  })
  const waiting = (conditions: Condition[], change = {}) =>
    run({ state: 'waiting', stage: 'ready', stages: [{ ...run().stages[0], endedAt: null, conditions }], ...change })

  test('is what nothing tells, while the run waits in Ready', () => {
    expect(toLookAt(waiting([condition({}), condition({ id: 'dataLink', confirm: undefined })]))).toEqual([
      condition({}),
    ])
  })

  test('is nothing once it is confirmed, while the run goes on, and of advice', () => {
    expect(toLookAt(waiting([condition({ ok: true, confirm: { by: 'Tobin', at: 1 } })]))).toEqual([])
    expect(toLookAt(waiting([condition({})], { state: 'running' }))).toEqual([])
    expect(toLookAt(waiting([condition({ advisory: true })]))).toEqual([])
  })

  test('who looked stands among the conditions', () => {
    const looked = waiting([condition({ ok: true, confirm: { by: 'Tobin', at: Date.UTC(2026, 10, 26, 9) } })])
    expect(textOf(markup(<Stages run={looked} />))).toMatch(/Looked at by Tobin, 26 Nov, \d\d:00: Mirroring off/)
  })
})

test.each([
  ['full', ['17 readings of the panel', 'Greys in rounds and colours, usual', '39 patches']],
  ['refresh', ['5 readings of the panel', 'What changed since the last full run', '39 patches']],
  ['spot', ['9 patches', 'Report']],
] as const)('what lies ahead of a %s run is told for its kind', (kind, lines) => {
  const text = textOf(markup(<Stages run={run({ kind, stage: 'ready', stages: [] })} />))
  for (const line of lines) expect(text).toContain(line)
})

describe('what is asked of hands', () => {
  const told = (change: Partial<RunDetail>) => markup(<HandsNow run={{ ...run(), ...change }} />)

  test.each(askNames)('%s has a drawing of its own and the sentence beside it', (asks) => {
    const html = told({ state: 'waiting', asks, message: 'Do this. Then press “Go on”.' })
    expect(html).toContain(`data-asks="${asks}"`)
    expect(textOf(html)).toContain('Do this. Then press “Go on”.')
    expect((html.match(/<(path|rect|circle) /g) ?? []).length).toBeGreaterThan(3)
  })

  test('no two drawings are the same', () => {
    const drawn = askNames.map((asks) => told({ state: 'waiting', asks }).match(/<svg[^>]*>(.*)<\/svg>/)![1])
    expect(new Set(drawn).size).toBe(askNames.length)
  })

  test('a run that stopped at Ready shows what was not met, the first of it large', () => {
    const condition = (id: string, ok: boolean, advisory = false) => ({
      id,
      label: `Label of ${id}`,
      found: `found ${id}`,
      ok,
      advisory,
      remedy: ok ? null : `Mend ${id}.`,
    })
    const conditions = [
      condition('courier', true),
      condition('dataLink', false),
      condition('hdr', false),
      condition('clock', false, true),
    ]
    const ready = { stage: 'ready' as const, startedAt: 1, endedAt: null, tookMs: 0, evidence: [], conditions }
    const failed = { ...run(), state: 'failed' as const, stage: 'ready' as const, stages: [ready] }
    expect(asksHands(failed)).toBe(true)
    const html = markup(<HandsNow run={failed} />)
    expect(html).toContain('data-asks="cable"')
    expect(textOf(html)).toMatch(/^Mend dataLink\. .*Label of hdr ?: found hdr\. Mend hdr\./)
    expect(textOf(html)).not.toContain('clock')
  })

  test('a run that goes on, or whose gauge says where to turn, asks for nothing large', () => {
    expect(asksHands({ ...run(), state: 'running', asks: null })).toBe(false)
    const gauge = { from: 90, to: 95, luminances: [80], turn: 'up' as const }
    const stages = [{ stage: 'level' as const, startedAt: 1, endedAt: null, tookMs: 0, evidence: [], gauge }]
    expect(asksHands({ ...run(), state: 'waiting', stage: 'level', asks: 'brightness', stages })).toBe(false)
    expect(asksHands({ ...run(), state: 'waiting', stage: 'level', asks: 'brightness', stages: [] })).toBe(true)
  })
})
