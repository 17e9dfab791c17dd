import type { DisplayDetail, FoundDisplay, SlotHistory } from '@bichroma/contract'
import { fenLantern } from '@bichroma/bench'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
/** Another workstation of the demo's studio, whose display nobody registered. */
const other = fenLantern.workstations.find((w) => w.host.name === 'dome-02')!
const [stranger] = other.displays
let otherId = 0
beforeEach(async () => {
  studio = await Studio.open()
  const { name, operatingSystem, systemVersion } = other.host
  const row = { name, operatingSystem, systemVersion, roomId: studio.ids.room }
  otherId = (await studio.admin.post<{ id: number }>('/workstations', row)).id
  const { key } = await studio.admin.post<{ key: string }>(`/workstations/${otherId}/courier-key`)
  Object.assign(studio.keys, { [name]: key })
})
afterEach(() => studio.close())

const found = () => studio.admin.get<FoundDisplay[]>('/found')

test('a display that a courier reports and nobody registered is found with all that it says, and taken in', async () => {
  expect(await found()).toEqual([])
  studio.bench.connect(other.host.name)
  await until(async () => (await found()).length === other.displays.length, 'the other courier is connected')
  const [one] = await found()
  expect(one).toMatchObject({
    serial: stranger.serial,
    maker: stranger.panel.maker,
    model: stranger.panel.model,
    firmware: stranger.panel.firmware,
    slots: stranger.panel.tables.slots,
    panelKind: stranger.panel.light.source,
    workstationId: otherId,
    workstation: other.host.name,
    room: 'Sedge Room',
    moved: null,
  })
  const { maker, model, serial, firmware, slots, panelKind, workstationId } = one
  const body = { name: 'Dome 9', maker, model, serial, firmware, slots, panelKind, workstationId }
  await studio.admin.post('/displays', { ...body, limitsId: studio.ids.limits, checkEveryDays: 28 })
  expect((await found()).some((f) => f.serial === serial)).toBe(false)
})

describe('a display that stands elsewhere', () => {
  const home = () => studio.admin.get<DisplayDetail>(`/displays/${studio.displayId}`)

  test('is found by its serial number, not by its place, and moves with its history @long', async () => {
    studio.bench.connect(other.host.name)
    await studio.finish(await studio.start({ sampling: 'brief' }))
    await studio.admin.post('/placements', { runId: 1 })
    // Somebody registered it at the wrong desk.
    await studio.admin.post(`/displays/${studio.displayId}/move`, { workstationId: otherId })
    const [moved] = (await found()).filter((f) => f.moved)
    expect(moved).toMatchObject({
      serial: live.serial,
      workstation: live.workstation,
      moved: { displayId: studio.displayId, name: 'Sedge 2', from: other.host.name },
    })
    expect((await home()).live).toBe(false)
    // Its profile goes along, and is written once it is plugged in there.
    await until(async () => (await home()).rollout?.placement?.fault === 'no-display', 'its profile was tried there')
    expect((await home()).rollout!.placement).toMatchObject({ state: 'queued', why: 'moved', runId: 1 })
    await studio.admin.post(`/displays/${studio.displayId}/move`, { workstationId: moved.workstationId })
    expect((await found()).filter((f) => f.moved)).toEqual([])
    expect(await home()).toMatchObject({ live: true, workstation: { name: live.workstation } })
    const { events } = await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}?slot=1`)
    expect(events.filter((e) => e.kind === 'moved').map((e) => e.text)).toEqual([
      `Moved from ${live.workstation} to ${other.host.name}`,
      `Moved from ${other.host.name} to ${live.workstation}`,
    ])
  })

  test('stays where it is in the middle of a run, and goes nowhere that is not there', async () => {
    const id = await studio.start({ sampling: 'brief' })
    await expect(studio.admin.post(`/displays/${studio.displayId}/move`, { workstationId: otherId })).rejects.toThrow(
      'is in a run',
    )
    await studio.finish(id)
    const move = (workstationId: unknown) => studio.admin.post(`/displays/${studio.displayId}/move`, { workstationId })
    await expect(move(4711)).rejects.toThrow('“Workstation” names none that is there')
    await expect(move(studio.ids.workstation)).rejects.toThrow('is at sedge-02 already')
    await expect(move('two')).rejects.toThrow('Workstation')
    await expect(studio.admin.post('/displays/4711/move', { workstationId: otherId })).rejects.toThrow(
      'no display 4711',
    )
  })
})
