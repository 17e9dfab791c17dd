import type { PlacementState } from '@bichroma/core/rollout'
import { placementSentence } from './sentences'

const told: Parameters<typeof placementSentence>[0] = {
  state: 'in force',
  message: null,
  foundPath: '/icc/Reed.icc',
  placedPath: '/icc/Reed.icc',
  by: null,
  waitsFor: null,
  slot: 2,
  shownSlot: 3,
  leftAlone: false,
  courierOnline: true,
}
const other = { foundPath: '/icc/vendor.icm' }
const alone = { leftAlone: true }

test.each<[PlacementState, Partial<typeof told>, string | null]>([
  ['in force', { message: 'old', by: 'Panel Pal', ...alone }, null],
  ['withdrawn', { message: 'Another profile took its place.' }, 'Another profile took its place.'],
  ['withdrawn', {}, null],
  ['queued', { message: 'The disk of reed-001 is full.', courierOnline: false }, 'The disk of reed-001 is full.'],
  ['queued', { courierOnline: false }, 'It waits for the courier of the workstation.'],
  ['queued', {}, null],
  ['placed', {}, 'The courier wrote it; it has not been read back yet.'],
  ['waiting', { waitsFor: 'restart' }, 'Bound, and in force once the workstation has been restarted.'],
  [
    'waiting',
    { waitsFor: 'sign-out' },
    'Bound, and in force once the person at the workstation has signed out and in again.',
  ],
  ['overridden', {}, '/icc/Reed.icc holds something else than was placed.'],
  ['overridden', other, 'The system binds another profile: /icc/vendor.icm.'],
  [
    'overridden',
    { ...other, by: 'Panel Pal' },
    'The system binds another profile: /icc/vendor.icm, put there by Panel Pal.',
  ],
  [
    'overridden',
    { ...other, ...alone, by: 'Panel Pal' },
    'The system binds another profile: /icc/vendor.icm, put there by Panel Pal. Panel Pal keeps replacing it, so it is left alone: see to that program, then place it again.',
  ],
  [
    'overridden',
    alone,
    '/icc/Reed.icc holds something else than was placed. Something keeps replacing it, so it is left alone: see to that, then place it again.',
  ],
  ['missing', { foundPath: null }, 'The system binds no profile to this display.'],
  ['missing', other, 'The system binds /icc/vendor.icm, but there is no such file.'],
  [
    'missing',
    { foundPath: null, ...alone },
    'The system binds no profile to this display. Something keeps replacing it, so it is left alone: see to that, then place it again.',
  ],
  ['out of step', {}, 'The profile in force describes slot 2, and slot 3 is on show.'],
])('%s, %j', (state, change, sentence) => expect(placementSentence({ ...told, ...change, state })).toBe(sentence))
