import { ruleNames, usualRules, waveItemStates } from '@bichroma/core/rollout'
import type { FoundProfile, Placement, WantedProfile, WaveDetail } from '@bichroma/contract'
import { placement } from '../test/fixtures'
import { count, markup, textOf } from '../test/markup'
import { selectionOf } from './PrepareWave'
import { historyOf } from './RolloutHistory'
import { Square, WaveSteps } from './WavePage'
import { answerWords, mendOrder, mendWords, nameOfPath, rulesInWords, selectionWords } from './words'

const counts = { 'held back': 0, 'under way': 0, there: 0, failed: 0, 'left out': 0, undoing: 0, undone: 0 }
const wave = (change: Partial<WaveDetail>): WaveDetail => ({
  id: 1,
  name: 'Plates',
  state: 'under way',
  says: null,
  selection: {},
  first: 3,
  gate: 'read-back',
  stopShare: 0.2,
  startedAt: 0,
  startedBy: 'Marit Oyen',
  expiresAt: 86_400_000,
  endedAt: null,
  counts,
  leftMs: null,
  items: { items: [], next: null, total: 0, more: false },
  ...change,
})
const steps = (change: Partial<WaveDetail>) => markup(<WaveSteps wave={wave(change)} />)

test('while something is held back, the first few are at work and the rest is later', () => {
  const html = steps({ counts: { ...counts, 'under way': 1, there: 2, 'held back': 9 } })
  expect([count(html, 'stage now'), count(html, 'stage later')]).toEqual([2, 1])
  expect(textOf(html)).toContain('3 of 12, one of each system first')
  expect(textOf(html)).toContain('more than 20 % failed stop it')
  expect(html).toContain('1 under way, 2 there')
  expect(count(html, 'square there')).toBe(2)
  expect(count(html, 'square held-back')).toBe(9)
})

test('done, and given back', () => {
  expect(count(steps({ state: 'done', counts: { ...counts, there: 12 } }), 'stage done')).toBe(3)
  const back = steps({ state: 'undoing', counts: { ...counts, undone: 8, undoing: 4 } })
  expect(textOf(back)).toContain('8 given back, 4 still to come')
  expect(textOf(steps({ counts: { ...counts, there: 3, failed: 1, 'left out': 2 } }))).toContain(
    '3 there, 1 failed, 2 left out',
  )
})

test('each state of a display has a square of its own', () => {
  const shapes = waveItemStates.map((state) => markup(<Square state={state} />))
  expect(new Set(shapes).size).toBe(waveItemStates.length)
})

test('an address chooses displays, and what is no number chooses nothing', () => {
  const none = { displays: '', rooms: '', aims: '', systems: '', models: '', verdicts: '', differs: '' }
  expect(selectionOf(none)).toEqual({})
  expect(selectionOf({ ...none, displays: '3.5.x.-1.2', differs: 'yes' })).toEqual({
    displays: [3, 5, 2],
    differs: true,
  })
  expect(selectionOf({ ...none, rooms: '1|4', aims: 'Atlas web|Plate print', systems: 'linux' })).toEqual({
    rooms: [1, 4],
    aims: ['Atlas web', 'Plate print'],
    systems: ['linux'],
  })
})

test('selections, rules and mends are told in words', () => {
  const rooms = (ids: readonly number[]) => ids.map((id) => `room ${id}`).join(', ')
  expect(selectionWords({}, rooms)).toBe('all displays')
  expect(selectionWords({ rooms: [1, 2], differs: true, verdicts: ['within', 'near'] }, rooms)).toBe(
    'room 1, room 2 · within or near · what differs',
  )
  expect(selectionWords({ displays: [1] }, rooms)).toBe('one display')
  for (const name of ruleNames) {
    expect(rulesInWords[name].answers.map((a) => a.value)).toContain(usualRules[name])
    expect(answerWords(name, usualRules[name])).not.toBe('')
  }
  for (const mend of mendOrder) expect(mendWords[mend].explains).toMatch(/\.$/)
  expect(nameOfPath('C:\\Windows\\color\\Sedge-1.icc')).toBe('Sedge-1.icc')
  expect(nameOfPath('/usr/share/color/icc/Sedge-1.icc')).toBe('Sedge-1.icc')
})

test('how it came about: wanted, agreed and found in one line of time, the newest first', () => {
  const wanted: WantedProfile = {
    ...{
      kind: 'profile',
      slot: 1,
      runId: 7,
      profileHash: 'b',
      description: 'Atlas web, slot 1',
      filedAt: 5,
      since: 10,
    },
    origin: 'usual',
  }
  const found: FoundProfile & { workstation: string } = {
    ...{ path: '/x/Glint.icc', hash: 'c', scope: 'user', waitsFor: null, by: 'Glint Arcade', ours: false },
    ...{ since: 30, readAt: 40, told: 'courier', workstation: 'sedge-01' },
  }
  const placed: Placement = placement({ requestedAt: 20, why: 'wave' })
  expect(historyOf({ wanted: [wanted], placements: [placed], found: [found] }).map((t) => [t.kind, t.text])).toEqual([
    ['found', 'Glint.icc, by Glint Arcade on sedge-01'],
    ['agreed', 'Atlas web, slot 1, 19 Nov 2026, in a wave, Marit Oyen'],
    ['wanted', 'Atlas web, slot 1'],
  ])
})
