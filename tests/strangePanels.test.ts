import type { RunDetail } from '@bichroma/contract'
import { answersOf, StrangeCourier, type PretendPanel } from './strangeCourier'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

/** About sRGB's colours, 300 cd/m² white. */
const usual: PretendPanel = {
  red: [124, 64, 6],
  green: [107, 215, 36],
  blue: [54, 22, 285],
  backlight: 40,
}

let studio: Studio
let courier: StrangeCourier
beforeEach(async () => {
  studio = await Studio.open()
  studio.bench.stop()
  await until(async () => !(await studio.display()).live, 'the bench’s own courier is away')
})
afterEach(async () => {
  courier.close()
  await studio.close()
})

async function connect(panel: PretendPanel, change: ConstructorParameters<typeof StrangeCourier>[3] = {}) {
  courier = new StrangeCourier(studio.server.url, studio.keys[live.workstation], answersOf(panel), change)
  await until(async () => (await studio.display()).live, 'the strange courier is connected')
}

test.each([
  ['red', { red: [0, 0, 0] }],
  ['green', { green: [0, 0, 0] }],
  ['blue', { blue: [0, 0, 0] }],
  ['every colour', { red: [0, 0, 0], green: [0, 0, 0], blue: [0, 0, 0] }],
] as const)(
  'a panel whose %s is dead ends its run with a sentence about its light, not about us @long',
  async (_, dead) => {
    await connect({ ...usual, ...dead })
    for (const kind of ['full', 'baseline'] as const) {
      const run = await studio.finish(await studio.start({ kind }))
      if (kind === 'baseline' && run.state === 'done') continue
      expect(run.state).toBe('failed')
      expect(run.message).not.toMatch(/fault of Bichroma|server’s log/)
      expect(run.message).toMatch(/light|white|display|instrument/i)
    }
  },
)

describe('a display by hands whose lowest setting is still too bright', () => {
  test('is taken at its lowest: the tables take the rest', async () => {
    const panel: PretendPanel = { ...usual, control: (b) => 0.9 + b / 1000, backlight: 40 }
    await connect(panel, { brightnessBy: 'hands', backlight: { min: 0, max: 100 } })
    const id = await studio.start({ sampling: 'brief' })
    let run: RunDetail = await studio.run(id)
    await until(async () => {
      run = await studio.run(id)
      return run.state === 'waiting' && run.stage === 'level'
    }, 'hands are asked')
    expect(run.stages.find((s) => s.stage === 'level')!.gauge!.turn).toBe('down')
    panel.backlight = 0
    await until(async () => {
      run = await studio.run(id)
      return run.stage !== 'level'
    }, 'Level has ended')
    expect(run.stages.find((s) => s.stage === 'level')!.evidence).toContain(
      'The brightness is at its lowest; the tables take the rest of the light away',
    )
    await studio.admin.post(`/runs/${id}/stop`)
    await studio.finish(id)
  })
})
