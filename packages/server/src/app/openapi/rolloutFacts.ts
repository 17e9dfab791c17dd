import {
  placeProfileSchema,
  foundByHandSchema,
  handFilesSchema,
  linkSchema,
  policySchema,
  previewWaveSchema,
  rolloutListSchema,
  startWaveSchema,
  waveItemListSchema,
  waveListSchema,
  slotHistorySchema,
  slotOutlookListSchema,
} from '@bichroma/contract'
import type { RouteFacts } from './routeFacts'

/** Routes of drift and rollout. */
export const rolloutFacts = {
  'GET /drift': {
    area: 'Drift',
    tells: 'The fleet’s histories by groups, and how its instruments stand beside each other.',
  },
  'GET /drift/slots': {
    area: 'Drift',
    tells: 'Slots by when they leave their limits, the soonest first.',
    query: slotOutlookListSchema,
  },
  'GET /drift/:displayId': {
    area: 'Drift',
    tells: 'The history and the forecast of one slot; `slot` asks for another than the one that is shown.',
    query: slotHistorySchema,
  },
  'GET /rollout': { area: 'Rollout', tells: 'Which profile each display has in force.', query: rolloutListSchema },
  'GET /rollout/summary': { area: 'Rollout', tells: 'Whether every workstation shows what it should.' },
  'GET /displays/:id/rollout': {
    area: 'Rollout',
    tells: 'What is wanted and found on one display, how both came about, and switches of programs.',
  },
  'POST /displays/:id/links': {
    area: 'Rollout',
    tells: 'Names one more workstation that reaches a display.',
    body: linkSchema,
    example: { workstationId: 2 },
  },
  'DELETE /displays/:id/links/:workstationId': {
    area: 'Rollout',
    tells: 'A display is not reached from there any more; its profile is taken away there.',
  },
  'POST /rollout/files': {
    area: 'Rollout',
    tells:
      'A ZIP for workstations without a courier: profiles with scripts that place them, or scripts that only look.',
    body: handFilesSchema,
    file: ['application/zip'],
    example: { selection: {}, does: 'look' },
  },
  'POST /rollout/found': {
    area: 'Rollout',
    tells: 'Takes what such a script printed for what is found, told by hand.',
    body: foundByHandSchema,
    example: { text: 'bichroma-found 1\nhost\tsedge-01\nend\n' },
  },
  'GET /policies': { area: 'Rollout', tells: 'Every policy that was given.' },
  'PUT /policies': {
    area: 'Rollout',
    tells: 'Gives a policy to the studio, a room, an aim or a display; no rules take it away.',
    body: policySchema,
    example: { level: 'studio', rules: { whenOther: 'tell' } },
  },
  'POST /waves/preview': {
    area: 'Rollout',
    tells: 'What a wave would do, display by display.',
    body: previewWaveSchema,
    example: { selection: {} },
  },
  'GET /waves': { area: 'Rollout', tells: 'Waves, the newest first.', query: waveListSchema },
  'POST /waves': {
    area: 'Rollout',
    tells: 'Starts a wave as its preview said.',
    body: startWaveSchema,
    makes: true,
    example: {
      name: 'Morning',
      selection: {},
      digest: '0'.repeat(64),
      first: 1,
      gate: 'read-back',
      stopShare: 0.2,
      days: 14,
    },
  },
  'GET /waves/:id': { area: 'Rollout', tells: 'A wave with its displays.', query: waveItemListSchema },
  'POST /waves/:id/pause': { area: 'Rollout', tells: 'Lets nothing more out.' },
  'POST /waves/:id/go-on': { area: 'Rollout', tells: 'Goes on after a pause or a stop.' },
  'POST /waves/:id/word': { area: 'Rollout', tells: 'Lets the rest go.' },
  'POST /waves/:id/undo': { area: 'Rollout', tells: 'Gives every display back what it had before.' },
  'POST /placements': {
    area: 'Rollout',
    tells: 'Places a run’s profile on its workstation.',
    body: placeProfileSchema,
    makes: true,
    example: { runId: 1 },
  },
  'POST /placements/:id/verify': { area: 'Rollout', tells: 'Reads back what is in force.' },
} as const satisfies Readonly<Record<string, RouteFacts>>
