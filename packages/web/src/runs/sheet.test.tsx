import { stageLabels, stages } from '@bichroma/core/runs'
import { metrics, run } from '../test/fixtures'
import { count, markup, textOf } from '../test/markup'
import { LivePatch } from './LivePatch'
import { ReadingsLog } from './ReadingsLog'
import { Stages } from './Stages'
import { WhiteTarget } from './WhiteTarget'

describe('the stages', () => {
  test('stand in order, each done, now or ahead', () => {
    const html = markup(<Stages run={run()} />)
    const order = stages.map((s) => html.indexOf(`>${stageLabels[s]}<`))
    expect(order).toEqual([...order].sort((a, b) => a - b))
    expect(count(html, 'class="stage done"')).toBe(3)
    expect(count(html, 'class="stage now"')).toBe(1)
    expect(count(html, 'class="stage later"')).toBe(3)
    expect(html).toContain('aria-current="step"')
    expect(textOf(html)).toContain('41 % of the run')
    expect(textOf(html)).toContain('Evidence of level')
    expect(textOf(html)).toContain('Tables to the slot, read back, compared')
  })

  test('a check run has three', () => {
    const html = markup(<Stages run={run({ kind: 'check', stage: 'ready', stages: [] })} />)
    expect(count(html, 'class="stage ')).toBe(3)
  })

  test('where a run broke is marked, and an unmet condition is told as such', () => {
    const failed = run({
      state: 'failed',
      stage: 'ready',
      stages: [
        {
          ...run().stages[0],
          endedAt: null,
          conditions: [{ id: 'link', label: 'Data link', found: 'no answer', ok: false, remedy: 'Plug it in.' }],
        },
      ],
    })
    const html = markup(<Stages run={failed} />)
    expect(count(html, 'class="stage broke"')).toBe(1)
    expect(count(html, 'class="stage now"')).toBe(0)
    expect(textOf(html)).toContain('Not met: Data link: no answer')
  })
})

describe('the live patch', () => {
  test('shows the colour and its name, with text that can be read on it', () => {
    const dark = markup(<LivePatch run={run()} />)
    expect(dark).toContain('background:rgb(51 51 54)')
    expect(dark).toContain('color:#f2f2f2')
    expect(textOf(dark)).toBe('Grey 4 %, round 1 20.0 20.0 21.0 %')
    expect(markup(<LivePatch run={run({ patch: { name: 'White', rgb: [1, 1, 1] } })} />)).toContain('color:#111')
  })

  test('says that there is none when the run is over', () => {
    expect(textOf(markup(<LivePatch run={run({ state: 'done' })} />))).toBe('No patch on the display')
    expect(textOf(markup(<LivePatch run={run({ patch: null })} />))).toBe('No patch on the display')
  })
})

describe('white against the aim', () => {
  test('draws every white reading, and the newest luminance beside the aim', () => {
    const html = markup(<WhiteTarget run={run()} aimWhite={{ x: 0.3127, y: 0.329 }} />)
    expect(html.match(/<polyline points="([^"]*)"/)![1].split(' ')).toHaveLength(1)
    expect(textOf(html)).toContain('120.3')
    expect(textOf(html)).toContain('aim 120')
  })

  test('keeps a white far away on its rim', () => {
    const far = run({ log: [{ ...run().log[0], xyz: [200, 100, 20] }] })
    const html = markup(<WhiteTarget run={far} aimWhite={{ x: 0.3127, y: 0.329 }} />)
    const [x, y] = html
      .match(/<polyline points="([^"]*)"/)![1]
      .split(',')
      .map(Number)
    expect(Math.hypot(x - 98, y - 98)).toBeLessThanOrEqual(98)
  })
})

test('the log is newest first, with digits by brightness, and says when it is empty', () => {
  const text = textOf(markup(<ReadingsLog log={run().log} />))
  expect(text).toContain('Grey 2 %, round 1 0.31 0.31')
  expect(text).toContain('White 120.3 –')
  expect(text.indexOf('Grey 2 %')).toBeLessThan(text.indexOf('White 120.3'))
  expect(textOf(markup(<ReadingsLog log={[]} />))).toContain('None yet.')
  const long = Array.from({ length: 500 }, (_, seq) => ({ ...run().log[0], seq, name: `P${seq}` }))
  expect(count(markup(<ReadingsLog log={long} />), '<tr>')).toBeLessThanOrEqual(121)
  expect(metrics.patches.length).toBe(39)
})
