import { operatingSystemNames } from '../register/operatingSystems'
import { switchesAstray, type ProgramFound } from './programs'

const browser: ProgramFound = {
  name: 'Lookout',
  kind: 'browser',
  colorManagement: 'tagged',
  version4: false,
  settable: true,
}

test('a browser that leaves untagged pictures alone keeps the profile from its work; an editor may', () => {
  expect(switchesAstray([{ ...browser, version4: true }], 'linux', 4)).toEqual([
    {
      program: 'Lookout',
      kind: 'browser',
      switch: 'colorManagement',
      found: 'tagged',
      wanted: 'all',
      settable: true,
      where: expect.stringContaining('preferences'),
    },
  ])
  expect(switchesAstray([{ ...browser, kind: 'editor', version4: true }], 'linux', 4)).toEqual([])
  expect(switchesAstray([{ ...browser, colorManagement: 'all', version4: true }], 'linux', 4)).toEqual([])
})

test('version 4 matters where profiles are of it', () => {
  const all = { ...browser, colorManagement: 'all' as const }
  expect(switchesAstray([all], 'macos', 2)).toEqual([])
  expect(switchesAstray([all], 'macos', 4).map((s) => [s.switch, s.found, s.wanted])).toEqual([
    ['version4', 'off', 'on'],
  ])
})

test('a switch that cannot be read is told of, with where a person finds it on each system', () => {
  const unread = { ...browser, colorManagement: null, version4: null, settable: false }
  const places = operatingSystemNames.map((system) =>
    switchesAstray([unread], system, 4).map((s) => [s.found, s.where]),
  )
  expect(places.map((p) => p.map(([found]) => found))).toEqual(Array(3).fill([null, null]))
  expect(new Set(places.map((p) => p[0][1])).size).toBe(3)
})
