import type { Visit } from '@bichroma/contract'

/** A time of the studio's clock in November, ms since 1970. */
export const at = (text: string) => Date.parse(`${text}+01:00`)
export const minute = 60_000
export const whole = { from: at('2026-11-24T00:00'), to: at('2026-11-25T00:00') }
export const visit = (change: Partial<Visit> = {}): Visit =>
  ({
    id: 4,
    state: 'planned',
    kind: 'check',
    slot: 1,
    label: 'Atlas web',
    personId: 2,
    instrumentId: 5,
    roomId: 1,
    at: at('2026-11-24T10:00'),
    takeDownAt: at('2026-11-24T10:14'),
    endsAt: at('2026-11-24T10:15'),
    attended: false,
    pinned: false,
    optionSet: 0,
    windowSet: 0,
    display: { id: 9, name: 'Plate 3', room: 'Plate Room', roomId: 1, workstation: 'plate-03', verdict: 'within' },
    dueAt: at('2026-11-26T12:00'),
    dueBy: 'calendar',
    peerSet: null,
    whyThen: 'due',
    whyInstrument: 'free',
    besides: 0,
    sharing: 0,
    whyNot: null,
    reliefs: [],
    late: 0,
    answer: null,
    told: null,
    runId: null,
    reason: null,
    ...change,
  }) as Visit
