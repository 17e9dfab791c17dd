import { usualPeerLimits } from '@bichroma/core/peers'
import {
  adoptGroundSchema,
  keepMatchSchema,
  peerSetListSchema,
  ringListSchema,
  savePeerSetSchema,
  showMatchSchema,
  startPeerRunsSchema,
  startRingSchema,
  weighOffsetSchema,
} from '@bichroma/contract'
import type { RouteFacts } from './routeFacts'

const set = {
  name: 'Two side by side',
  members: [
    { displayId: 1, slot: 1 },
    { displayId: 2, slot: 1 },
  ],
  reference: null,
  white: { kind: 'standard', name: 'D65' },
  toneResponse: { kind: 'power', exponent: 2.2 },
  standard: 'sRGB',
  share: 0.99,
  headroom: 0.03,
  black: 'own',
  limits: usualPeerLimits,
}

/** Routes of peer sets, as the description tells of them. */
export const peersFacts = {
  'GET /peer-sets': {
    area: 'Peers',
    tells: 'Displays that must look alike: each set with its verdict, by name.',
    query: peerSetListSchema,
  },
  'POST /peer-sets': { area: 'Peers', tells: 'Adds a peer set.', body: savePeerSetSchema, makes: true, example: set },
  'GET /peer-sets/:id': {
    area: 'Peers',
    tells: 'One set: its members, the common ground that they have, how alike they are, and its latest runs.',
  },
  'PUT /peer-sets/:id': { area: 'Peers', tells: 'Changes a set.', body: savePeerSetSchema, example: set },
  'DELETE /peer-sets/:id': { area: 'Peers', tells: 'Takes a set away; its displays, slots and aim stay.' },
  'POST /peer-sets/:id/aim': {
    area: 'Peers',
    tells: 'Adopts the common ground as the set’s aim, if it is still as it was shown.',
    body: adoptGroundSchema,
    example: { luminance: 160 },
  },
  'POST /peer-sets/:id/runs': {
    area: 'Peers',
    tells: 'Puts a run of every member into the queue; when all have ended, the set is judged.',
    body: startPeerRunsSchema,
    makes: true,
    example: { kind: 'check' },
  },
  'POST /peer-sets/:id/match': {
    area: 'Peers',
    tells: 'Shows the whites of two members at one luminance, the first one’s moved in u′v′, for a match by eye.',
    body: showMatchSchema,
    example: { displayId: 1, besideId: 2, u: 0.001, v: 0 },
  },
  'POST /peer-sets/:id/matches': {
    area: 'Peers',
    tells: 'Keeps a match by eye: the member’s own aim follows from it, and it is compared with that taken off.',
    body: keepMatchSchema,
    makes: true,
    example: {
      ...{ displayId: 1, besideId: 2 },
      repeats: [
        { side: 0, u: 0.0012, v: -0.0004 },
        { side: 1, u: 0.0016, v: 0 },
      ],
    },
  },
  'DELETE /peer-matches/:id': { area: 'Peers', tells: 'Takes a match by eye back; the aim that was made of it stays.' },
  'GET /rings': {
    area: 'Peers',
    tells: 'Rings of instruments, the newest first: their steps, and what each instrument reads more.',
    query: ringListSchema,
  },
  'POST /rings': {
    area: 'Peers',
    tells: 'Starts a ring: instruments read the same displays, in an order in which drift falls out.',
    body: startRingSchema,
    makes: true,
    example: { instruments: [1, 2], displays: [1], reference: null, wanted: 0.002 },
  },
  'POST /rings/:id/stop': { area: 'Peers', tells: 'Breaks a ring off; what was read stays.' },
  'GET /instrument-offsets': {
    area: 'Peers',
    tells:
      'What instruments read more, as far as it is weighed or taken into account, and how many verdicts that changes.',
  },
  'POST /instrument-offsets': {
    area: 'Peers',
    tells:
      'Weighs what taking an instrument’s offset into account would change, by a ring or by ordinary checks; nothing changes yet.',
    body: weighOffsetSchema,
    makes: true,
    example: { instrumentId: 1, source: 'checks', ringId: null, since: null },
  },
  'POST /instrument-offsets/:id/take': {
    area: 'Peers',
    tells:
      'Takes it into account: validations since are judged anew, what they came to before is kept, nothing that was read changes.',
  },
  'POST /instrument-offsets/:id/end': {
    area: 'Peers',
    tells: 'Puts it away: what was judged anew by it comes to what it was read as.',
  },
} as const satisfies Readonly<Record<string, RouteFacts>>
