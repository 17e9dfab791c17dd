import { ledgerThings, type LedgerEntry } from '@bichroma/contract'
import { changeWords, evidenceWords, placeOf, thingWords } from './words'

const entry = (change: Partial<LedgerEntry>): LedgerEntry => ({
  id: 1,
  at: 0,
  accountId: 1,
  by: 'Marit Oyen',
  act: 'changed',
  thing: 'display',
  thingId: 7,
  name: 'Sedge 2',
  changes: [],
  why: null,
  evidence: {},
  hash: '0'.repeat(64),
  ...change,
})

test.each([
  [{ field: 'checkEveryDays', from: 28, to: 7 }, 'check every days 28 → 7'],
  [{ field: 'name', from: 'Sedge 2', to: 'Sedge Two' }, 'name “Sedge 2” → “Sedge Two”'],
  [{ field: 'limitsId', from: 1, to: 2 }, 'limits 1 → 2'],
  [{ field: 'role', to: 'viewer' }, 'role “viewer”'],
  [{ field: 'slot 1', from: 'Atlas web' }, 'slot 1 “Atlas web” → nothing'],
  [{ field: 'password' }, 'password anew'],
  [{ field: 'aim', from: { white: 1 }, to: { white: 2 } }, 'aim changed'],
  [{ field: 'light', to: { lux: {} } }, 'light set'],
  [{ field: 'profileHash', from: 'a'.repeat(64), to: 'b'.repeat(64) }, 'profile hash aaaaaaaaaaaa… → bbbbbbbbbbbb…'],
])('%j is told as words', (change, words) => {
  expect(changeWords(change)).toBe(words)
})

test.each<[Partial<LedgerEntry>, string | null]>([
  [{ thing: 'run', thingId: 12 }, '/runs/12'],
  [{ thing: 'display', thingId: 7 }, '/register/7'],
  [{ thing: 'placement', thingId: 3, evidence: { display: 7 } }, '/register/7'],
  [{ thing: 'placement', thingId: 3 }, '/rollout'],
  [{ thing: 'aim', thingId: 2 }, '/aims/aims/2'],
  [{ thing: 'aim', thingId: 2, act: 'removed' }, null],
  [{ thing: 'account', thingId: 2 }, '/people'],
  [{ thing: 'session', thingId: null }, null],
])('%j is looked at there', (change, place) => {
  expect(placeOf(entry(change))).toBe(place)
})

test('evidence is told with the digits that it deserves; what its link leads to is left out', () => {
  const evidence = {
    display: 7,
    verdict: 'within',
    residual: 0.00123456,
    certified: Date.UTC(2026, 5, 29),
    correction: null,
    tables: 'c'.repeat(64),
  }
  expect(evidenceWords(entry({ evidence }))).toEqual([
    'verdict within',
    'residual 0.0012346',
    'certified 2026-06-29',
    'tables cccccccccccc…',
  ])
})

test('every kind of thing has a word', () => {
  expect(Object.keys(thingWords).sort()).toEqual([...ledgerThings].sort())
  expect(new Set(Object.values(thingWords)).size).toBe(ledgerThings.length)
})
