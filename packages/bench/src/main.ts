import { readFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { Bench } from './bench'
import { BenchClock } from './benchClock'
import { startControl } from './control'
import { fenLantern } from './fenLantern'

const usage =
  'bench --server http://… --keys FILE --state DIR --live WORKSTATION[,…] [--instrument SERIAL@WORKSTATION] [--pace N|max] [--control PORT]'

async function main() {
  const { values } = parseArgs({
    options: {
      server: { type: 'string' },
      keys: { type: 'string' },
      state: { type: 'string' },
      live: { type: 'string' },
      instrument: { type: 'string', multiple: true },
      pace: { type: 'string', default: '1' },
      control: { type: 'string', default: '0' },
    },
  })
  const pace = values.pace === 'max' ? Infinity : Number(values.pace)
  if (!values.server || !values.keys || !values.state || !values.live || !(pace > 0)) throw new Error(`Usage: ${usage}`)
  const bench = new Bench({
    scenario: fenLantern,
    server: values.server,
    keys: JSON.parse(readFileSync(values.keys, 'utf8')),
    clock: new BenchClock(pace),
    stateDir: values.state,
    onRefused: (workstation, sentence) => console.error(`${workstation}: ${sentence}`),
  })
  for (const place of values.instrument ?? []) {
    const [serial, workstation] = place.split('@')
    bench.carry(serial, workstation)
  }
  for (const name of values.live.split(',')) bench.connect(name)
  const control = await startControl(bench, Number(values.control))
  console.log(JSON.stringify({ control: control.url }))
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.once(signal, () => {
      bench.stop()
      void control.close().then(() => process.exit(0))
    })
}

main().catch((error: Error) => {
  console.error(error.message)
  process.exit(2)
})
