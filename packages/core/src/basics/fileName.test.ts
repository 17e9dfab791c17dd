import fc from 'fast-check'
import { distinctNames, fileNameOf, notReserved } from './fileName'
import { profileFileName } from '../profiles/profileName'

test.each([
  ['Sedge 2, slot 1', 'Sedge-2-slot-1'],
  ['Dôme / nord', 'Dôme-nord'],
  ['Седж 2', 'Седж-2'],
  ['..', 'display-7'],
  ['★★★', 'display-7'],
  ['', 'display-7'],
  ['CON', 'named-CON'],
  ['lpt1', 'named-lpt1'],
  ['Console', 'Console'],
])('“%s” becomes “%s”', (words, name) => {
  expect(fileNameOf(words, 'display-7')).toBe(name)
})

test('no name leads out of its folder, is kept by a system, or is longer than a system takes @long', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (words) => {
      const name = fileNameOf(words, 'x')
      expect(name).not.toMatch(/[/\\:*?"<>|\0]|^\.|\.$|^-|-$/)
      expect(notReserved(name)).toBe(name)
      expect(new TextEncoder().encode(`${name}.cgats`).length).toBeLessThanOrEqual(255)
      expect(name.length).toBeGreaterThan(0)
    }),
    { numRuns: 2000 },
  )
})

test('names are told apart where a system tells no capitals apart', () => {
  const distinct = distinctNames()
  expect(['A', 'a', 'B', 'A', 'a-2'].map(distinct)).toEqual(['A', 'a-2', 'B', 'A-3', 'a-2-2'])
})

test('a template never gives a profile the name of a device', () => {
  const subject = { display: 'CON', slot: 1, aim: 'x', luminance: 100, at: 0 }
  expect(profileFileName('{display}', subject)).toBe('named-CON.icc')
})
