import {
  acceptSchema,
  changeAccountSchema,
  changeDisplaySchema,
  changeDisplaysSchema,
  changePasswordSchema,
  changeWorkstationSchema,
  confirmSecondFactorSchema,
  correctionListSchema,
  displayListSchema,
  firstVisitSchema,
  importReadingsSchema,
  inventorySchema,
  inviteSchema,
  keepDisplaySchema,
  keepInstrumentSchema,
  ledgerListSchema,
  makeCorrectionSchema,
  makeTokenSchema,
  moveDisplaySchema,
  needListSchema,
  ownPasswordSchema,
  placeProfileSchema,
  decideLevelSchema,
  lightDaySchema,
  lightWeeksSchema,
  readRoomLightSchema,
  rebuildProfileSchema,
  renameBuildingSchema,
  replaceDisplaySchema,
  resumeRunSchema,
  foundByHandSchema,
  handFilesSchema,
  linkSchema,
  policySchema,
  previewWaveSchema,
  rolloutListSchema,
  startWaveSchema,
  waveItemListSchema,
  waveListSchema,
  runListSchema,
  saveAimSchema,
  saveDisplaySchema,
  saveLimitsSchema,
  saveRoomSchema,
  saveWorkstationSchema,
  signInSchema,
  slotOutlookListSchema,
  startRunSchema,
  stopRunSchema,
  studioSettingsSchema,
  swapDisplaysSchema,
  usualSettings,
  withdrawSchema,
  workstationListSchema,
} from '@bichroma/contract'
import { fleetReportQuery, runReportQuery } from '../../review/routes'
import type { RouteName } from '../../http/routeRoles'
import { peersFacts } from './peersFacts'
import { roundsFacts } from './roundsFacts'

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

const display = {
  name: 'Sedge 9',
  maker: 'Quillon',
  model: 'Q27',
  serial: 'QL-27-09999',
  firmware: '3.1',
  panelKind: 'wide-gamut-led',
  workstationId: 1,
  limitsId: 1,
  checkEveryDays: 28,
  slots: 3,
}
const workstation = { name: 'sedge-09', operatingSystem: 'linux', systemVersion: '12', roomId: 1 }
const aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const limits = { rules: [{ metric: 'averageDeltaE', near: 1, hard: 2 }] }
const readings =
  'RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,114,120,131\n0,0,0,0.1,0.1,0.1\n1,0,0,50,26,2\n0,1,0,43,86,14\n0,0,1,21,8,114\n'

export const routeFacts: Readonly<Record<RouteName, RouteFacts>> = {
  'GET /openapi.json': {
    area: 'Studio',
    tells: 'This description of the API, as OpenAPI 3.1.',
    file: ['application/json'],
  },
  'POST /session': {
    area: 'Access',
    tells:
      'Signs in with login and password, and the code of a second factor where there is one; sets the session’s cookie.',
    body: signInSchema,
    example: { login: 'viewer', password: 'view-word' },
  },
  'GET /session': { area: 'Access', tells: 'Who is asking; null for nobody.' },
  'DELETE /session': { area: 'Access', tells: 'Signs out.' },
  'POST /first-visit': {
    area: 'Access',
    tells: 'Makes the first administrator with the token that the server’s console tells.',
    body: firstVisitSchema,
    makes: true,
    example: { token: 'ABCDE-FGHJK-LMNPQ-RSTUV', login: 'marit', name: 'Marit Oyen', password: 'herons wade at dusk' },
  },
  'POST /accept': {
    area: 'Access',
    tells: 'Chooses a password by a one-time link, and signs in.',
    body: acceptSchema,
    example: { token: 'ABCDE-FGHJK-LMNPQ-RSTUV', password: 'herons wade at dusk' },
  },
  'GET /session/all': { area: 'Access', tells: 'One’s own sessions, used last first.' },
  'DELETE /session/others': { area: 'Access', tells: 'Ends all of one’s own sessions but this one.' },
  'PUT /session/password': {
    area: 'Access',
    tells: 'Changes one’s own password; other sessions end.',
    body: changePasswordSchema,
    example: { old: 'the one before', password: 'herons wade at dusk' },
  },
  'GET /session/second-factor': {
    area: 'Access',
    tells: 'Whether one has a second factor, and how many recovery codes are left.',
  },
  'POST /session/second-factor': { area: 'Access', tells: 'Offers a second factor to be set up.' },
  'PUT /session/second-factor': {
    area: 'Access',
    tells: 'Puts the offered second factor in force by a code that it shows; tells ten recovery codes once.',
    body: confirmSecondFactorSchema,
    makes: true,
    example: { code: '123456' },
  },
  'POST /session/second-factor/codes': {
    area: 'Access',
    tells: 'Makes new recovery codes in place of those before.',
    body: ownPasswordSchema,
    makes: true,
    example: { password: 'herons wade at dusk' },
  },
  'POST /session/second-factor/remove': {
    area: 'Access',
    tells: 'Takes one’s own second factor away.',
    body: ownPasswordSchema,
    example: { password: 'herons wade at dusk' },
  },
  'GET /tokens': {
    area: 'Access',
    tells: 'One’s own tokens; everybody’s for administrators. Never the tokens themselves.',
  },
  'POST /tokens': {
    area: 'Access',
    tells: 'Makes a token for a program; it is told this once.',
    body: makeTokenSchema,
    makes: true,
    example: { name: 'nightly check', role: 'viewer', days: 90 },
  },
  'DELETE /tokens/:id': { area: 'Access', tells: 'Withdraws a token.' },
  'GET /people': { area: 'Access', tells: 'Every account.' },
  'POST /people': {
    area: 'Access',
    tells: 'Invites somebody; tells the one-time link’s token once.',
    body: inviteSchema,
    makes: true,
    example: { login: 'ines', name: 'Ines Moor', role: 'technician', rooms: [1] },
  },
  'PUT /people/:id': {
    area: 'Access',
    tells: 'Changes an account’s name, role or rooms, or locks it.',
    body: changeAccountSchema,
    example: { name: 'Ines Moor' },
  },
  'POST /people/:id/reset': {
    area: 'Access',
    tells: 'Makes a link by which the owner chooses a new password.',
    makes: true,
  },
  'DELETE /people/:id/second-factor': {
    area: 'Access',
    tells: 'Takes the second factor of somebody away who has lost it.',
  },

  'GET /backups': { area: 'Studio', tells: 'Backups, and why the last try failed if it did.' },
  'POST /backups': { area: 'Studio', tells: 'Makes a backup and looks it through before it counts.', makes: true },
  'GET /ledger': { area: 'Studio', tells: 'Who did what, newest first.', query: ledgerListSchema },
  'GET /ledger/proof': {
    area: 'Studio',
    tells: 'Looks through the whole ledger for entries that were changed, removed or put in between.',
  },
  'GET /ledger/file': {
    area: 'Studio',
    tells: 'The same entries as a file: JSON lines, oldest first, with their hashes.',
    query: ledgerListSchema,
    file: ['application/x-ndjson'],
  },
  'GET /ledger/:thing/:id': { area: 'Studio', tells: 'What became of one thing.', query: ledgerListSchema },
  'GET /settings': { area: 'Studio', tells: 'What the studio decided for all its runs and profiles.' },
  'PUT /settings': { area: 'Studio', tells: 'Decides anew.', body: studioSettingsSchema, example: usualSettings },
  'GET /settings/logo': { area: 'Studio', tells: 'The studio’s logo.', file: ['image/png', 'image/jpeg'] },
  'PUT /settings/logo': { area: 'Studio', tells: 'Sets the studio’s logo.', takes: ['image/png', 'image/jpeg'] },
  'DELETE /settings/logo': { area: 'Studio', tells: 'Takes the studio’s logo away.' },

  'GET /rooms': { area: 'Register', tells: 'Every room with the newest reading of its light.' },
  'POST /rooms': {
    area: 'Register',
    tells: 'Adds a room.',
    body: saveRoomSchema,
    makes: true,
    example: { name: 'Loft', building: 'Mill' },
  },
  'PUT /rooms/:id': {
    area: 'Register',
    tells: 'Changes a room’s name, building and wanted light.',
    body: saveRoomSchema,
    example: { name: 'Sedge Room', building: 'Mill', light: { lux: { from: 20, to: 65 } } },
  },
  'DELETE /rooms/:id': { area: 'Register', tells: 'Retires a room in which no workstation is.' },
  'PUT /buildings': {
    area: 'Register',
    tells: 'Gives a building another name in all its rooms.',
    body: renameBuildingSchema,
    example: { from: 'Mill', to: 'Water mill' },
  },
  'GET /rooms/:id/light': { area: 'Register', tells: 'The log of a room’s light, newest first.' },
  'POST /rooms/:id/light': {
    area: 'Register',
    tells: 'Reads a room’s light with an instrument that lies there with its diffuser.',
    body: readRoomLightSchema,
    makes: true,
    example: { instrumentId: 1 },
  },
  'GET /rooms/:id/light/day': {
    area: 'Register',
    tells:
      'A room’s light on one day, today unless another is asked for: readings, hours, and when it was out of what is wanted.',
    query: lightDaySchema,
  },
  'GET /rooms/:id/light/weeks': {
    area: 'Register',
    tells:
      'A room’s light by weekday and hour and by month, the level of its working hours, and the slots whose aim follows it.',
    query: lightWeeksSchema,
  },
  'PUT /rooms/:id/light/level': {
    area: 'Register',
    tells: 'Accepts or declines another level for the aims that follow a room’s light.',
    body: decideLevelSchema,
    example: { proposalId: 1, decision: 'accept' },
  },
  'POST /rooms/:id/watch': {
    area: 'Register',
    tells:
      'Leaves an instrument in a room, its diffuser in front: it reads the light every five minutes. It takes the place of another.',
    body: readRoomLightSchema,
    makes: true,
    example: { instrumentId: 1 },
  },
  'DELETE /rooms/:id/watch': { area: 'Register', tells: 'Ends the watch over a room’s light; what was read stays.' },
  'GET /workstations': { area: 'Register', tells: 'Workstations by name.', query: workstationListSchema },
  'POST /workstations': {
    area: 'Register',
    tells: 'Adds a workstation.',
    body: saveWorkstationSchema,
    makes: true,
    example: workstation,
  },
  'PUT /workstations/:id': {
    area: 'Register',
    tells: 'Changes a workstation’s name, room and system.',
    body: changeWorkstationSchema,
    example: { ...workstation, name: 'sedge-02' },
  },
  'DELETE /workstations/:id': { area: 'Register', tells: 'Retires a workstation at which no display stands.' },
  'POST /workstations/:id/courier-key': {
    area: 'Register',
    tells: 'Makes a new key for its courier, told this once; the one before is worth nothing.',
    makes: true,
  },
  'GET /displays': { area: 'Floor', tells: 'Displays in use, with their verdicts.', query: displayListSchema },
  'GET /displays/:id': { area: 'Floor', tells: 'One display with everything that it holds.' },
  'POST /displays': {
    area: 'Register',
    tells: 'Adds a display.',
    body: saveDisplaySchema,
    makes: true,
    example: display,
  },
  'PUT /displays/:id': {
    area: 'Register',
    tells: 'Changes a display’s name, limits and interval.',
    body: changeDisplaySchema,
    example: { name: 'Sedge 2', limitsId: 1, checkEveryDays: 14 },
  },
  'POST /displays/change': {
    area: 'Register',
    tells: 'Changes limits or interval of many displays, or of all of a model.',
    body: changeDisplaysSchema,
    example: { ids: [1], checkEveryDays: 21 },
  },
  'POST /displays/swap': {
    area: 'Register',
    tells: 'Two displays have changed places.',
    body: swapDisplaysSchema,
    example: { first: 1, second: 2 },
  },
  'POST /displays/:id/move': {
    area: 'Register',
    tells: 'A display goes to another workstation, with its history.',
    body: moveDisplaySchema,
    example: { workstationId: 2 },
  },
  'POST /displays/:id/keep': {
    area: 'Register',
    tells: 'Stores or retires a display, or takes it back into use.',
    body: keepDisplaySchema,
    example: { kept: 'stored', why: 'The museum is closed until spring.' },
  },
  'POST /displays/:id/replace': {
    area: 'Register',
    tells: 'Another display takes its desk, its name and its limits; its history stays with its serial number.',
    body: replaceDisplaySchema,
    makes: true,
    example: {
      ...{ maker: 'Quillon', model: 'Q27', serial: 'QL-27-09998', firmware: '3.2' },
      ...{ panelKind: 'wide-gamut-led', slots: 3, old: 'retired' },
    },
  },
  'GET /put-away': { area: 'Register', tells: 'Displays that are stored or retired, newest first.' },
  'GET /models': { area: 'Register', tells: 'What is known of each model.' },
  'GET /inventory': { area: 'Register', tells: 'All displays as comma-separated values.', file: ['text/csv'] },
  'POST /inventory/plan': {
    area: 'Register',
    tells: 'What an inventory would do, line by line; nothing is written.',
    body: inventorySchema,
    example: { text: 'serial,name\nQL-27-04418,Sedge 2\n' },
  },
  'POST /inventory': {
    area: 'Register',
    tells: 'Takes an inventory in; by the digest that its plan told.',
    body: inventorySchema,
    makes: true,
    example: { text: 'serial,name\nQL-27-04418,Sedge 2\n', digest: '0'.repeat(64) },
  },
  'GET /found': { area: 'Register', tells: 'Displays that couriers see and the register does not know there.' },
  'POST /displays/:id/name': { area: 'Register', tells: 'Shows a display’s name on its own screen.' },
  'GET /instruments': { area: 'Register', tells: 'Every instrument, and where it is plugged in.' },
  'PUT /instruments/:id': {
    area: 'Register',
    tells: 'Stores or retires an instrument, or takes it back into use.',
    body: keepInstrumentSchema,
    example: { kept: 'stored', why: 'At its maker.' },
  },
  'GET /corrections': {
    area: 'Register',
    tells: 'Corrections made on displays, newest first.',
    query: correctionListSchema,
  },
  'POST /corrections': {
    area: 'Register',
    tells: 'Makes a correction of a colorimeter by a spectroradiometer on a display.',
    body: makeCorrectionSchema,
    makes: true,
    example: { displayId: 1, instrumentId: 1, referenceId: 2 },
  },
  'GET /floor': { area: 'Floor', tells: 'How the studio stands: verdicts, rooms, what needs someone first.' },
  'GET /needs': { area: 'Floor', tells: 'What needs someone, most pressing first.', query: needListSchema },
  ...roundsFacts,
  ...peersFacts,

  'GET /pulse': { area: 'Floor', tells: 'What goes on at this moment.' },
  'GET /events': { area: 'Floor', tells: 'A stream of what changes.', file: ['text/event-stream'] },

  'GET /aims': { area: 'Aims', tells: 'Every aim.' },
  'POST /aims': {
    area: 'Aims',
    tells: 'Adds an aim.',
    body: saveAimSchema,
    makes: true,
    example: { name: 'Atlas proof', aim },
  },
  'PUT /aims/:id': {
    area: 'Aims',
    tells: 'Changes an aim; what was written by it stays.',
    body: saveAimSchema,
    example: { name: 'Atlas web', aim },
  },
  'DELETE /aims/:id': { area: 'Aims', tells: 'Removes an aim.' },
  'GET /limits': { area: 'Aims', tells: 'Every set of limits.' },
  'POST /limits': {
    area: 'Aims',
    tells: 'Adds limits.',
    body: saveLimitsSchema,
    makes: true,
    example: { name: 'Loose', limits },
  },
  'PUT /limits/:id': {
    area: 'Aims',
    tells: 'Changes limits; forecasts follow.',
    body: saveLimitsSchema,
    example: { name: 'Plate work', limits },
  },
  'DELETE /limits/:id': { area: 'Aims', tells: 'Removes limits by which no display is judged.' },

  'GET /runs': { area: 'Runs', tells: 'Runs, newest first.', query: runListSchema },
  'POST /runs': {
    area: 'Runs',
    tells: 'Starts a run, at once, in its turn, or in the night.',
    body: startRunSchema,
    makes: true,
    example: { displayId: 1, kind: 'full', slot: 1, aimId: 1, overwrites: '', sampling: 'brief' },
  },
  'GET /runs/:id': { area: 'Runs', tells: 'One run with its stages and raw readings.' },
  'POST /runs/:id/stop': {
    area: 'Runs',
    tells: 'Stops a run and puts the display back.',
    body: stopRunSchema,
    example: {},
  },
  'POST /runs/:id/put-back': { area: 'Runs', tells: 'Puts back what a run that has ended had overwritten.' },
  'POST /runs/:id/resume': {
    area: 'Runs',
    tells: 'Goes on with a run that waits; says which conditions somebody has looked at.',
    body: resumeRunSchema,
    example: { confirm: [] },
  },
  'GET /displays/:id/outlook': { area: 'Runs', tells: 'How long runs of this display take and what they reach.' },
  'GET /runs/:id/profile': {
    area: 'Runs',
    tells: 'The profile that a run filed.',
    file: ['application/vnd.iccprofile'],
  },
  'POST /runs/:id/profile': {
    area: 'Runs',
    tells: 'Makes a run’s profile anew from its readings.',
    body: rebuildProfileSchema,
    example: { profile: { version: 2, kind: 'matrix', black: 'measured', readings: 'prove' } },
  },

  'GET /runs/:id/review': { area: 'Review', tells: 'The validation of a run: figures, judgement, trail.' },
  'GET /runs/:id/report': {
    area: 'Review',
    tells: 'The report of a validation.',
    query: runReportQuery,
    file: ['text/html', 'application/pdf', 'text/csv', 'text/plain'],
  },
  'POST /runs/:id/withdraw': {
    area: 'Review',
    tells: 'Takes a validation out of what counts; it is kept, with the reason.',
    body: withdrawSchema,
    example: { reason: 'The lamp was on.' },
  },
  'GET /reports/fleet': {
    area: 'Review',
    tells: 'The report of the whole studio as of a day.',
    query: fleetReportQuery,
    file: ['text/html', 'application/pdf', 'text/csv'],
  },
  'GET /rooms/:id/reports': {
    area: 'Review',
    tells: 'The reports of a room’s displays as one archive.',
    file: ['application/zip'],
  },
  'POST /displays/:id/validations': {
    area: 'Review',
    tells: 'Takes in readings that were measured elsewhere, judged and kept.',
    body: importReadingsSchema,
    makes: true,
    example: {
      slot: 1,
      aimId: 1,
      fileName: 'elsewhere.csv',
      text: readings,
      readAt: 1_700_000_000_000,
      instrument: 'Elsewhere',
    },
  },

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
}
