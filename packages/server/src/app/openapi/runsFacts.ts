import {
  importReadingsSchema,
  rebuildProfileSchema,
  resumeRunSchema,
  runListSchema,
  saveAimSchema,
  saveLimitsSchema,
  startRunSchema,
  stopRunSchema,
  withdrawSchema,
} from '@bichroma/contract'
import { fleetReportQuery, runReportQuery } from '../../review/routes'
import type { RouteFacts } from './routeFacts'

const aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const limits = { rules: [{ metric: 'averageDeltaE', near: 1, hard: 2 }] }
const readings =
  'RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,114,120,131\n0,0,0,0.1,0.1,0.1\n1,0,0,50,26,2\n0,1,0,43,86,14\n0,0,1,21,8,114\n'

/** Routes of aims, runs and review. */
export const runsFacts = {
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
} as const satisfies Readonly<Record<string, RouteFacts>>
