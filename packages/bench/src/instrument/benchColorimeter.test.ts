import { BenchClock } from '../benchClock'
import { BenchColorimeter } from './benchColorimeter'

const identity = { serial: 'T', maker: 'Tessel', model: 'C3', kind: 'colorimeter' as const }
const puckOver = (luminance: number, seed = 1) => {
  const clock = new BenchClock(Infinity)
  return {
    clock,
    puck: new BenchColorimeter(identity, clock, () => [luminance * 0.95, luminance, luminance * 1.09], seed),
  }
}

async function spread(luminance: number) {
  const { puck } = puckOver(luminance)
  const values: number[] = []
  for (let i = 0; i < 400; i++) values.push((await puck.read('D')).xyz[1])
  const mean = values.reduce((a, b) => a + b, 0) / values.length
  return { mean, relative: Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length) / mean }
}

test('is right on average, and its noise grows as light falls', async () => {
  const [bright, dim, dark] = [await spread(120), await spread(5), await spread(0.3)]
  for (const [found, luminance] of [
    [bright, 120],
    [dim, 5],
    [dark, 0.3],
  ] as const)
    expect(Math.abs(found.mean / luminance - 1)).toBeLessThan(0.002)
  expect(bright.relative).toBeLessThan(0.0012)
  expect(dim.relative).toBeGreaterThan(bright.relative)
  expect(dark.relative).toBeGreaterThan(dim.relative)
})

test('takes longer in the dark', async () => {
  const time = async (luminance: number) => {
    const { clock, puck } = puckOver(luminance)
    const before = clock.now()
    const { integrationMs } = await puck.read('D')
    expect(clock.now() - before).toBeCloseTo(integrationMs, 3)
    return integrationMs
  }
  expect(await time(0.2)).toBeGreaterThan(3 * (await time(100)))
})

test('the same seed gives the same readings, another seed others', async () => {
  const first = await puckOver(50, 9).puck.read('D')
  expect(await puckOver(50, 9).puck.read('D')).toEqual(first)
  expect((await puckOver(50, 10).puck.read('D')).xyz).not.toEqual(first.xyz)
})

test('a closed cover reads dark and says so; unplugged it says what to do', async () => {
  const { puck } = puckOver(100)
  puck.covered = true
  const { xyz, flags } = await puck.read('D')
  expect(flags).toEqual(['cover'])
  expect(xyz[1]).toBeLessThan(0.01)
  puck.pluggedIn = false
  await expect(puck.read('D')).rejects.toThrow('Plug it into')
  await expect(puck.zero()).rejects.toThrow('Plug it into')
})
