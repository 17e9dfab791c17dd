import { placement } from '../test/fixtures'
import { count, markup, textOf } from '../test/markup'
import { PlacementSteps } from './PlacementSteps'

test('in force: three steps done, with how it is known', () => {
  const html = markup(<PlacementSteps placement={placement()} />)
  expect(count(html, 'stage done')).toBe(3)
  expect(textOf(html)).toContain('read back by the courier: bound to this display, SHA-256 bbbbbbbbbbbb…')
  expect(textOf(html)).toContain('written to /usr/share/color/icc/Sedge-1-slot-1.icc')
})

test('queued: waits for the courier, and nothing is claimed', () => {
  const html = markup(
    <PlacementSteps placement={placement({ state: 'queued', placedAt: null, verifiedAt: null, path: null })} />,
  )
  expect(count(html, 'stage done')).toBe(1)
  expect(count(html, 'stage now')).toBe(1)
  expect(textOf(html)).toContain('waits for the courier')
  expect(textOf(html)).toContain('not read back yet')
})

test('placed is not in force', () => {
  const html = markup(<PlacementSteps placement={placement({ state: 'placed', verifiedAt: null })} />)
  expect(count(html, 'stage done')).toBe(2)
  expect(textOf(html)).toContain('not read back yet')
})

test.each(['overridden', 'missing'] as const)('%s is marked as broken', (state) => {
  const html = markup(<PlacementSteps placement={placement({ state })} />)
  expect(count(html, 'stage broke')).toBe(1)
  expect(textOf(html)).toContain(state[0].toUpperCase() + state.slice(1))
  expect(textOf(html)).toContain('what the courier read back differs')
})

test('waiting, and out of step, say what is bound and why it does not hold', () => {
  const waiting = markup(<PlacementSteps placement={placement({ state: 'waiting' })} />)
  expect(count(waiting, 'stage now')).toBe(1)
  expect(textOf(waiting)).toContain('holds after a sign-out or a restart')
  const astray = markup(<PlacementSteps placement={placement({ state: 'out of step', slot: 2 })} />)
  expect(count(astray, 'stage broke')).toBe(1)
  expect(textOf(astray)).toContain('describes slot 2, which is not on show')
})
