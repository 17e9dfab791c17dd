import { watchEveryMs } from '@bichroma/core/aims'
import type { Instrument } from '@bichroma/contract'
import { lanes } from './demoLanes'
import { day, hour, type AskBench, type DemoWork, type Making } from './demoMaking'
import { demoAccounts, demoRoomLight } from './demoStudio'
import { until } from './waiting'

/** The light of every room is read by the instrument that makes its rounds there; `at` lets a day begin. */
export async function readRooms(
  making: Making,
  { here, idOfInstrument }: DemoWork,
  bench: AskBench,
  at: (daysAgo: number) => Promise<void>,
): Promise<void> {
  const { client, scenario } = making
  for (const daysAgo of demoRoomLight.days) {
    await at(daysAgo)
    for (const { instrument, rooms } of lanes)
      for (const room of rooms) {
        const there = scenario.workstations.find((w) => w.room === room)
        if (!there) continue
        await here(instrument, there.host.name)
        await bench('/faults/diffuser', { instrument, on: true })
        await client.post(`/rooms/${making.roomIds[room]}/light`, { instrumentId: await idOfInstrument(instrument) })
        await bench('/faults/diffuser', { instrument, on: false })
      }
  }
}

/** An instrument is left in a room with windows, and reads its light until today. */
export async function watchLight(
  { client, clock, server, roomIds }: Making,
  bench: AskBench,
  today: number,
): Promise<void> {
  const { instrument, workstation, room, days, closely } = demoRoomLight.watch
  const jumpTo = async (at: number) => {
    clock.jumpTo(at)
    await bench('/clock', { at })
  }
  await jumpTo(today - days * day)
  await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
  await bench('/faults/carry', { instrument, workstation })
  await bench('/faults/diffuser', { instrument, on: true })
  let instrumentId: number | undefined
  await until(async () => {
    instrumentId = (await client.get<Instrument[]>('/instruments')).find(
      (i) => i.serial === instrument && i.workstationId !== null,
    )?.id
    return instrumentId !== undefined
  }, `${instrument} is there`)
  await client.post(`/rooms/${roomIds[room]}/watch`, { instrumentId })
  for (let at = today - days * day; at < today; at += at < today - closely * day ? hour : watchEveryMs) {
    await jumpTo(at)
    await server.light.look()
  }
  await jumpTo(today)
  await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
}
