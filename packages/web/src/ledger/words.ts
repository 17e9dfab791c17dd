import type { LedgerChange, LedgerEntry, LedgerThing } from '@bichroma/contract'

/** What things are called where the ledger is filtered. */
export const thingWords: Readonly<Record<LedgerThing, string>> = {
  account: 'accounts',
  aim: 'aims',
  backup: 'backups',
  correction: 'corrections',
  display: 'displays',
  instrument: 'instruments',
  limits: 'limits',
  'peer set': 'peer sets',
  placement: 'profiles placed',
  policy: 'policies',
  ring: 'rings',
  room: 'rooms',
  rounds: 'rounds',
  run: 'runs',
  session: 'sign-ins',
  settings: 'settings',
  token: 'tokens',
  visit: 'visits',
  wave: 'waves',
  workstation: 'workstations',
}

/** Where a thing can be looked at; null for one that is gone or has no page. */
export function placeOf({ thing, thingId, act, evidence }: LedgerEntry): string | null {
  if (act === 'removed') return null
  switch (thing) {
    case 'ring':
      return '/peers/rings'
    case 'peer set':
      return `/peers/${thingId}`
    case 'run':
      return `/runs/${thingId}`
    case 'display':
      return `/register/${thingId}`
    case 'placement':
      return typeof evidence.display === 'number' ? `/register/${evidence.display}` : '/rollout'
    case 'wave':
      return `/rollout/waves/${thingId}`
    case 'policy':
      return '/rollout/policies'
    case 'aim':
      return `/aims/aims/${thingId}`
    case 'limits':
      return `/aims/limits/${thingId}`
    case 'room':
    case 'workstation':
    case 'correction':
    case 'instrument':
      return '/register'
    case 'rounds':
    case 'visit':
      return '/rounds/week'
    case 'account':
      return '/people'
    default:
      return null
  }
}

const short = (value: unknown): string => {
  if (value === undefined) return 'nothing'
  if (typeof value === 'string') return /^[0-9a-f]{64}$/.test(value) ? `${value.slice(0, 12)}…` : `“${value}”`
  if (typeof value === 'object') return 'another'
  return String(value)
}

/** A field's change in words: “check every days 28 → 7”. */
export function changeWords({ field, from, to }: LedgerChange): string {
  const name = field
    .replace(/Id$/, '')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
  if (from === undefined && to === undefined) return `${name} anew`
  if (typeof from === 'object' || typeof to === 'object') return `${name} ${from === undefined ? 'set' : 'changed'}`
  return from === undefined ? `${name} ${short(to)}` : `${name} ${short(from)} → ${short(to)}`
}

/** What an entry rests on, in words; numbers of things are left to its link. */
export const evidenceWords = ({ evidence }: LedgerEntry): string[] =>
  Object.entries(evidence)
    .filter(([key, value]) => value !== null && key !== 'display' && key !== 'run')
    .map(([key, value]) =>
      key === 'certified' && typeof value === 'number'
        ? `certified ${new Date(value).toISOString().slice(0, 10)}`
        : `${key} ${typeof value === 'number' ? Number(value.toPrecision(5)) : short(value).replace(/[“”]/g, '')}`,
    )
