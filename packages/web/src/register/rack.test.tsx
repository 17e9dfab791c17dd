import { display, judged, now, slot } from '../test/fixtures'
import { count, markup, textOf } from '../test/markup'
import { DueStrip } from '../rounds/DueStrip'
import { DisplayTile } from '../floor/DisplayTile'
import { Rack } from './Rack'

const slots = [
  slot(),
  slot({ number: 2, label: 'Press proof', active: false, judged: judged({ verdict: 'lapsed' }) }),
  slot({ number: 3, label: null, aim: null, judged: null, active: false, writtenAt: null, tablesHash: null }),
]

describe('the rack', () => {
  test('tells of each slot what it holds, and which is shown', () => {
    const html = markup(<Rack slots={slots} />)
    const text = textOf(html)
    expect(count(html, 'shown now')).toBe(1)
    expect(text).toContain('Atlas web sRGB · D65 · 120 cd/m² · sRGB tone written')
    expect(text).toContain('119.4 cd/m² 6,480 K white 0.42 · 1.37 average · worst ΔE within')
    expect(text).toContain('lapsed')
    expect(text).toContain('Empty nothing of ours in it')
    expect(html).not.toContain('role="radio"')
  })

  test('is a group of radios when a slot is to be chosen', () => {
    const html = markup(<Rack slots={slots} chosen={2} onChoose={() => {}} />)
    expect(html).toContain('role="radiogroup"')
    expect(count(html, 'role="radio"')).toBe(3)
    expect(count(html, 'aria-checked="true"')).toBe(1)
  })

  test('a slot that was written and not proved says so', () => {
    expect(textOf(markup(<Rack slots={[slot({ judged: null })]} />))).toContain('never proved unproven')
  })
})

describe('a tile on the floor', () => {
  test('says more where there is room, and less in a crowd', () => {
    const roomy = textOf(markup(<DisplayTile display={display()} density="roomy" />))
    const tile = textOf(markup(<DisplayTile display={display()} density="tiles" />))
    const chip = textOf(markup(<DisplayTile display={display()} density="chips" />))
    expect(roomy).toContain('119.4 cd/m²')
    expect(roomy).toContain('Atlas web, 120 cd')
    expect(tile).toContain('0.42')
    expect(tile).not.toContain('Atlas web')
    expect(tile).not.toContain('119.4')
    expect(chip.endsWith('Sedge 1')).toBe(true)
  })

  test('tells of a run, of a due line that has passed, and of a display that was never read', () => {
    expect(textOf(markup(<DisplayTile display={display({ runId: 3 })} density="tiles" />))).toContain('in a run')
    expect(markup(<DisplayTile display={display({ dueState: 'overdue', dueAt: 0 })} density="tiles" />)).toContain(
      'class="asks"',
    )
    const empty = display({
      verdict: 'unproven',
      label: null,
      white: null,
      luminance: null,
      judged: null,
      dueAt: null,
      dueState: 'overdue',
    })
    expect(textOf(markup(<DisplayTile display={empty} density="tiles" />))).toMatch(/never read$/)
  })
})

test('a due line: a bar from the last judgement, ochre where it has passed, nothing where there is none', () => {
  const strip = (change: Parameters<typeof display>[0]) => markup(<DueStrip display={display(change)} />)
  expect(count(strip({}), '<circle')).toBe(1)
  expect(count(strip({}), 'var(--ochre)')).toBe(0)
  expect(count(strip({ dueState: 'overdue', dueAt: now - 3 * 86_400_000 }), 'var(--ochre)')).toBe(2)
  expect(count(strip({ judged: null, dueAt: null, dueState: 'overdue' }), '<circle')).toBe(0)
})
