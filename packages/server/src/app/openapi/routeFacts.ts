import type { RouteName } from '../../http/routeRoles'
import { accessFacts } from './accessFacts'
import { peersFacts } from './peersFacts'
import { registerFacts } from './registerFacts'
import { rolloutFacts } from './rolloutFacts'
import { roundsFacts } from './roundsFacts'
import { runsFacts } from './runsFacts'

/** What the description of the API says of a route, besides its role and its answer. */
export interface RouteFacts {
  readonly area: Area
  /** One sentence. */
  readonly tells: string
  /** Yup schema of what follows the question mark. */
  readonly query?: unknown
  /** Yup schema of the body, and one that fits it in a studio with one of each thing. */
  readonly body?: unknown
  readonly example?: object
  /** It answers 401 though it needs no account. */
  readonly asksWho?: true
  /** It answers 201. */
  readonly makes?: true
  /** Media types of a file that it sends in place of JSON. */
  readonly file?: readonly string[]
  /** Media types of a file that is sent to it in place of JSON. */
  readonly takes?: readonly string[]
}

/** Areas of the API, in the order in which they are read. */
export const areas = [
  'Access',
  'Register',
  'Floor',
  'Aims',
  'Runs',
  'Review',
  'Drift',
  'Rollout',
  'Rounds',
  'Peers',
  'Studio',
] as const
type Area = (typeof areas)[number]

export const routeFacts: Readonly<Record<RouteName, RouteFacts>> = {
  ...accessFacts,
  ...registerFacts,
  ...runsFacts,
  ...rolloutFacts,
  ...roundsFacts,
  ...peersFacts,
}
