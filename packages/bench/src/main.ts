import { readFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { Bench } from './bench'
import { BenchClock } from './benchClock'
import { startControl } from './control'
import { flat } from './instrument/seat'
import { MailSink } from './mailSink'
import { fenLantern } from './scenario/fenLantern'
import type { Scenario } from './scenario/scenario'
import { readScenarioFile } from './scenario/scenarioFile'

const usage =
  'bench --server http://… --keys FILE --state DIR [--scenario FILE] [--live all|WORKSTATION[,…]] [--away WORKSTATION[,…]] [--instrument SERIAL@WORKSTATION[:diffuser]] [--pace N|max] [--counted] [--start MS] [--at MS] [--control PORT] [--mail PORT]'

async function main() {
  const { values } = parseArgs({
    options: {
      server: { type: 'string' },
      keys: { type: 'string' },
      state: { type: 'string' },
      scenario: { type: 'string' },
      live: { type: 'string', default: 'all' },
      away: { type: 'string', default: '' },
      instrument: { type: 'string', multiple: true },
      pace: { type: 'string', default: '1' },
      // Time passes by what is done alone: a slow machine lets no display drift.
      counted: { type: 'boolean' },
      /** When it begins, and when the scenario describes, ms since 1970. */
      start: { type: 'string' },
      at: { type: 'string' },
      control: { type: 'string', default: '0' },
      // A port for the stand-in of a mail server; none unless given.
      mail: { type: 'string' },
    },
  })
  const pace = values.pace === 'max' ? Infinity : Number(values.pace)
  if (!values.server || !values.keys || !values.state || !(pace > 0)) throw new Error(`Usage: ${usage}`)
  const keys: Record<string, string> = JSON.parse(readFileSync(values.keys, 'utf8'))
  const scenario = values.scenario ? readScenarioFile(values.scenario) : fenLantern
  const bench = new Bench({
    scenario,
    server: values.server,
    keys,
    clock: new BenchClock(pace, values.start ? Number(values.start) : undefined, values.counted),
    scenarioAt: values.at ? Number(values.at) : undefined,
    retryMs: pace === Infinity ? 20 : undefined,
    stateDir: values.state,
    onRefused: (workstation, sentence) => console.error(`${workstation}: ${sentence}`),
  })
  for (const place of values.instrument ?? spread(scenario)) {
    const [serial, workstation, diffuser] = place.split(/[@:]/)
    bench.carry(serial, workstation)
    if (diffuser) bench.instrument(serial).seat = { ...flat, optics: 'diffuser' }
  }
  const away = values.away.split(',')
  const live = values.live === 'all' ? Object.keys(keys).filter((name) => !away.includes(name)) : values.live.split(',')
  for (const name of live) bench.connect(name)
  const mail = values.mail === undefined ? undefined : new MailSink()
  await mail?.listen(Number(values.mail))
  const control = await startControl(bench, Number(values.control), mail)
  console.log(JSON.stringify({ control: control.url, pid: process.pid }))
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.once(signal, () => {
      bench.stop()
      void mail?.close()
      void control.close().then(() => process.exit(0))
    })
}

/** Unless told otherwise, one instrument at each workstation, from the first on. */
const spread = ({ instruments, workstations }: Scenario) =>
  instruments.flatMap(({ serial }, i) =>
    workstations.length ? [`${serial}@${workstations[i % workstations.length].host.name}`] : [],
  )

main().catch((error: Error) => {
  console.error(error.message)
  process.exit(2)
})
