import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { RunDetail, RunSummary } from '@bichroma/contract'
import { uniformFrom } from '@bichroma/core/basics'
import { proveLedger } from '../../packages/server/src/ledger/ledger'
import { until } from '../waiting'
import { LiveServer } from './liveServer'

export interface KillsOutcome {
  kills: number
  /** Stages in which the server was killed, and how often. */
  readonly stages: Record<string, number>
  /** Longest start after a kill, ms. */
  slowestStartMs: number
  runs: number
  readings: number
  readonly wrong: string[]
}

/**
 * Kills the server with SIGKILL again and again, at seeded moments of full runs and checks, of imports, placements, inventories and invitations, and
 * starts another on the same folder: whatever was acknowledged is there, and every run is brought to its end.
 */
export async function kills(count: number, seed: number): Promise<KillsOutcome> {
  const uniform = uniformFrom(seed)
  const outcome: KillsOutcome = { kills: 0, stages: {}, slowestStartMs: 0, runs: 0, readings: 0, wrong: [] }
  const server = await LiveServer.open(Infinity, false)
  const { client, display } = server
  const runOf = (id: number) => client.get<RunDetail>(`/runs/${id}`)

  const killAndStart = async (stage: string) => {
    outcome.kills++
    outcome.stages[stage] = (outcome.stages[stage] ?? 0) + 1
    outcome.slowestStartMs = Math.max(outcome.slowestStartMs, await server.killAndStart())
  }

  /** Sends something and kills in the middle of it: it is there whole, or not at all. */
  const inTheMiddle = async (
    what: string,
    send: () => Promise<unknown>,
    whole: (acknowledged: boolean) => Promise<string | null>,
  ) => {
    let acknowledged = false
    const sent = send().then(
      () => (acknowledged = true),
      () => null,
    )
    await new Promise((resolve) => setTimeout(resolve, Math.floor(uniform() * 40)))
    await killAndStart(what)
    await sent
    const wrong = await whole(acknowledged)
    if (wrong) outcome.wrong.push(`${what}: ${wrong}`)
  }

  const importOnce = async (n: number) => {
    const fileName = `read ${n}.csv`
    await inTheMiddle(
      'an import',
      () =>
        client.post('/displays/1/validations', {
          slot: 1,
          aimId: 1,
          fileName,
          text: `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,113,119,129\n0,0,0,0.1,0.1,0.1\n${'0.5,0.5,0.5,24,25,27\n'.repeat(3000)}`,
          readAt: 1_700_000_000_000 + n,
          instrument: 'Elsewhere',
        }),
      async (acknowledged) => {
        const found = (await client.list<RunSummary>('/runs')).filter((r) => r.imported?.fileName === fileName)
        if (!found.length) return acknowledged ? 'it was acknowledged and is gone' : null
        if (found.length > 1 || found[0].readings !== 3002 || !found[0].judged) return 'it is there in part'
        const { history } = await client.get<{ history: { runId: number }[] }>('/drift/1?slot=1')
        return found[0].judged && history.some((h) => h.runId === found[0].id) ? null : 'its history lacks it'
      },
    )
  }

  /** Two hundred displays in one file: each is there whole with its slots and its entry, and the same file goes on. */
  const inventoryOnce = async (n: number) => {
    const rows = Array.from(
      { length: 200 },
      (_, i) => `K-${n}-${i},Kept ${n} ${i},Quillon,Q27,1,oled,2,Sedge Room,desk-${n},linux,12,Plate work,28`,
    )
    const text = `serial,name,maker,model,firmware,panel,slots,room,workstation,system,system version,limits,days between checks\n${rows.join('\n')}`
    const take = async () => {
      const { digest } = await client.post<{ digest: string }>('/inventory/plan', { text })
      await client.post('/inventory', { text, digest })
    }
    const whole = async () => {
      const { counts } = await client.post<{ counts: Record<string, number> }>('/inventory/plan', { text })
      const store = new Database(join(server.dataDir, 'bichroma.sqlite'), { readonly: true })
      const torn = store
        .prepare(
          `SELECT COUNT(*) FROM display WHERE serial LIKE ? AND (
             (SELECT COUNT(*) FROM slot WHERE display_id = display.id) <> 2
             OR (SELECT COUNT(*) FROM ledger WHERE thing = 'display' AND thing_id = display.id AND act = 'added') <> 1)`,
        )
        .pluck()
        .get(`K-${n}-%`) as number
      store.close()
      return { ...counts, torn } as { same: number; new: number; torn: number }
    }
    await inTheMiddle('an inventory', take, async (acknowledged) => {
      const seen = await whole()
      if (seen.torn) return `${seen.torn} displays are there in part`
      if (acknowledged && seen.same !== 200) return 'it was acknowledged and is gone in part'
      if (seen.new) await take()
      return (await whole()).same === 200 ? null : 'the same file did not go on'
    })
  }

  /** An account that is invited: it has its link and its entry, or is not there. */
  const inviteOnce = (n: number) =>
    inTheMiddle(
      'an invitation',
      () => client.post('/people', { login: `kill${n}`, name: `Kill ${n}`, role: 'viewer' }),
      async (acknowledged) => {
        const there = (await client.get<{ login: string }[]>('/people')).some((p) => p.login === `kill${n}`)
        if (acknowledged && !there) return 'it was acknowledged and is gone'
        const store = new Database(join(server.dataDir, 'bichroma.sqlite'), { readonly: true })
        const [links, entries] = store
          .prepare(
            `SELECT (SELECT COUNT(*) FROM account_token JOIN account ON account.id = account_id WHERE login = ?),
               (SELECT COUNT(*) FROM ledger WHERE act = 'invited' AND name = ?)`,
          )
          .raw()
          .get(`kill${n}`, `Kill ${n}`) as [number, number]
        store.close()
        return links === Number(there) && entries === Number(there) ? null : 'it is there in part'
      },
    )

  const placeOnce = (runId: number) =>
    inTheMiddle(
      'a placement',
      () => client.post('/placements', { runId }),
      async (acknowledged) => {
        const rows = await client.list<{ placement: { runId: number; state: string } | null }>('/rollout')
        const placement = rows[0].placement
        if (acknowledged && placement?.runId !== runId) return 'it was acknowledged and is gone'
        if (placement)
          await until(async () => {
            const [now] = await client.list<(typeof rows)[number]>('/rollout')
            return now.placement?.state === 'in force'
          }, 'the profile is in force')
        return null
      },
    )

  try {
    for (let n = 0; outcome.kills < count; n++) {
      const check = n % 3 === 2
      const id = await server.start(check ? 'check' : 'full')
      outcome.runs++
      for (;;) {
        // How far it gets before the next kill: readings on, and a moment more, so that writes are cut in the middle.
        let seen = await runOf(id)
        const further = seen.log.length + 1 + Math.floor(uniform() * (check ? 12 : 30))
        const goesOn = () => ['running', 'waiting'].includes(seen.state)
        await until(async () => {
          seen = await runOf(id)
          return !goesOn() || seen.log.length >= further
        }, `run ${id} goes on`)
        if (!goesOn() || outcome.kills >= count) break
        await new Promise((resolve) => setTimeout(resolve, Math.floor(uniform() * 30)))
        seen = await runOf(id)
        await killAndStart(seen.stage)
        const after = await runOf(id)
        if (JSON.stringify(after.log.slice(0, seen.log.length)) !== JSON.stringify(seen.log))
          outcome.wrong.push(`run ${id}: of ${seen.log.length} readings that were told some are gone`)
        if (after.state === 'interrupted') await client.post(`/runs/${id}/resume`)
        else if (after.state !== 'done')
          outcome.wrong.push(`run ${id} is ${after.state} after a kill: ${after.message}`)
      }
      await until(async () => !['running', 'waiting'].includes((await runOf(id)).state), `run ${id} ends`)
      const done = await runOf(id)
      outcome.readings += done.log.length
      if (done.state !== 'done') outcome.wrong.push(`run ${id} was ${done.state}: ${done.message}`)
      else if ((await display()).slots[0].judged?.runId !== id) outcome.wrong.push(`run ${id} does not judge its slot`)
      if ((await display()).slots[0].unsure) outcome.wrong.push(`after run ${id} nobody knows what the slot holds`)
      if (outcome.kills < count) await importOnce(n)
      if (outcome.kills < count) await inventoryOnce(n)
      if (outcome.kills < count) await inviteOnce(n)
      if (!check && done.profileHash && outcome.kills < count) await placeOnce(id)
    }
    await server.child.end('SIGTERM')
    const store = new Database(join(server.dataDir, 'bichroma.sqlite'), { readonly: true })
    const integrity = store.pragma('integrity_check', { simple: true })
    if (integrity !== 'ok') outcome.wrong.push(`integrity: ${String(integrity)}`)
    for (const { id, what } of (await proveLedger(store)).faults)
      outcome.wrong.push(`entry ${id} of the ledger: ${what}`)
    store.close()
    return outcome
  } finally {
    await server.close()
  }
}
