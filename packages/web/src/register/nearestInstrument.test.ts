import type { Instrument } from '@bichroma/contract'
import { nearestInstruments, whereNearest } from './nearestInstrument'

const at = (
  id: number,
  workstation: string | null,
  room: string,
  building: string | null,
  runId: number | null = null,
) =>
  ({
    id,
    maker: 'Tessel',
    model: 'C3',
    serial: `TC-${id}`,
    kind: 'colorimeter',
    certifiedAt: null,
    workstationId: workstation === null ? null : id,
    workstation,
    room: workstation === null ? null : { name: room, building },
    runId,
    kept: 'in use',
    keptSince: null,
    keptWhy: null,
  }) satisfies Instrument
const display = {
  workstationId: 9,
  workstation: { id: 9, name: 'sedge-01' } as never,
  room: { id: 1, name: 'Sedge Room', building: 'Mill' } as never,
}
const far = at(1, 'dome-01', 'Dome', 'Barn')
const sameBuilding = at(2, 'plate-01', 'Plate Room', 'Mill')
const sameRoom = at(3, 'sedge-02', 'Sedge Room', 'Mill')
const held = at(4, 'sedge-03', 'Sedge Room', 'Mill', 77)
const inTheDrawer = at(5, null, '', null)

test('its room before its building before elsewhere; free before held; what is plugged in nowhere is not to be had', () => {
  const found = nearestInstruments(display, [inTheDrawer, far, held, sameBuilding, sameRoom])
  expect(found.map((i) => i.id)).toEqual([3, 4, 2, 1])
})

test('rooms without a building are all elsewhere', () => {
  const room = { name: 'Loft', building: null } as never
  expect(nearestInstruments({ ...display, room }, [at(1, 'a', 'Attic', null), at(2, 'b', 'Loft', null)])[0].id).toBe(2)
})

test.each([
  [[at(9, 'sedge-01', 'Sedge Room', 'Mill'), sameRoom], null],
  [[sameRoom, far], 'The nearest, C3 TC-3, is at sedge-02 in this room.'],
  [[far], 'The nearest, C3 TC-1, is at dome-01 in Dome.'],
  [[held], 'is at sedge-03 in this room, in a run.'],
  [[inTheDrawer], 'None is plugged in anywhere.'],
])('%# says where to fetch one', (instruments, sentence) => {
  const said = whereNearest(display, instruments)
  if (sentence === null) expect(said).toBeNull()
  else expect(said).toContain(sentence)
})
