import type { Bench } from '@bichroma/bench'
import type { Instrument, RunDetail } from '@bichroma/contract'
import { lanes, spectroradiometer } from './demoLanes'
import { readRooms, watchLight } from './demoLight'
import { asking, day, hour, type DemoWork, type Making, type Visit } from './demoMaking'
import { bringTogether, layRing } from './demoPeers'
import { rollOut } from './demoRollout'
import { demoAccounts, demoCorrections, demoPeers, demoRing, demoScreens, demoStories } from './demoStudio'
import { seeTo, type Hands } from './hands'
import { until, wait } from './waiting'

/** All visits of the stories, the oldest first; the slot in use is written last, so that it is the one shown. */
function visitsOf(): Visit[] {
  const visits = Object.entries(demoStories).flatMap(([display, { aims, full, checks }]) => [
    ...full.flatMap((daysAgo, i): Visit[] =>
      (i ? [0] : [...aims.keys()].reverse()).map((k) => ({
        daysAgo,
        display,
        kind: 'full',
        slot: k + 1,
        aim: aims[k],
        // What later runs filed goes out in a wave, or waits for one.
        place: k === 0 && i === 0,
      })),
    ),
    ...checks.map((daysAgo): Visit => ({ daysAgo, display, kind: 'check', slot: 1 })),
    ...demoScreens
      .filter((s) => s.display === display)
      .map(({ daysAgo }): Visit => ({ daysAgo, display, kind: 'uniformity', slot: 1 })),
  ])
  return visits.sort((a, b) => b.daysAgo - a.daysAgo)
}

/** Lives the studio's last eighteen months on the bench, run by run, through the application's own engine and messages. */
export async function live(making: Making, control: string, today: number): Promise<void> {
  const { scenario, clock, server, client, displayIds, workstationOf, workstationIds, serialOf, aimIds, say } = making
  const roomOf = Object.fromEntries(scenario.workstations.map((w) => [w.host.name, w.room]))
  const bench = asking(control)
  const here = async (instrument: string, workstation: string) => {
    await bench('/faults/carry', { instrument, workstation })
    await until(
      async () =>
        (await client.get<Instrument[]>('/instruments')).some(
          (i) => i.serial === instrument && i.workstationId === workstationIds[workstation],
        ),
      `${instrument} is at ${workstation}`,
    )
  }

  const handsAt = (serial: string, instrument: string): Hands => ({
    brightest: 100,
    brightness: async () => {
      const { workstations } = (await (await fetch(`${control}/state`)).json()) as ReturnType<Bench['overview']>
      const { slots, activeSlot } = workstations.flatMap((w) => w.displays).find((d) => d.serial === serial)!
      return slots[activeSlot - 1].backlight
    },
    turnTo: (backlight) => bench('/faults/buttons', { display: serial, backlight }),
    powerCycle: () => bench('/faults/powerCycle', { display: serial }),
    // Nobody knocks an instrument in this history.
    seat: async () => {},
    layOn: (place) => bench('/faults/seat', { instrument, ...place, tilt: 0 }),
  })

  // Accounts are numbered as they were added.
  const [administrator, technician] = demoAccounts.map(({ name }, i) => ({ id: i + 1, name }))

  /** What the slots hold so far, by display and slot. */
  const held = new Map<string, string>()
  const instrumentIds = new Map<string, number>()
  const idOfInstrument = async (serial: string) => {
    if (!instrumentIds.has(serial))
      for (const i of await client.get<Instrument[]>('/instruments')) instrumentIds.set(i.serial, i.id)
    return instrumentIds.get(serial)!
  }

  /** Does by hand what a run asks for, until it has ended. */
  const throughRun = async (runId: number, display: string, instrument: string): Promise<RunDetail> => {
    const ended = server.engine.ended(runId).then(() => true)
    while (!(await Promise.race([ended, wait(20)]))) {
      if (server.engine.live(runId)?.state !== 'waiting') continue
      const live = server.engine.live(runId)
      const confirm = live ? await seeTo(live, handsAt(serialOf[display], instrument)) : []
      if (confirm) await server.engine.resume(runId, confirm, administrator).catch(() => null)
    }
    const run = await client.get<RunDetail>(`/runs/${runId}`)
    if (run.state !== 'done') throw new Error(`History could not be made: ${display}: ${run.message}`)
    return run
  }

  const visit = async ({ daysAgo, display, kind, slot, aim, place }: Visit, instrument: string) => {
    await here(instrument, workstationOf[display])
    const runId = await server.engine.start(
      {
        displayId: displayIds[display],
        kind,
        slot,
        instrumentId: await idOfInstrument(instrument),
        ...(aim && {
          aimId: aimIds[aim],
          overwrites: held.get(`${display} ${slot}`) ?? '',
          sampling: 'brief' as const,
        }),
      },
      technician,
    )
    const run = await throughRun(runId, display, instrument)
    if (aim) held.set(`${display} ${slot}`, aim)
    if (place) {
      await server.rollout.agreements.place(runId, administrator)
      await server.rollout.idle()
    }
    say(
      `${new Date(today - daysAgo * day).toISOString().slice(0, 10)}  ${display}, slot ${slot}: ${kind}${run.judged ? `, average ${run.judged.averageDeltaE.toFixed(2)}, ${run.judged.verdict}` : ''}`,
    )
  }

  const at = async (daysAgo: number) => {
    const nine = Math.floor((today - daysAgo * day) / day) * day + 9 * hour
    clock.jumpTo(nine)
    await bench('/clock', { at: nine })
    // Weeks pass between visits, so the session of the last one has run out.
    await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
  }

  const work: DemoWork = { visit, here, throughRun, idOfInstrument }

  const correct = async (display: string) => {
    const instruments = lanes.map((lane) => lane.instrument).filter((i) => i !== spectroradiometer)
    for (const instrument of [...instruments, spectroradiometer]) await here(instrument, workstationOf[display])
    for (const instrument of instruments)
      await client.post('/corrections', {
        displayId: displayIds[display],
        instrumentId: await idOfInstrument(instrument),
        referenceId: await idOfInstrument(spectroradiometer),
      })
  }
  const visits = visitsOf()
  const days = [...visits, ...demoCorrections, ...demoPeers].flatMap((v) => v.daysAgo ?? [])
  for (const daysAgo of [...new Set(days)].sort((a, b) => b - a)) {
    await at(daysAgo)
    for (const { display } of demoCorrections.filter((c) => c.daysAgo === daysAgo)) await correct(display)
    const ofDay = visits.filter((v) => v.daysAgo === daysAgo)
    // On some days of checks the instruments change places, so that each is seen beside the others.
    const turn = ofDay.every((v) => v.kind === 'check') && daysAgo % 3 === 0 ? (daysAgo / 3) % lanes.length : 0
    await Promise.all(
      lanes.map(async ({ rooms }, i) => {
        const { instrument } = lanes[(i + turn) % lanes.length]
        for (const v of ofDay.filter(({ display }) => rooms.includes(roomOf[workstationOf[display]])))
          await visit(v, instrument)
      }),
    )
    for (const set of demoPeers.filter((p) => p.daysAgo === daysAgo)) await bringTogether(making, work, set)
    if (daysAgo === demoRing.daysAgo) await layRing(making, work)
    await Promise.all(scenario.workstations.map(({ host }) => bench('/faults/signOut', { workstation: host.name })))
  }
  for (const set of demoPeers.filter((p) => p.daysAgo === null)) await bringTogether(making, work, set)
  await readRooms(making, work, bench, at)
  await watchLight(making, bench, today)
  const settings = await client.get<object>('/settings')
  await client.put('/settings', { ...settings, studioName: scenario.studio })
  await server.rollout.idle()
  await rollOut(making, bench)
}
