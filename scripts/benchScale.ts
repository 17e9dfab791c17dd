// What a large bench costs: 300 displays on 100 workstations with idle couriers in one process, and one reading.
// `npm run bench:scale [-- --seconds N]`
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import {
  BenchClock,
  BenchDisplay,
  BenchInstrument,
  shippedInstrument,
  shippedPanel,
  shippedPanels,
} from '@bichroma/bench'
import { operatingSystemNames } from '@bichroma/core/register'
import type { Workstation } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { ApiClient } from './apiClient'
import { Processes } from './processes.mjs'

const [workstationCount, displaysEach] = [100, 3]
const models = Object.keys(shippedPanels)
const { values } = parseArgs({ options: { seconds: { type: 'string', default: '30' } } })

const scenario = {
  format: 'bichroma-scenario/1',
  studio: 'Large',
  seed: 1,
  rooms: [{ name: 'Hall', illuminanceLux: 50, kelvin: 5000 }],
  instruments: [{ serial: 'T-1', model: 'tessel-c3', certifiedDaysAgo: 10 }],
  workstations: Array.from({ length: workstationCount }, (_, w) => ({
    name: `desk-${w + 1}`,
    room: 'Hall',
    operatingSystem: operatingSystemNames[w % 3],
    systemVersion: '1',
    displays: Array.from({ length: displaysEach }, (_, d) => ({
      name: `Desk ${w + 1}.${d + 1}`,
      serial: `D-${w + 1}-${d + 1}`,
      model: models[(3 * w + d) % models.length],
      differs: { light: { shiftNm: [((w * 7 + d) % 9) / 5 - 0.8, 0, 0] } },
      hours: 100 * w,
      hoursPerDay: 8,
      warmMinutes: 90,
    })),
  })),
}

/** Memory (MB) and processor time (s) of a process, from the kernel. */
function use(pid: number): { megabytes: number; seconds: number } {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8')
  const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
  return {
    megabytes: Number(/VmRSS:\s+(\d+)/.exec(status)![1]) / 1024,
    // utime and stime, in ticks of 10 ms.
    seconds: (Number(fields[11]) + Number(fields[12])) / 100,
  }
}

async function idle() {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-scale-'))
  const server = await startServer({ dataDir: join(folder, 'data') })
  const processes = new Processes()
  try {
    await server.access.addAccount('scale', 'Scale', 'administrator', 'three-hundred')
    const client = new ApiClient(server.url)
    await client.signIn('scale', 'three-hundred')
    const { id: roomId } = await client.post<{ id: number }>('/rooms', { name: 'Hall' })
    const keys: Record<string, string> = {}
    for (const { name, operatingSystem, systemVersion } of scenario.workstations) {
      const { id } = await client.post<{ id: number }>('/workstations', {
        name,
        operatingSystem,
        systemVersion,
        roomId,
      })
      keys[name] = (await client.post<{ key: string }>(`/workstations/${id}/courier-key`)).key
    }
    writeFileSync(join(folder, 'scenario.json'), JSON.stringify(scenario))
    writeFileSync(join(folder, 'keys.json'), JSON.stringify(keys))
    const { pid } = await processes.start([
      'packages/bench/src/main.ts',
      ...['--server', server.url, '--scenario', join(folder, 'scenario.json'), '--keys', join(folder, 'keys.json')],
      ...['--state', join(folder, 'bench'), '--pace', '1'],
    ])
    const online = async () => (await client.list<Workstation>('/workstations')).filter((w) => w.courierOnline).length
    while ((await online()) < workstationCount) await new Promise((resolve) => setTimeout(resolve, 100))
    await new Promise((resolve) => setTimeout(resolve, 3000))
    const before = use(Number(pid))
    const began = performance.now()
    await new Promise((resolve) => setTimeout(resolve, Number(values.seconds) * 1000))
    const after = use(Number(pid))
    const share = (after.seconds - before.seconds) / ((performance.now() - began) / 1000)
    console.log(
      `${workstationCount * displaysEach} displays on ${await online()} workstations, couriers idle: ${after.megabytes.toFixed(0)} MB, ${(100 * share).toFixed(2)} % of a core over ${values.seconds} s`,
    )
  } finally {
    processes.stop()
    await server.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function reading() {
  for (const model of models) {
    const clock = new BenchClock(Infinity, 1e12)
    const panel = shippedPanel(model)
    const display = new BenchDisplay({ serial: 'D', panel, hours: 0, hoursPerDay: 8, warmMinutes: 90 }, clock)
    const traits = { serial: 'T', model: shippedInstrument('tessel-c3'), certifiedAt: null }
    const puck = new BenchInstrument(
      traits,
      clock,
      () => display,
      () => display.room(),
      1,
    )
    const took: number[] = []
    for (let i = 0; i < 3000; i++) {
      const began = performance.now()
      await display.showPatch([(i * 0.618) % 1, (i * 0.755) % 1, (i * 0.57) % 1], undefined, 300)
      await puck.read('D', panel.light.source)
      took.push(performance.now() - began)
    }
    took.sort((a, b) => a - b)
    console.log(`${model}: a patch shown and read, median ${took[1500].toFixed(4)} ms of computing`)
  }
}

reading()
  .then(idle)
  .catch((error: Error) => {
    console.error(error)
    process.exit(1)
  })
