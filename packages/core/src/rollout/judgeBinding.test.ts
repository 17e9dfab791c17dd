import { judgeBinding } from './judgeBinding'

const placement = { profileHash: 'a'.repeat(64) }
const bound = {
  serial: 'S',
  scope: 'machine' as const,
  path: '/usr/share/color/icc/p.icc',
  hash: placement.profileHash,
  waitsFor: null,
}

test('in force only by binding and hash', () => {
  expect(judgeBinding(placement, bound)).toEqual({ state: 'in force', message: null })
})

test('the same file under another name is in force too: the bytes count', () => {
  expect(judgeBinding(placement, { ...bound, path: '/elsewhere/q.icc' }).state).toBe('in force')
})

test.each([
  ['no binding', undefined, 'missing', 'binds no profile'],
  ['a binding to no file', { ...bound, hash: null }, 'missing', 'there is no such file'],
  [
    'a binding to other bytes',
    { ...bound, hash: 'b'.repeat(64) },
    'overridden',
    'binds another profile: /usr/share/color/icc/p.icc',
  ],
])('%s', (_, binding, state, words) => {
  const judged = judgeBinding(placement, binding)
  expect(judged.state).toBe(state)
  expect(judged.message).toContain(words)
})
