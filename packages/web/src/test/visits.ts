import type { Visit, Week } from '@bichroma/contract'

/** A time of the studio's clock in November, ms since 1970. */
export const at = (text: string) => Date.parse(`${text}+01:00`)
export const minute = 60_000
const whole = { from: at('2026-11-24T00:00'), to: at('2026-11-25T00:00') }
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

/** A week of one day, with two people and three instruments, and these visits. */
export const weekOf = (visits: readonly Visit[], change: Partial<Week> = {}): Week =>
  ({
    plan: null,
    hours: { zone: 'Europe/Oslo' },
    minutes: { seat: 4, takeDown: 1, warm: 30 },
    now: at('2026-11-24T08:00'),
    days: [{ date: '2026-11-24', ...whole, desk: whole, closed: null }],
    people: [
      {
        id: 2,
        name: 'Tobin Reyk',
        hours: [{ from: at('2026-11-24T09:00'), to: at('2026-11-24T17:00') }],
        carries: 1,
        off: [],
      },
      {
        id: 3,
        name: 'Ilse Haar',
        hours: [{ from: at('2026-11-24T09:00'), to: at('2026-11-24T17:00') }],
        carries: 1,
        off: [],
      },
    ],
    instruments: [
      { id: 5, name: 'TC-0417', kind: 'colorimeter', validUntil: null, carrierId: null, hangsAt: null },
      {
        id: 6,
        name: 'HS-0031',
        kind: 'spectroradiometer',
        validUntil: at('2026-11-23T12:00'),
        carrierId: null,
        hangsAt: null,
      },
      { id: 7, name: 'TC-0522', kind: 'colorimeter', validUntil: null, carrierId: null, hangsAt: null },
    ],
    rooms: [{ id: 1, name: 'Plate Room', building: 'Mill' }],
    walk: { rooms: 5, buildings: 20, between: [] },
    windowSets: [[whole]],
    optionSets: [
      [
        { instrumentId: 5, run: 10 },
        { instrumentId: 6, run: 10 },
      ],
    ],
    visits,
    ...change,
  }) as unknown as Week
