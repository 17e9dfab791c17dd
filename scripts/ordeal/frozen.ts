import { PNG } from 'pngjs'
import { uniformFrom } from '@bichroma/core/basics'
import { until } from '../waiting'
import { largeTexts } from './largeTexts'
import { LiveServer } from './liveServer'
import type { Told } from './serverChild'

export interface FrozenRow {
  readonly what: string
  readonly tookMs: number
  readonly delayMs: Told['delayMs']
}

/** Wall time for which the loop is watched at each, ms: it is looked at every 5 ms. */
const watchedMs = 5500

/** Largest file of readings, and of own patches, characters. */
const file = 4_000_000
const own = 200_000

/** Readings of as many patches as are taken in, padded to the largest file. */
function mostReadings(): string {
  const uniform = uniformFrom(1)
  const rows = Array.from({ length: 19_000 }, () => {
    const [r, g, b] = [uniform(), uniform(), uniform()].map((v) => Math.round(v * 1023) / 1023)
    return `${r},${g},${b},${(60 * r + 30 * g).toFixed(3)},${(25 * r + 80 * g).toFixed(3)},${(5 * g + 120 * b).toFixed(3)}`
  })
  const text = `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,113,119,129\n0,0,0,0.1,0.1,0.1\n${rows.join('\n')}\n`
  return text + '\n'.repeat(Math.min(60_000, file - text.length))
}

/** A picture of noise, as near to the largest that is taken in as it gets. */
function noisyLogo(): Buffer {
  const uniform = uniformFrom(2)
  const png = new PNG({ width: 500, height: 480 })
  for (let i = 0; i < png.data.length; i++) png.data[i] = Math.floor(uniform() * 256)
  return PNG.sync.write(png)
}

/**
 * How long the server's loop is held up while each reader, upload and report works at the size that it allows, with a run
 * going on beside it.
 */
export async function frozen(): Promise<FrozenRow[]> {
  // Faster than any display, so that there is always something going on; at no pace at all the bench itself takes a core.
  const server = await LiveServer.open(20, true)
  const { client } = server
  const rows: FrozenRow[] = []
  try {
    const proved = await server.start('full')
    await until(
      async () => (await client.get<{ state: string }>(`/runs/${proved}`)).state === 'done',
      'a run is proved',
    )
    const watch = async (what: string, work: () => Promise<unknown>) => {
      // Something goes on beside it: a check, and another when that has ended.
      let over = false
      const beside = (async () => {
        while (!over) {
          const id = await server.start('check').catch(() => null)
          if (id !== null)
            await until(
              async () => over || (await client.get<{ state: string }>(`/runs/${id}`)).state !== 'running',
              'a check ends',
            )
          else await new Promise((resolve) => setTimeout(resolve, 50))
        }
      })()
      await new Promise((resolve) => setTimeout(resolve, 200))
      await server.child.ask('reset')
      const started = performance.now()
      await work()
      const tookMs = performance.now() - started
      // Again and again, until the loop was looked at a thousand times: fewer have no 99.9th percentile.
      while (performance.now() - started < watchedMs) await work()
      rows.push({ what, tookMs, delayMs: (await server.child.ask()).delayMs })
      over = true
      await beside
    }
    const raw = async (method: string, path: string, body?: unknown) => {
      const response = await client.raw(method, path, body)
      await response.arrayBuffer()
      if (response.status >= 500) throw new Error(`${path}: ${response.status}`)
    }
    const importing = (text: string) => ({
      slot: 1,
      aimId: 1,
      fileName: 'large.csv',
      text,
      readAt: 1_700_000_000_000,
      instrument: 'Elsewhere',
    })
    await watch('nothing but the run', () => new Promise((resolve) => setTimeout(resolve, 3000)))
    for (const what of ['empty lines', 'quotation marks', 'column names', 'keywords of CGATS', 'elements of XML'])
      await watch(`import of 4 MB: ${what}`, () =>
        raw('POST', '/displays/1/validations', importing(largeTexts[what](file).slice(0, file))),
      )
    await watch('import of 19,002 readings', () => raw('POST', '/displays/1/validations', importing(mostReadings())))
    await watch('own patches of 200 kB', () =>
      raw('POST', '/runs', {
        displayId: 1,
        slot: 1,
        kind: 'check',
        patches: { kind: 'own', fileName: 'own.csv', text: `R,G,B\n${'1,1,1\n'.repeat(30_000)}`.slice(0, own) },
        begins: 'turn',
      }),
    )
    await watch('a logo of almost 1 MB', async () => {
      const headers = { cookie: client.cookie, 'content-type': 'image/png' }
      const init = { method: 'PUT', headers, body: new Uint8Array(noisyLogo()) }
      const response = await fetch(`${server.child.url}/api/settings/logo`, init)
      if (!response.ok) throw new Error(await response.text())
    })
    const imported = (await client.list<{ id: number; readings: number }>('/runs')).find((r) => r.readings > 10_000)!
    await watch('the report of 19,002 readings as PDF', () =>
      raw('GET', `/runs/${imported.id}/report?as=pdf&evidence=1`),
    )
    await watch('the fleet’s report as PDF', () => raw('GET', '/reports/fleet?as=pdf'))
    await watch('a room’s reports as ZIP', () => raw('GET', '/rooms/1/reports'))
    const table = { version: 4, kind: 'table', black: 'measured', readings: 'prove' }
    await watch('a table profile made anew', () => raw('POST', `/runs/${proved}/profile`, { profile: table }))
    await watch('review of 19,002 readings', () => raw('GET', `/runs/${imported.id}/review`))
    await watch('run sheet of 19,002 readings', () => raw('GET', `/runs/${imported.id}`))
    return rows
  } finally {
    await server.close()
  }
}
