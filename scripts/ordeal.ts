// Ordeals: seeded trials by faults over a whole part of the product, judged by what really is. docs/robustness.md.
import { parseArgs } from 'node:util'
import { FailingStudio } from './ordeal/disk'
import type { DiskFault } from './ordeal/faultyDriver'
import { hostile } from './ordeal/hostile'
import { frozen } from './ordeal/frozen'
import { kills } from './ordeal/kills'
import { readerTimes } from './ordeal/readers'
import { rollout } from './ordeal/rollout'
import { buildPrograms } from './programs.mjs'

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { seed: { type: 'string', default: '1' }, count: { type: 'string' } },
})
const seed = Number(values.seed)
await buildPrograms()

/** An ordeal by name: prints what it found, and gives whether all held. */
const ordeals: Readonly<Record<string, () => Promise<boolean>>> = {
  hostile: async () => {
    const count = Number(values.count ?? 100_000)
    const outcome = await hostile({ requests: count, messages: count, seed })
    const [early, late] = outcome.residentMb
    console.log(`${outcome.http.sent} requests, by status: ${JSON.stringify(outcome.http.statuses)}`)
    console.log(
      `${outcome.courier.sent} courier messages over ${outcome.courier.connections} connections, ${outcome.courier.commands} commands, ${outcome.courier.refused} times refused`,
    )
    console.log(`resident memory ${early.toFixed(0)} MB after a fifth, ${late.toFixed(0)} MB at the end`)
    for (const wrong of [...outcome.http.wrong, ...outcome.broken].slice(0, 40)) console.log(`WRONG ${wrong}`)
    if (outcome.exited) console.log(`WRONG the server ended: ${JSON.stringify(outcome.exited)}`)
    if (outcome.log) console.log(`— the server’s log —\n${outcome.log.slice(0, 6000)}`)
    return !outcome.exited && !outcome.http.wrong.length && !outcome.broken.length && late - early < 50
  },

  disk: async () => {
    // Each write is told of in the log; here only what does not hold counts.
    console.error = () => {}
    const faults: readonly DiskFault[] = ['full', 'busy', 'io']
    const every = Number(values.count ?? 1)
    let tried = 0
    let wrong = 0
    for (const kind of ['check', 'full'] as const) {
      // Two seconds, and what it takes to look.
      const failing = await FailingStudio.open(2500)
      const writes = await failing.count(kind)
      console.log(`A ${kind} run has ${writes} writes.`)
      for (let at = 1; at <= writes; at += every) {
        const outcome = await failing.suffer({ kind, fault: faults[(at + seed) % 3], at })
        tried++
        if (outcome.wrong === null) continue
        wrong++
        console.log(`WRONG ${kind}, ${outcome.fault} at write ${at}: ${outcome.wrong}`)
      }
      await failing.close()
    }
    console.log(`${tried} runs, each with a disk that failed at another of its writes: ${wrong} did not hold.`)
    return wrong === 0
  },

  frozen: async () => {
    const rows = await frozen()
    for (const { what, tookMs, delayMs } of rows)
      console.log(
        `${what.padEnd(52)} ${(tookMs / 1000).toFixed(1).padStart(6)} s   loop p99 ${delayMs.p99.toFixed(0).padStart(4)} ms, p99.9 ${delayMs.p999.toFixed(0).padStart(4)} ms`,
      )
    return rows.every((r) => r.delayMs.p999 < 100)
  },

  readers: async () => {
    const rows = readerTimes()
    for (const { what, onceMs, twiceMs, fullMs } of rows)
      console.log(
        `${what.padEnd(36)} 1 MB ${onceMs.toFixed(0).padStart(6)} ms   2 MB ${twiceMs.toFixed(0).padStart(6)} ms   × ${(twiceMs / onceMs).toFixed(2)}   4 MB ${fullMs.toFixed(0).padStart(6)} ms`,
      )
    // Over two doublings, for one is lost in the clock's own noise; what takes a moment is all noise.
    return rows.every((r) => r.fullMs < 2.2 ** 2 * r.onceMs || r.fullMs < 100)
  },

  kills: async () => {
    const outcome = await kills(Number(values.count ?? 200), seed)
    console.log(
      `${outcome.kills} kills in ${outcome.runs} runs, ${outcome.readings} readings; by what was going on: ${JSON.stringify(outcome.stages)}`,
    )
    console.log(`slowest start after a kill ${(outcome.slowestStartMs / 1000).toFixed(1)} s`)
    for (const wrong of outcome.wrong) console.log(`WRONG ${wrong}`)
    return !outcome.wrong.length
  },

  rollout: async () => {
    // What each fault is told as in the log is not what counts here.
    console.error = () => {}
    const { faults, caused, waves, claims, underWay, files, wrong, inForce } = await rollout(
      100,
      2,
      Number(values.count ?? 1000),
      seed,
    )
    for (const [name, n] of Object.entries(faults).sort((a, b) => b[1] - a[1]))
      console.log(`${String(n).padStart(5)}  ${name}`)
    console.log(
      `${caused} faults, ${waves} waves, ${claims} claims compared with the hosts’ own stores (${underWay} of them once more, while something was under way), ${files} times a file of others looked at`,
    )
    console.log(`at the end ${inForce[0]} of ${inForce[1]} wanted profiles are in force`)
    for (const line of wrong) console.log(`WRONG ${line}`)
    return !wrong.length
  },
}

const ordeal = Object.hasOwn(ordeals, positionals[0] ?? '') ? ordeals[positionals[0]] : null
if (!ordeal) {
  console.error(`Name an ordeal: ${Object.keys(ordeals).join(', ')}.`)
  process.exit(2)
}
const held = await ordeal()
console.log(held ? 'It holds.' : 'It does not hold.')
process.exit(held ? 0 : 1)
