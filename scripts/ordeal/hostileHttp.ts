import { Agent, request as ask } from 'node:http'
import { routeFacts } from '../../packages/server/src/app/openapi/routeFacts'
import { routeRoles, type RouteName } from '../../packages/server/src/http/routeRoles'
import { demoAims, demoLimits } from '../demoStudio'
import { mutated, nestedText, pick, strange, type Uniform } from './values'

/** What each route that takes something would take. */
const examples: Partial<Record<RouteName, unknown>> = {
  'POST /session': { login: 'technician', password: 'not the word' },
  'POST /rooms': { name: 'Sedge Room', light: { lux: { from: 20, to: 60 } } },
  'PUT /rooms/:id': { name: 'Sedge Room', light: null },
  'POST /rooms/:id/light': { instrumentId: 1 },
  'POST /rooms/:id/watch': { instrumentId: 1 },
  'PUT /rooms/:id/light/level': { proposalId: 1, decision: 'accept' },
  'POST /workstations': { name: 'sedge-02', roomId: 1, operatingSystem: 'linux', systemVersion: '12' },
  'POST /displays': {
    name: 'Sedge 2',
    maker: 'Quillon',
    model: 'Q27',
    serial: 'S1',
    firmware: '1',
    panelKind: 'oled',
    workstationId: 1,
    limitsId: 1,
    checkEveryDays: 28,
    slots: 2,
  },
  'PUT /displays/:id': { name: 'Sedge 2', limitsId: 1, checkEveryDays: 28 },
  'POST /corrections': { displayId: 1, instrumentId: 1, referenceId: 2 },
  'POST /aims': { name: 'Atlas web', aim: demoAims['Atlas web'] },
  'PUT /aims/:id': { name: 'Atlas web', aim: demoAims['Atlas print'] },
  'POST /limits': {
    name: 'Plate work',
    limits: { ...demoLimits['Plate work'], others: { de94: [{ metric: 'worstDeltaE', near: 1, hard: 2 }] } },
  },
  'PUT /limits/:id': { name: 'Plate work', limits: demoLimits.Everyday },
  'PUT /settings': {
    studioName: 'Fen & Lantern',
    profile: { version: 4, kind: 'matrix', black: 'measured', readings: 'prove' },
    profileName: '{display}, slot {slot}',
    placing: 'keep',
    night: { from: '21:00', to: '06:00', idleMinutes: 15 },
  },
  'POST /runs': { displayId: 1, kind: 'full', slot: 1, aimId: 1, overwrites: '', sampling: 'brief', begins: 'turn' },
  'POST /runs/:id/stop': { letGo: true },
  'POST /runs/:id/resume': { confirm: ['warm'] },
  'POST /runs/:id/profile': {},
  'POST /runs/:id/withdraw': { reason: 'The instrument was knocked.' },
  'POST /displays/:id/validations': {
    slot: 1,
    aimId: 1,
    fileName: 'read.csv',
    text: 'RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,95,100,108\n0,0,0,0.1,0.1,0.1\n1,0,0,41,21,2\n0,1,0,36,71,12\n0,0,1,18,7,95\n0.5,0.5,0.5,20,21,23\n',
    readAt: 1_700_000_000_000,
    instrument: 'Elsewhere',
  },
  'POST /placements': { runId: 1 },
  'POST /displays/:id/move': { workstationId: 2 },
  'POST /displays/swap': { first: 4, second: 5 },
  'POST /people': { login: 'ines', name: 'Ines Moor', role: 'viewer' },
  'PUT /people/:id': { name: 'Ines Moor', role: 'viewer', locked: true },
  'PUT /session/password': { old: 'not the word', password: 'herons wade at dusk' },
  'POST /accept': { token: 'AAAAA-BBBBB-CCCCC-DDDDD', password: 'herons wade at dusk' },
  'POST /first-visit': {
    token: 'AAAAA-BBBBB-CCCCC-DDDDD',
    login: 'ines',
    name: 'Ines Moor',
    password: 'herons wade at dusk',
  },
}

const ids = ['1', '2', '3', '1', '2', '0', '-1', '999999999999999', 'x', '%00', '..%2f..', '1e3', '%E0%A4%A', '99999']
const queries = [
  '',
  '',
  '?as=pdf',
  '?as=csv&on=2026-02-31',
  '?as=html&on=2026-11-01',
  '?slot=1',
  '?slot=9',
  '?as=pdf&as=csv',
  '?__proto__=1',
  '?on[a][b]=1',
  `?${'a=1&'.repeat(500)}`,
]
/** Work for whole seconds; asked now and then. */
const heavy = new Set<RouteName>([
  'GET /rooms/:id/reports',
  'GET /reports/fleet',
  'GET /runs/:id/report',
  'POST /backups',
])
/** What would put away the display, its validation, the workstation or the instrument that the ordeal goes on with. */
const takesAway = /DELETE \/(workstations|rooms)|\/displays\/:id\/(keep|replace|move)|PUT \/instruments|\/withdraw$/
/** The accounts that the ordeal goes on as, by number; the others are whom it has invited. */
const own = new Set(['1', '2', '3'])

export interface HttpTally {
  sent: number
  /** Answers by status. */
  readonly statuses: Record<number, number>
  /** What should not have been: 5xx, no answer, a refusal without a sentence. */
  readonly wrong: string[]
}

/** One request that a hostile person might send, whoever they are signed in as. */
function compose(uniform: Uniform, cookies: readonly string[]) {
  let name = pick(uniform, Object.keys(routeRoles) as RouteName[])
  if (heavy.has(name) && uniform() > 0.1) name = 'GET /session'
  const [method, pattern] = name.split(' ')
  const others =
    name.includes('/people/') || takesAway.test(name) ? ids.map((id) => (own.has(id) ? `${Number(id) + 3}` : id)) : ids
  const path = pattern.replace(/:\w+/g, () => pick(uniform, others))
  const example = examples[name] ?? routeFacts[name].example
  const headers: Record<string, string> = {}
  // Nobody's session is ended: the ordeal goes on in it.
  const signedIn = method !== 'GET' && name.includes('/session') ? '' : pick(uniform, cookies)
  if (signedIn) headers.cookie = uniform() < 0.97 ? signedIn : `${signedIn.slice(0, -4)}xxxx`
  let body: string | Buffer | null = null
  if (method !== 'GET') {
    headers['content-type'] = pick(uniform, [
      'application/json',
      'application/json',
      'application/json',
      'text/plain',
      'image/png',
    ])
    const roll = uniform()
    if (roll < 0.55) body = JSON.stringify(mutated(uniform, example ?? {}))
    else if (roll < 0.7) body = JSON.stringify(strange(uniform))
    else if (roll < 0.76) body = nestedText(14_000)
    else if (roll < 0.8) body = `${'['.repeat(100_000)}`
    else if (roll < 0.84) body = '{"a":1e999,"b":NaN'
    else if (roll < 0.86) body = Buffer.from([0xff, 0xfe, 0x00, 0x80, 0x22])
    else if (roll < 0.88) body = `{"name":"${'x'.repeat(250_000)}"}`
    else if (roll < 0.9) body = `{"rules":[${'{},'.repeat(20_000)}{}]}`
    else body = JSON.stringify(example ?? {})
    headers['content-length'] = String(Buffer.byteLength(body))
  }
  return { name, method, path: `/api${path}${pick(uniform, queries)}`, headers, body }
}

const agent = new Agent({ keepAlive: true, maxSockets: 16 })

function send(
  url: URL,
  { method, path, headers, body }: ReturnType<typeof compose>,
): Promise<{ status: number; type: string; text: string }> {
  return new Promise((resolve, reject) => {
    const request = ask({ agent, host: url.hostname, port: url.port, method, path, headers }, (response) => {
      const type = response.headers['content-type'] ?? ''
      const told = (text: string) => resolve({ status: response.statusCode ?? 0, type, text })
      // A stream goes on for ever.
      if (type.startsWith('text/event-stream')) {
        response.destroy()
        return told('')
      }
      const chunks: Buffer[] = []
      response.on('data', (chunk: Buffer) => chunks.push(chunk))
      response.on('end', () => told(Buffer.concat(chunks).toString('utf8')))
      response.on('error', reject)
    })
    request.on('error', reject)
    request.setTimeout(60_000, () => request.destroy(new Error('no answer in a minute')))
    request.end(body)
  })
}

/** Sends hostile requests over all routes, several at a time. */
export async function hostileHttp(
  url: string,
  cookies: readonly string[],
  count: number,
  uniform: Uniform,
): Promise<HttpTally> {
  const tally: HttpTally = { sent: 0, statuses: {}, wrong: [] }
  const address = new URL(url)
  const one = async () => {
    const composed = compose(uniform, cookies)
    const what = `${composed.method} ${composed.path.slice(0, 80)}`
    try {
      const { status, type, text } = await send(address, composed)
      tally.statuses[status] = (tally.statuses[status] ?? 0) + 1
      if (status >= 500) tally.wrong.push(`${what}: ${status} ${text.slice(0, 200)}`)
      else if (
        status >= 400 &&
        !(type.startsWith('application/problem+json') && (JSON.parse(text) as { detail?: string }).detail)
      )
        tally.wrong.push(`${what}: ${status} without a sentence`)
    } catch (error) {
      // A request larger than the address takes is cut off while it is still being sent.
      if (!['EPIPE', 'ECONNRESET'].includes((error as NodeJS.ErrnoException).code ?? ''))
        tally.wrong.push(`${what}: ${(error as Error).message}`)
    }
  }
  const lane = async () => {
    while (tally.sent < count) {
      tally.sent++
      await one()
    }
  }
  await Promise.all(Array.from({ length: 8 }, lane))
  agent.destroy()
  return tally
}
