import { usualRules } from './policy'
import { slotWanted, wantedOf } from './wanted'

const filed = [
  { slot: 1, runId: 11, hash: 'a' },
  { slot: 2, runId: 22, hash: 'b' },
]
const known = { shownSlot: 2, agreedSlot: 1, filed }

test.each([
  ['shown', 'tell', { kind: 'profile', slot: 2, runId: 22, hash: 'b' }],
  ['shown', 'follow', { kind: 'profile', slot: 2, runId: 22, hash: 'b' }],
  // Somebody switched it, and it is to go back: what was agreed to is still wanted.
  ['shown', 'switch back', { kind: 'profile', slot: 1, runId: 11, hash: 'a' }],
  [1, 'follow', { kind: 'profile', slot: 1, runId: 11, hash: 'a' }],
  [3, 'tell', { kind: 'no profile', slot: 3 }],
  ['none', 'follow', { kind: 'none' }],
] as const)('profile %p, when switched %s', (profile, whenSwitched, wanted) => {
  expect(wantedOf({ ...usualRules, profile, whenSwitched }, known)).toEqual(wanted)
})

test('with nothing agreed to, the slot on show is meant, whatever happens when it is switched', () => {
  const rules = { ...usualRules, whenSwitched: 'switch back' as const }
  expect(wantedOf(rules, { ...known, agreedSlot: null })).toMatchObject({ slot: 2 })
})

test('a display is switched back to the slot of its policy, or of what was agreed to; else nobody touches it', () => {
  expect(slotWanted({ ...usualRules, whenSwitched: 'switch back' }, 1)).toBe(1)
  expect(slotWanted({ ...usualRules, whenSwitched: 'switch back', profile: 3 }, 1)).toBe(3)
  expect(slotWanted({ ...usualRules, whenSwitched: 'follow' }, 1)).toBeNull()
  expect(slotWanted(usualRules, 1)).toBeNull()
})
