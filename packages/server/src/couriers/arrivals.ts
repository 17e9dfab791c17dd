import type { DataSource } from 'typeorm'
import type { Hello } from '@bichroma/contract'
import { displayEventEntity } from '../drift/entities'
import { displayEntity, instrumentEntity, workstationEntity } from '../register/entities'

/** Takes what a courier says of itself into the register: when it was seen, its instruments, firmware of its displays. */
export async function registerArrival(
  data: DataSource,
  workstationId: number,
  hello: Hello,
  now: number,
): Promise<void> {
  await data
    .getRepository(workstationEntity)
    .update({ id: workstationId }, { courierSeenAt: now, systemVersion: hello.host.systemVersion })
  const displays = data.getRepository(displayEntity)
  for (const { serial, firmware } of hello.displays) {
    const known = await displays.findOneBy({ serial, workstationId })
    if (!known || known.firmware === firmware) continue
    await displays.update({ id: known.id }, { firmware })
    const text = `Firmware ${known.firmware} became ${firmware}`
    await data.getRepository(displayEventEntity).insert({ displayId: known.id, at: now, kind: 'firmware', text })
  }
  const instruments = data.getRepository(instrumentEntity)
  for (const { serial, maker, model, kind, certifiedAt } of hello.instruments)
    if (await instruments.existsBy({ serial })) await instruments.update({ serial }, { certifiedAt })
    else await instruments.insert({ serial, maker, model, kind, certifiedAt })
}
