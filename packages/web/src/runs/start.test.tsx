import { markup, textOf } from '../test/markup'
import { HowMuch } from './HowMuch'
import { ProfileChoice } from '../parts/ProfileChoice'

test('a sampling or a budget is chosen; a budget has its number and unit, and says what it is for @long', () => {
  const sampled = textOf(markup(<HowMuch sampling="usual" budget={null} onChange={() => {}} />))
  for (const name of ['brief', 'usual', 'deep', 'overnight', 'a budget']) expect(sampled).toContain(name)
  expect(sampled).not.toContain('minutes')
  const html = markup(<HowMuch sampling="usual" budget={{ kind: 'minutes', most: 12 }} onChange={() => {}} />)
  expect(html).toContain('value="12"')
  expect(textOf(html)).toContain('Baseline, Level and Prove are taken off')
})

test('what a profile is to be is told in a sentence', () => {
  const told = (profile: Parameters<typeof ProfileChoice>[0]['profile']) =>
    textOf(markup(<ProfileChoice profile={profile} onChange={() => {}} />))
  expect(told({ version: 2, kind: 'table', black: 'none', readings: 'own' })).toContain(
    'for programs that read nothing newer; more exact, larger; counts from black; 83 more readings',
  )
  expect(told({ version: 4, kind: 'matrix', black: 'measured', readings: 'prove' })).toContain(
    'the newest version; small and fast; tells the black as it was read; no further readings',
  )
})
