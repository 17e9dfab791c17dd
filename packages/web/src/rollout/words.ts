import type {
  Mend,
  PlacementState,
  RuleName,
  RuleOrigin,
  Rules,
  WaveItemState,
  WaveState,
} from '@bichroma/core/rollout'
import type { PlacementReason, Selection } from '@bichroma/contract'

/** What mends a difference, in the order in which somebody can do something about it; null for what is as wanted. */
export const mendWords: Readonly<Record<Mend, { title: string; explains: string }>> = {
  decision: { title: 'your decision', explains: 'Something else is there than is wanted, and the policy only tells.' },
  right: { title: 'a right', explains: 'The courier may not write there.' },
  room: { title: 'room on a disk', explains: 'The disk of the workstation is full.' },
  cable: { title: 'a cable', explains: 'The display is not plugged in where the register has it.' },
  run: { title: 'a run', explains: 'The slot whose profile is wanted has none yet.' },
  wave: { title: 'its turn in a wave', explains: 'It is held back until the first few are there.' },
  'sign-out': { title: 'a sign-out', explains: 'It is bound, and holds once whoever works there has signed out.' },
  restart: { title: 'a restart', explains: 'It is bound, and holds once the workstation has been restarted.' },
  courier: { title: 'the courier’s return', explains: 'It is sent as soon as the courier is back.' },
  moment: { title: 'a moment', explains: 'It is on its way.' },
}
export const mendOrder = Object.keys(mendWords) as Mend[]

/** How a state is drawn: what asks for attention, what is under way, what is as it should be. */
export const stateTone: Readonly<Record<PlacementState, string>> = {
  queued: 'runs',
  placed: 'runs',
  waiting: 'second',
  'in force': '',
  'out of step': 'asks',
  overridden: 'asks',
  missing: 'asks',
  withdrawn: 'quiet',
}

export const waveStateWords: Readonly<Record<WaveState, string>> = {
  'under way': 'under way',
  paused: 'paused',
  stopped: 'stopped by failures',
  done: 'done',
  undoing: 'being undone',
  undone: 'undone',
}

export const itemStateWords: Readonly<Record<WaveItemState, string>> = {
  'held back': 'held back',
  'under way': 'under way',
  there: 'there',
  failed: 'failed',
  'left out': 'left out',
  undoing: 'being given back',
  undone: 'given back',
}

export const originWords: Readonly<Record<RuleOrigin, string>> = {
  display: 'the policy of this display',
  room: 'the policy of its room',
  aim: 'the policy of its aim',
  studio: 'the policy of the studio',
  usual: 'the usual policy',
}

export const reasonWords: Readonly<Record<PlacementReason, string>> = {
  person: 'by hand',
  wave: 'in a wave',
  fresh: 'fresh from a run',
  switched: 'the slot was switched',
  moved: 'the display moved',
  undo: 'given back',
  hand: 'told by hand',
}

/** Each rule as a question, and what it may be, in words. */
export const rulesInWords: {
  readonly [K in RuleName]: { readonly asks: string; readonly answers: readonly { value: Rules[K]; label: string }[] }
} = {
  profile: {
    asks: 'Which profile belongs in force',
    answers: [
      { value: 'shown', label: 'that of the slot on show' },
      ...([1, 2, 3, 4] as const).map((slot) => ({ value: slot, label: `that of slot ${slot}` })),
      { value: 'none', label: 'none of ours' },
    ],
  },
  scope: {
    asks: 'For whom',
    answers: [
      { value: 'machine', label: 'the whole machine, where the courier may' },
      { value: 'user', label: 'the person signed in' },
    ],
  },
  whenOther: {
    asks: 'When something else is found',
    answers: [
      { value: 'tell', label: 'tell' },
      { value: 'put back once', label: 'put ours back once' },
      { value: 'put back always', label: 'put ours back, up to three times an hour' },
    ],
  },
  whenSwitched: {
    asks: 'When somebody switches the slot',
    answers: [
      { value: 'follow', label: 'follow with that slot’s profile' },
      { value: 'tell', label: 'tell' },
      { value: 'switch back', label: 'switch it back' },
    ],
  },
  fresh: {
    asks: 'A fresh profile after a run',
    answers: [
      { value: 'at once', label: 'is placed at once' },
      { value: 'gathered', label: 'is gathered for the morning’s wave' },
      { value: 'by a person', label: 'waits for a person' },
    ],
  },
  keepOld: {
    asks: 'Old files of ours that stay',
    answers: [0, 1, 2, 3, 6, 12, 50].map((n) => ({ value: n, label: n === 0 ? 'none' : String(n) })),
  },
  loader: {
    asks: 'When the video card has lost its curves',
    answers: [
      { value: 'tell', label: 'tell' },
      { value: 'put back', label: 'load them again' },
    ],
  },
  programs: {
    asks: 'Switches of programs',
    answers: [
      { value: 'tell', label: 'tell' },
      { value: 'set', label: 'set them where the courier may' },
    ],
  },
  note: {
    asks: 'When a sign-out is waited for',
    answers: [
      { value: 'leave one', label: 'leave a note on the workstation' },
      { value: 'none', label: 'leave no note' },
    ],
  },
}

/** A rule’s answer in words. */
export const answerWords = (name: RuleName, value: Rules[RuleName]): string =>
  (rulesInWords[name].answers as readonly { value: unknown; label: string }[]).find((a) => a.value === value)?.label ??
  String(value)

/** The last part of a path, of whichever system. */
export const nameOfPath = (path: string): string =>
  path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1)

/** What a wave was chosen by, in words. */
export function selectionWords(
  { displays, rooms, aims, systems, models, verdicts, differs }: Selection,
  roomNames: (ids: readonly number[]) => string,
): string {
  const parts = [
    displays && (displays.length === 1 ? 'one display' : `${displays.length} displays chosen by hand`),
    rooms && roomNames(rooms),
    aims && `aims ${aims.join(', ')}`,
    systems?.join(', '),
    models?.join(', '),
    verdicts?.join(' or '),
    differs && 'what differs',
  ].filter(Boolean)
  return parts.length ? parts.join(' · ') : 'all displays'
}
