import { uniformFrom } from '../basics/random'
import { policyBook, policyLevels, ruleNames, ruleWords, usualRules, type Policy, type RuleName } from './policy'

const subject = { display: 7, room: 2, aim: 4 }

test('where nobody decided, nothing happens by itself', () => {
  const { rules, origins } = policyBook([])(subject)
  expect(rules).toEqual(usualRules)
  expect([rules.whenOther, rules.whenSwitched, rules.fresh, rules.loader, rules.programs]).toEqual([
    'tell',
    'tell',
    'by a person',
    'tell',
    'tell',
  ])
  expect(new Set(Object.values(origins))).toEqual(new Set(['usual']))
})

test('rule by rule, the nearest that decides it holds, and says where it is from', () => {
  const { rules, origins } = policyBook([
    { level: 'studio', of: 0, rules: { whenOther: 'put back always', keepOld: 1, fresh: 'gathered' } },
    { level: 'aim', of: 4, rules: { fresh: 'at once', keepOld: 2 } },
    { level: 'room', of: 2, rules: { keepOld: 0, profile: 'none' } },
    { level: 'room', of: 3, rules: { scope: 'user' } },
    { level: 'display', of: 7, rules: { profile: 2 } },
    { level: 'display', of: 8, rules: { keepOld: 9 } },
  ])(subject)
  expect(rules).toEqual({ ...usualRules, whenOther: 'put back always', fresh: 'at once', keepOld: 0, profile: 2 })
  expect(origins).toMatchObject({
    whenOther: 'studio',
    fresh: 'aim',
    keepOld: 'room',
    profile: 'display',
    scope: 'usual',
  })
})

test('an aim that is none of the list has no policy', () => {
  const book = policyBook([{ level: 'aim', of: 4, rules: { keepOld: 2 } }])
  expect(book({ ...subject, aim: null }).rules.keepOld).toBe(usualRules.keepOld)
})

test('a thousand books say what looking from the nearest outward says @long', () => {
  const uniform = uniformFrom(3)
  const pick = <T>(of: readonly T[]) => of[Math.floor(uniform() * of.length)]
  for (let n = 0; n < 1000; n++) {
    const policies: Policy[] = policyLevels
      .filter(() => uniform() < 0.7)
      .map((level) => ({
        level,
        of: level === 'studio' ? 0 : pick([2, 4, 7]),
        rules: Object.fromEntries(
          Object.entries(ruleWords)
            .filter(() => uniform() < 0.4)
            .map(([name, words]) => [name, pick<string>(words)]),
        ),
      }))
    const held = policyBook(policies)(subject)
    const own = { display: 7, room: 2, aim: 4, studio: 0 }
    for (const name of ruleNames) {
      let expected: unknown = usualRules[name as RuleName]
      for (const level of [...policyLevels].reverse())
        for (const p of policies)
          if (p.level === level && p.of === own[level] && name in p.rules) expected = p.rules[name]
      expect([n, name, held.rules[name]]).toEqual([n, name, expected])
    }
  }
})
