import type { DisplayDetail, Instrument } from '@bichroma/contract'

/** Instruments that are to be had, the nearest to a display first: in its room, in its building, elsewhere; free before held. */
export function nearestInstruments(
  { workstationId, room }: Pick<DisplayDetail, 'workstationId' | 'room'>,
  instruments: readonly Instrument[],
): Instrument[] {
  const distance = (i: Instrument) =>
    i.workstationId === workstationId
      ? 0
      : i.room?.name === room.name
        ? 1
        : i.room && room.building !== null && i.room.building === room.building
          ? 2
          : 3
  const held = (i: Instrument) => (i.runId === null ? 0 : 1)
  return instruments
    .filter((i) => i.workstationId !== null)
    .sort((a, b) => distance(a) - distance(b) || held(a) - held(b) || a.id - b.id)
}

/** Where the nearest instrument lies when none is at the display's workstation, in a sentence; null when one is there. */
export function whereNearest(
  display: Pick<DisplayDetail, 'workstationId' | 'room' | 'workstation'>,
  instruments: readonly Instrument[],
): string | null {
  const nearest = nearestInstruments(display, instruments).at(0)
  if (nearest?.workstationId === display.workstationId) return null
  const none = `No instrument is at ${display.workstation.name}.`
  if (!nearest) return `${none} None is plugged in anywhere.`
  const place = nearest.room?.name === display.room.name ? 'in this room' : `in ${nearest.room?.name}`
  return `${none} The nearest, ${nearest.model} ${nearest.serial}, is at ${nearest.workstation} ${place}${nearest.runId === null ? '' : ', in a run'}.`
}
