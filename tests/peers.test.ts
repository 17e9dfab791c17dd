import { fenLantern, type Scenario } from '@bichroma/bench'
import type { Metrics } from '@bichroma/core/aims'
import { convertChromaticityToXyz, type PatchReading } from '@bichroma/core/color'
import { furthestOf, howAlike, usualPeerLimits } from '@bichroma/core/peers'
import type {
  LedgerEntry,
  Page,
  PeerSetDetail,
  PeerSetListing,
  RunDetail,
  RunReview,
  StartedPeerRuns,
} from '@bichroma/contract'
import { displayBody } from '../scripts/displayBody'
import { live, Studio, until } from './studio'

/** The workstation that tests work on, with a second and a third display beside its own: another flagship, and another kind. */
const beside = ['quillon-q27', 'ostrel-reed-24'].map((model) => {
  const all = fenLantern.workstations.flatMap((w) => (w.host.name === live.workstation ? [] : w.displays))
  const names: Readonly<Record<string, string>> = { 'quillon-q27': 'Q27', 'ostrel-reed-24': 'Reed 24' }
  return all.find((d) => d.panel.model === names[model])!
})
const scenario: Scenario = {
  ...fenLantern,
  workstations: fenLantern.workstations.map((w) =>
    w.host.name === live.workstation
      ? { ...w, displays: [w.displays[0], ...beside] }
      : { ...w, displays: w.displays.filter((d) => !beside.includes(d)) },
  ),
}

let studio: Studio
/** The three displays, the studio's own first. */
let ids: number[]

beforeEach(async () => {
  studio = await Studio.open(scenario)
  const care = { workstationId: studio.ids.workstation, limitsId: studio.ids.limits, checkEveryDays: 28 }
  ids = [studio.displayId]
  for (const display of beside)
    ids.push((await studio.admin.post<{ id: number }>('/displays', displayBody(display, care))).id)
})
afterEach(() => studio.close())

const asked = {
  ...{ reference: null, white: { kind: 'standard', name: 'D65' }, toneResponse: { kind: 'power', exponent: 2.2 } },
  ...{ standard: 'sRGB', share: 0.98, headroom: 0.03, black: 'own', limits: usualPeerLimits },
}
const bodyOf = (of: readonly number[], change: object = {}) => ({
  name: 'Plate desks',
  members: of.map((displayId) => ({ displayId, slot: 1 })),
  ...asked,
  ...change,
})
const make = async (of: readonly number[] = ids, change: object = {}) =>
  (await studio.admin.post<{ id: number }>('/peer-sets', bodyOf(of, change))).id
const setOf = (id: number) => studio.admin.get<PeerSetDetail>(`/peer-sets/${id}`)
/** A set once nothing is being worked out of it. */
async function settled(id: number): Promise<PeerSetDetail> {
  await until(async () => !(await setOf(id)).working, 'the standing is worked out')
  return setOf(id)
}
const baselines = async (of: readonly number[] = ids) => {
  for (const displayId of of)
    await studio.finish(await studio.start({ displayId, kind: 'baseline', aimId: studio.aimIds['Atlas web'] }))
}
/** Starts runs of all members and waits until their look has ended. */
async function through(id: number, body: object): Promise<PeerSetDetail> {
  const { refused } = await studio.admin.post<StartedPeerRuns>(`/peer-sets/${id}/runs`, body)
  expect(refused).toEqual([])
  await until(async () => (await setOf(id)).looks[0].state !== 'under way', 'the look has ended')
  return settled(id)
}

test('from a set to its verdict: baselines, common ground, aim, runs of all, one verdict', async () => {
  const id = await make()
  const first = await setOf(id)
  expect(first.standing).toMatchObject({
    lack: { why: 'unknown', members: ids },
    ground: null,
    alike: null,
    unread: ids,
  })
  expect((await studio.admin.raw('POST', `/peer-sets/${id}/aim`, { luminance: 100 })).status).toBe(409)
  await baselines()
  const { standing } = await settled(id)
  expect(standing!.lights.map((l) => l.state)).toEqual(['read', 'read', 'read'])
  const ground = standing!.ground!
  // What a member reaches is what its brightest white leaves for the set's; the set has the least of them, less its headroom.
  const whites = await Promise.all(
    ids.map(async (displayId) => {
      const { items } = await studio.admin.get<Page<{ id: number }>>(`/runs?display=${displayId}&kind=baseline`)
      const { log } = await studio.admin.get<RunDetail>(`/runs/${items[0].id}`)
      return Math.max(...log.filter((r) => r.rgb.every((v) => v === 1)).map((r) => r.xyz[1]))
    }),
  )
  ground.members.forEach((m, i) => {
    expect(m.reach).toBeLessThanOrEqual(whites[i])
    expect(m.reach).toBeGreaterThan(0.5 * whites[i])
  })
  expect(ground.luminance).toBeCloseTo(0.97 * Math.min(...ground.members.map((m) => m.reachWhenDue)), 3)
  expect(ground.standard).toBe('sRGB')

  const luminance = Math.floor(ground.luminance)
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance })
  const adopted = await settled(id)
  expect(adopted.aim).toMatchObject({ name: 'Plate desks, common ground', aim: { luminance } })
  expect(adopted.standing!.moved).toEqual([])

  const done = await through(id, { kind: 'full', holds: ids.map((displayId) => ({ displayId, label: '' })) })
  expect(done.looks[0]).toMatchObject({ kind: 'full', state: 'judged', by: 'administrator' })
  expect(done.members.map((m) => m.label)).toEqual(ids.map(() => 'Plate desks, common ground'))
  const alike = done.standing!.alike!
  expect(done.looks[0].verdict).toBe(alike.verdict.verdict)
  expect(alike.oneInstrument).toBe(true)
  // The figures are those of the readings that Review shows.
  const shown = await Promise.all(
    done.members.map(async (m) => {
      const { metrics } = await studio.admin.get<RunReview>(`/runs/${m.judged!.runId}/review`)
      return { id: m.displayId, readings: (metrics as Metrics).patches as readonly PatchReading[] }
    }),
  )
  const brightest = Math.max(...shown.flatMap((m) => m.readings.map((p) => p.xyz[1])))
  const again = howAlike(shown, convertChromaticityToXyz({ x: 0.3127, y: 0.329 }, brightest))
  expect(furthestOf(again).average).toBeCloseTo(furthestOf(alike).average, 9)
  // Calibrated to one ground, neighbours are alike.
  expect(furthestOf(alike).average).toBeLessThan(1)
  const { items } = await studio.admin.get<Page<PeerSetListing>>('/peer-sets')
  expect(items).toEqual([
    expect.objectContaining({
      name: 'Plate desks',
      verdict: alike.verdict.verdict,
      moved: [],
      aimName: adopted.aim!.name,
    }),
  ])
  const ledger = await studio.admin.get<Page<LedgerEntry>>(`/ledger?thing=${encodeURIComponent('peer set')}`)
  expect(ledger.items.map((e) => e.act)).toEqual(['started', 'changed', 'added'])
})
