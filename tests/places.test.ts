import { fenLantern } from '@bichroma/bench'
import { luminanceForRoom } from '@bichroma/core/aims'
import { positionOf, uniformityPlaces } from '@bichroma/core/runs'
import type { Problem, Room, RoomLightEntry, RunReview, StoredLimits } from '@bichroma/contract'
import { live, Studio } from './studio'

let studio: Studio
let instrumentId: number

beforeAll(async () => {
  studio = await Studio.open()
  await studio.finish(await studio.start({ sampling: 'brief' }))
  instrumentId = (await studio.admin.get<{ id: number; serial: string }[]>('/instruments')).find(
    (i) => i.serial === live.instrument,
  )!.id
})
afterAll(() => studio.close())

const puck = () => studio.bench.instrument(live.instrument)
const checked = async () =>
  studio.finish(
    await studio.start({
      kind: 'check',
      aimId: undefined,
      overwrites: undefined,
      patches: { kind: 'plan', name: 'few' },
    }),
  )

describe('a uniformity run', () => {
  test('asks hands from place to place, and maps what the panel does there', async () => {
    const id = await studio.start({ kind: 'uniformity', aimId: undefined, overwrites: undefined })
    for (let i = 1; i <= uniformityPlaces.length; i++) {
      const run = await studio.reach(id, 'waiting', i)
      const place = uniformityPlaces[i] ?? uniformityPlaces[0]
      expect(run.message).toContain(`(${i + 1} of 26)`)
      puck().seat = { ...puck().seat, place: positionOf(place) }
      await studio.admin.post(`/runs/${id}/resume`, {})
    }
    const run = await studio.finish(id)
    expect(run).toMatchObject({ state: 'done', judged: null })
    const { places, worstLuminance } = run.uniformity!
    expect(places).toHaveLength(25)
    // The bench's own surface: a fall towards the corners, a lean, a tint.
    const display = studio.bench.display(live.serial)
    const centre = display.truth([1, 1, 1])[1]
    for (const p of places) {
      const { x, y } = positionOf(p)
      const truth = 100 * (display.truth([1, 1, 1], { x, y })[1] / centre - 1)
      expect(Math.abs(p.luminanceOff - truth)).toBeLessThan(0.8)
    }
    expect(Math.abs(worstLuminance.luminanceOff)).toBeGreaterThan(3)
  })

  test('counts in later checks, where limits rule over it', async () => {
    const stored = (await studio.admin.get<StoredLimits[]>('/limits')).find((l) => l.id === studio.ids.limits)!
    const rule = { metric: 'uniformityLuminance', near: 1, hard: 2 } as const
    await studio.admin.put(`/limits/${stored.id}`, { name: stored.name, limits: { rules: [rule] } })
    const check = await checked()
    expect(check.judged).toMatchObject({
      verdict: 'outside',
      sentence: expect.stringMatching(
        /^Unevenness in luminance is \d+\.\d %, at Row \d, column \d: past the hard edge/,
      ),
    })
    const { uniformity } = await studio.admin.get<RunReview>(`/runs/${check.id}/review`)
    expect(uniformity!.map.places).toHaveLength(25)
    await studio.admin.put(`/limits/${stored.id}`, { name: stored.name, limits: stored.limits })
  })
})

describe('the light of a room', () => {
  const read = () => studio.admin.post<RoomLightEntry>(`/rooms/${studio.ids.room}/light`, { instrumentId })
  const advice = async () => (await checked()).stages[0].conditions!.find((c) => c.id === 'roomLight')

  test('is read through the diffuser and logged with who read it; without the diffuser the reason is told', async () => {
    await expect(read()).rejects.toThrow('only through its diffuser')
    puck().seat = { ...puck().seat, optics: 'diffuser' }
    const { illuminanceLux, kelvin, by } = await read()
    const room = fenLantern.rooms['Sedge Room']
    expect(Math.abs(illuminanceLux / room.illuminanceLux - 1)).toBeLessThan(0.15)
    expect(Math.abs(kelvin! / room.kelvin - 1)).toBeLessThan(0.1)
    expect(by).toBe('administrator')
    expect((await studio.admin.get<RoomLightEntry[]>(`/rooms/${studio.ids.room}/light`))[0].illuminanceLux).toBe(
      illuminanceLux,
    )
    const [shown] = await studio.admin.get<Room[]>('/rooms')
    expect(shown.newestLight!.illuminanceLux).toBe(illuminanceLux)
    expect(luminanceForRoom(illuminanceLux)).toBeGreaterThanOrEqual(80)
    puck().seat = { ...puck().seat, optics: 'open' }
  })

  test('out of its range it warns before a run, which goes on; in it, it does not', async () => {
    expect(await advice()).toBeUndefined()
    const name = 'Sedge Room'
    const [{ newestLight }] = await studio.admin.get<Room[]>('/rooms')
    const lux = newestLight!.illuminanceLux
    await studio.admin.put(`/rooms/${studio.ids.room}`, { name, light: { lux: { from: lux * 2, to: lux * 3 } } })
    expect(await advice()).toMatchObject({ ok: false, advisory: true, found: expect.stringContaining('lx, wanted') })
    await studio.admin.put(`/rooms/${studio.ids.room}`, { name, light: { lux: { from: lux / 2, to: lux * 2 } } })
    expect(await advice()).toMatchObject({ ok: true })
    // A name alone leaves the range as it is.
    await studio.admin.put(`/rooms/${studio.ids.room}`, { name })
    studio.clock.jumpTo(studio.clock.now() + 86_400_000)
    await studio.admin.signIn('administrator', 'admin-word')
    expect(await advice()).toMatchObject({ ok: false, found: 'not read within the last 12 hours' })
  })

  test('ranges that are none, rooms and instruments that are elsewhere are refused in a sentence', async () => {
    const refused = async (path: string, body: object, method = 'PUT') => {
      const response = await studio.admin.raw(method, path, body)
      expect(response.status).toBeLessThan(500)
      expect(response.ok).toBe(false)
      return ((await response.json()) as Problem).detail
    }
    const room = `/rooms/${studio.ids.room}`
    expect(await refused(room, { name: 'x', light: { lux: { from: 60, to: 20 } } })).toContain('from a smaller number')
    expect(await refused(room, { name: 'x', light: { lux: { from: -1, to: 20 } } })).toContain('0 or more')
    expect(await refused('/rooms/999', { name: 'x' })).toContain('There is no room 999')
    expect(await refused(`${room}/light`, { instrumentId: 999 }, 'POST')).toContain('not plugged in')
    const { id: other } = await studio.admin.post<{ id: number }>('/rooms', { name: 'Elsewhere' })
    expect(await refused(`/rooms/${other}/light`, { instrumentId }, 'POST')).toContain('which is not in Elsewhere')
  })
})
