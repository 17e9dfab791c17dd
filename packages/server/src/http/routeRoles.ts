import type { Role } from '@bichroma/contract'

/** Every route of the API under /api with the role it needs; a role includes those below it. */
export const routeRoles = {
  'POST /session': 'anyone',
  'GET /session': 'anyone',
  'DELETE /session': 'anyone',
  'POST /first-visit': 'anyone',
  'POST /accept': 'anyone',
  'GET /session/all': 'viewer',
  'DELETE /session/others': 'viewer',
  'PUT /session/password': 'viewer',
  'GET /session/second-factor': 'viewer',
  'POST /session/second-factor': 'viewer',
  'PUT /session/second-factor': 'viewer',
  'POST /session/second-factor/codes': 'viewer',
  'POST /session/second-factor/remove': 'viewer',
  'GET /tokens': 'viewer',
  'POST /tokens': 'viewer',
  'DELETE /tokens/:id': 'viewer',

  'GET /people': 'administrator',
  'POST /people': 'administrator',
  'PUT /people/:id': 'administrator',
  'POST /people/:id/reset': 'administrator',
  'DELETE /people/:id/second-factor': 'administrator',
  'GET /backups': 'administrator',
  'POST /backups': 'administrator',
  'GET /ledger': 'administrator',
  'GET /ledger/proof': 'administrator',
  'GET /ledger/:thing/:id': 'viewer',

  'GET /rooms': 'viewer',
  'POST /rooms': 'administrator',
  'PUT /rooms/:id': 'administrator',
  'GET /rooms/:id/light': 'viewer',
  'POST /rooms/:id/light': 'technician',
  'GET /workstations': 'viewer',
  'POST /workstations': 'administrator',
  'POST /workstations/:id/courier-key': 'administrator',
  'GET /floor': 'viewer',
  'GET /needs': 'viewer',
  'GET /displays': 'viewer',
  'GET /displays/:id': 'viewer',
  'POST /displays': 'administrator',
  'PUT /displays/:id': 'administrator',
  'POST /displays/:id/move': 'administrator',
  'GET /found': 'viewer',
  'POST /displays/:id/name': 'technician',
  'GET /displays/:id/outlook': 'viewer',
  'GET /instruments': 'viewer',
  'GET /corrections': 'viewer',
  'POST /corrections': 'technician',

  'GET /aims': 'viewer',
  'POST /aims': 'administrator',
  'PUT /aims/:id': 'administrator',
  'DELETE /aims/:id': 'administrator',
  'GET /limits': 'viewer',
  'POST /limits': 'administrator',
  'PUT /limits/:id': 'administrator',
  'DELETE /limits/:id': 'administrator',

  'GET /settings': 'viewer',
  'PUT /settings': 'administrator',
  'GET /settings/logo': 'viewer',
  'PUT /settings/logo': 'administrator',
  'DELETE /settings/logo': 'administrator',

  'GET /runs': 'viewer',
  'POST /runs': 'technician',
  'GET /runs/:id': 'viewer',
  'POST /runs/:id/stop': 'technician',
  'POST /runs/:id/put-back': 'technician',
  'POST /runs/:id/resume': 'technician',
  'GET /runs/:id/review': 'viewer',
  'GET /runs/:id/profile': 'viewer',
  'POST /runs/:id/profile': 'technician',
  'POST /runs/:id/withdraw': 'administrator',
  'GET /runs/:id/report': 'viewer',
  'GET /reports/fleet': 'viewer',
  'GET /rooms/:id/reports': 'viewer',
  'POST /displays/:id/validations': 'technician',

  'GET /drift': 'viewer',
  'GET /drift/slots': 'viewer',
  'GET /drift/:displayId': 'viewer',

  'GET /rollout': 'viewer',
  'POST /placements': 'technician',
  'POST /placements/:id/verify': 'technician',

  'GET /pulse': 'viewer',
  'GET /events': 'viewer',
} as const satisfies Record<string, Role | 'anyone'>

export type RouteName = keyof typeof routeRoles

/** Routes that technicians may use: those at which their rooms count. */
export type TechnicianRoute = {
  [K in RouteName]: (typeof routeRoles)[K] extends 'technician' ? K : never
}[RouteName]
