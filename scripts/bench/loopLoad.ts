// Heavy requests at a server, one of each kind at a time, in a process of its own, so that nobody's clock waits for them.
import { uniformFrom } from '@bichroma/core/basics'

const [url, cookie, proved] = process.argv.slice(2)

/** A file of so many readings, as another program would have left it. */
function readings(count: number): string {
  const uniform = uniformFrom(1)
  const rows = Array.from({ length: count - 2 }, () => {
    const [r, g, b] = [uniform(), uniform(), uniform()].map((v) => Math.round(v * 1023) / 1023)
    return `${r},${g},${b},${(60 * r + 30 * g).toFixed(3)},${(25 * r + 80 * g).toFixed(3)},${(5 * g + 120 * b).toFixed(3)}`
  })
  return `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,113,119,129\n0,0,0,0.1,0.1,0.1\n${rows.join('\n')}\n`
}

const text = readings(20_000)
const profile = { version: 4, kind: 'table', black: 'measured', readings: 'prove' }
const file = { slot: 1, aimId: 1, fileName: 'large.csv', text, readAt: 1_700_000_000_000, instrument: 'Elsewhere' }
const works = {
  zips: ['GET', '/rooms/1/reports', undefined],
  profiles: ['POST', `/runs/${proved}/profile`, { profile }],
  imports: ['POST', '/displays/2/validations', file],
} as const
const done = { zips: 0, profiles: 0, imports: 0 }
let over = false
process.once('message', () => (over = true))
process.send!('begun')
await Promise.all(
  (Object.keys(works) as (keyof typeof works)[]).map(async (name) => {
    const [method, path, body] = works[name]
    while (!over || !done[name]) {
      const headers = { cookie, 'content-type': 'application/json' }
      const response = await fetch(`${url}/api${path}`, { method, headers, body: body && JSON.stringify(body) })
      await response.arrayBuffer()
      if (!response.ok) throw new Error(`${method} ${path}: ${response.status}`)
      done[name]++
    }
  }),
)
process.send!(done)
