import { In, IsNull, Not, type DataSource } from 'typeorm'
import type { Hello } from '@bichroma/contract'
import {
  correctionEntity,
  displayEntity,
  displayEventEntity,
  instrumentEntity,
  inUse,
  roomLightEntity,
  workstationEntity,
} from './entities'

/** Instruments that a workstation brought and nothing was ever read with: more of them than this are forgotten, oldest first. */
const mostUnused = 16
/** A courier's clock may be a little ahead. */
const aheadMs = 86_400_000

/** What others know of instruments. */
export interface ArrivalFacts {
  /** Another courier has it plugged in, by its serial number. */
  readonly elsewhere: (serial: string) => boolean
  /** A run read with it, or a visit or somebody’s word names it, by its number. */
  readonly inUse: (instrumentId: number) => Promise<boolean>
}

/**
 * Takes what a courier says of itself into the register: its system's version, its instruments, firmware of its displays. It
 * speaks for its own workstation's displays only, and for instruments that no other courier has plugged in; a certificate goes forward only, and not past today.
 */
export async function registerArrival(
  data: DataSource,
  workstationId: number,
  hello: Hello,
  now: number,
  { elsewhere, inUse: isInUse }: ArrivalFacts,
): Promise<void> {
  // Written only where it says something new: hundreds of couriers may come in one second.
  await data
    .getRepository(workstationEntity)
    .update(
      { id: workstationId, systemVersion: Not(hello.host.systemVersion) },
      { systemVersion: hello.host.systemVersion },
    )
  const displays = data.getRepository(displayEntity)
  for (const { serial, firmware } of hello.displays) {
    const known = await displays.findOneBy({ serial, workstationId })
    if (!known || known.firmware === firmware) continue
    await displays.update({ id: known.id }, { firmware })
    const text = `Firmware ${known.firmware} became ${firmware}`
    await data.getRepository(displayEventEntity).insert({ displayId: known.id, at: now, kind: 'firmware', text })
  }
  const instruments = data.getRepository(instrumentEntity)
  for (const { serial, maker, model, kind, certifiedAt, corrections } of hello.instruments) {
    if (elsewhere(serial)) continue
    const told = certifiedAt !== null && certifiedAt <= now + aheadMs ? certifiedAt : null
    const known = await instruments.findOneBy({ serial })
    if (!known)
      await instruments
        .insert({ serial, maker, model, kind, certifiedAt: told, broughtBy: workstationId, ...inUse })
        // Another courier may have brought it in this very moment.
        .catch((error: Error) => {
          if (!error.message.includes('UNIQUE')) throw error
        })
    else if (known.kind === kind && told !== null && told > (known.certifiedAt ?? 0))
      await instruments.update({ id: known.id }, { certifiedAt: told })
    const seen = JSON.stringify([...corrections].sort())
    await data.query(
      `INSERT INTO instrument_seen (instrument_id, workstation_id, corrections) SELECT id, ?, ? FROM instrument WHERE serial = ? AND kind = ?
       ON CONFLICT (instrument_id) DO UPDATE SET workstation_id = excluded.workstation_id, corrections = excluded.corrections
       WHERE workstation_id <> excluded.workstation_id OR corrections <> excluded.corrections`,
      [workstationId, seen, serial, kind],
    )
  }
  await forgetUnused(
    data,
    workstationId,
    hello.instruments.map((i) => i.serial),
    isInUse,
  )
}

/** So that a courier which makes instruments up does not fill the register with them. */
async function forgetUnused(
  data: DataSource,
  workstationId: number,
  plugged: readonly string[],
  isInUse: ArrivalFacts['inUse'],
): Promise<void> {
  const instruments = data.getRepository(instrumentEntity)
  const brought = await instruments.find({
    select: { id: true, serial: true },
    where: { broughtBy: workstationId, serial: Not(In([...plugged])) },
    order: { id: 'DESC' },
  })
  let unused = 0
  for (const { id } of brought.length + plugged.length > mostUnused ? brought : []) {
    const used =
      (await isInUse(id)) ||
      (await data.getRepository(roomLightEntity).existsBy({ instrumentId: id })) ||
      (await watches(data, id)) ||
      (await data.getRepository(correctionEntity).existsBy([{ instrumentId: id }, { referenceId: id }]))
    if (!used && ++unused + plugged.length > mostUnused) await instruments.delete({ id, broughtBy: Not(IsNull()) })
  }
}

/** Whether an instrument was left in a room, be it before its first reading. */
async function watches(data: DataSource, instrumentId: number): Promise<boolean> {
  const rows = await data.query<object[]>('SELECT 1 FROM light_watch WHERE instrument_id = ?', [instrumentId])
  return rows.length > 0
}
