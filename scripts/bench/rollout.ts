import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { RolloutRow, WavePreview } from '@bichroma/contract'
import { until } from '../waiting'
import { ApiClient } from '../apiClient'
import { RolloutStudio } from '../ordeal/rolloutStudio'
import { ServerChild } from '../ordeal/serverChild'
import { fleetFolder } from './fleetReads'
import { note, report } from './measure'

const since = (began: number) => performance.now() - began

/** A wave of 200 displays over 100 couriers, against placing one after another; how soon a change is known; a preview of 10,000. */
export async function benchRollout(): Promise<void> {
  await benchWave()
  await benchPreview()
}

async function benchWave(): Promise<void> {
  const studio = await RolloutStudio.open(100, 2)
  try {
    for (const { displayId } of await studio.rows()) studio.file(displayId, 1, 1)
    for (const name of studio.bench.names) studio.bench.connect(name)
    await until(async () => (await studio.rows()).every((r) => r.courierOnline), 'every courier is there')
    await studio.settle()
    const began = performance.now()
    const id = await studio.wave({})
    await until(async () => (await studio.detail(id)).state === 'done', 'the wave is done')
    const took = since(began)
    const { counts } = await studio.detail(id)
    report(
      'a wave of 200 displays over 100 couriers, until all are read back',
      `${(took / 1000).toFixed(1)} s, ${counts.there} there`,
      '≤ 30 s, 200',
      took <= 30_000 && counts.there === 200,
    )
    // What an administrator does without waves: one after another, each until it is read back.
    for (let d = 1; d <= 40; d++) studio.file(d, 1, 2)
    await studio.settle()
    const rows = await studio.rows()
    const oneByOne = performance.now()
    for (const { displayId, wanted } of rows.slice(0, 40)) {
      const { id: placement } = await studio.client.post<{ id: number }>('/placements', { runId: wanted!.runId })
      await until(async () => {
        const row = await studio.row(displayId)
        return row.placement?.id === placement && row.placement.verifiedAt !== null
      }, 'it is read back')
    }
    note(`one after another: ${((since(oneByOne) * 5) / 1000).toFixed(1)} s for as many, from 40`)
    const times: number[] = []
    for (let n = 0; n < 20; n++) {
      const row = rows[2 * n]
      const changed = performance.now()
      await studio.bench.host(row.workstationName).unbind(`RD-${String(n + 1).padStart(3, '0')}-1`)
      await until(async () => (await studio.row(row.displayId)).placement?.state === 'missing', 'it is told')
      times.push(since(changed))
    }
    times.sort((a, b) => a - b)
    report(
      'a change on a host, until the server tells it',
      `median ${times[10].toFixed(0)} ms, most ${times[19].toFixed(0)} ms`,
      '≤ 5 s',
      times[19] <= 5000,
    )
  } finally {
    await studio.close()
  }
}

async function benchPreview(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-fleet-'))
  try {
    await fleetFolder(folder, { displays: 10_000, validations: 60_000 })
    const child = await ServerChild.start(folder)
    try {
      const client = new ApiClient(child.url)
      await client.signIn('bench', 'a-large-fleet')
      const began = performance.now()
      await until(async () => {
        const { items } = (await (await client.raw('GET', '/rollout?limit=1&sort=newest')).json()) as {
          items: RolloutRow[]
        }
        return items[0].wanted !== null
      }, 'policies are looked at')
      const preview = async (selection: object) => {
        const times: number[] = []
        let told: WavePreview | null = null
        for (let n = 0; n < 9; n++) {
          const asked = performance.now()
          told = await client.post<WavePreview>('/waves/preview', { selection })
          times.push(since(asked))
        }
        return { ms: times.sort((a, b) => a - b)[4], told: told! }
      }
      await preview({})
      note(
        `what policies ask for of 10,000 displays was worked out in ${(since(began) / 1000).toFixed(1)} s from the start`,
      )
      for (const [what, selection] of [
        ['all 10,000 displays', {}],
        ['what differs', { differs: true }],
        ['two rooms', { rooms: [3, 4] }],
      ] as const) {
        const { ms, told } = await preview(selection)
        report(
          `the preview of a wave: ${what}`,
          `median ${ms.toFixed(0)} ms, ${told.chosen} chosen, ${told.does} done`,
          '≤ 1 s',
          ms <= 1000 && told.chosen > 0,
        )
      }
      const policy = performance.now()
      await client.put('/policies', { level: 'studio', rules: { keepOld: 1 } })
      const answered = since(policy)
      report('a policy of the studio is answered', `${answered.toFixed(0)} ms`, '≤ 200 ms', answered <= 200)
    } finally {
      await child.end('SIGKILL')
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
