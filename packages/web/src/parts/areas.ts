import type { Role } from '@bichroma/contract'

interface Area {
  readonly path: string
  readonly label: string
  /** What follows “g”. */
  readonly key: string
  /** Whom it is shown to; everybody unless told. */
  readonly role?: Role
}

/** The areas as the rail shows them. */
export const areas: readonly Area[] = [
  { path: '/', label: 'Floor', key: 'f' },
  { path: '/register', label: 'Register', key: 'r' },
  { path: '/aims', label: 'Aims', key: 'a' },
  { path: '/runs', label: 'Runs', key: 'u' },
  { path: '/review', label: 'Review', key: 'v' },
  { path: '/drift', label: 'Drift', key: 't' },
  { path: '/peers', label: 'Peer sets', key: 's' },
  { path: '/rollout', label: 'Rollout', key: 'o' },
  { path: '/rounds', label: 'Rounds', key: 'd' },
  { path: '/ledger', label: 'Ledger', key: 'l', role: 'administrator' },
  { path: '/people', label: 'People', key: 'p', role: 'administrator' },
]

/** The areas that a role sees. */
export const areasFor = (role: Role | undefined): readonly Area[] =>
  areas.filter((a) => a.role === undefined || a.role === role)
