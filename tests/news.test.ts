import type {
  DisplayListing,
  FleetNews,
  FloorSummary,
  Page,
  Pulse,
  RunSummary,
  ServerEvent,
  StageRecord,
} from '@bichroma/contract'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

/** A browser that listens: what it was told, in order. */
async function listener() {
  const events: ServerEvent[] = []
  const stop = new AbortController()
  const response = await fetch(`${studio.server.url}/api/events`, {
    headers: { cookie: studio.admin.cookie },
    signal: stop.signal,
  })
  const reading = (async () => {
    let text = ''
    const decoder = new TextDecoder()
    for await (const chunk of response.body! as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk, { stream: true })
      const parts = text.split('\n\n')
      text = parts.pop()!
      for (const part of parts) if (part.startsWith('data: ')) events.push(JSON.parse(part.slice(6)) as ServerEvent)
    }
  })().catch(() => {})
  const news = () => events.filter((e) => e.type === 'news') as ({ type: 'news' } & FleetNews)[]
  return {
    events,
    news,
    bytes: () => JSON.stringify(events).length,
    close: async () => {
      stop.abort()
      await reading
    },
  }
}

test('a run is told as what changed: browsers come to the same without asking for anything @long', async () => {
  const browser = await listener()
  const before = await studio.run(await studio.start({ sampling: 'brief' }))
  const run = await studio.finish(before.id)
  await until(
    async () => browser.news().some((n) => n.runs.some((r) => r.id === run.id && r.state === 'done')),
    'it is told',
  )
  await until(
    async () =>
      browser
        .news()
        .at(-1)!
        .displays.some((d) => d.verdict !== 'unproven'),
    'the verdict is told',
  )

  // Nobody was told to ask for everything.
  expect(browser.events.filter((e) => e.type === 'changed')).toEqual([])
  const told = browser.news().at(-1)!
  const page = await studio.admin.get<Page<DisplayListing>>('/displays')
  expect(told.displays).toEqual(page.items.filter((d) => told.displays.some((t) => t.id === d.id)))
  expect(told.displays.map((d) => d.id)).toContain(studio.displayId)
  const { rooms, ...floor } = await studio.admin.get<FloorSummary>('/floor')
  expect(told.floor).toEqual(floor)
  expect(told.rooms).toEqual(rooms.filter((r) => told.rooms.some((t) => t.id === r.id)))
  expect(told.pulse).toEqual(await studio.admin.get<Pulse>('/pulse'))
  const listed = (await studio.admin.list<RunSummary>('/runs')).find((r) => r.id === run.id)
  expect(
    browser
      .news()
      .flatMap((n) => n.runs)
      .filter((r) => r.id === run.id)
      .at(-1),
  ).toEqual(listed)

  // Stages put in their place, one message after another, are those of the run sheet.
  const stages = new Map<string, StageRecord>()
  const latest: number[] = []
  for (const event of browser.events) {
    if (event.type !== 'run' || event.run.id !== run.id) continue
    for (const stage of event.run.stages) stages.set(stage.stage, stage)
    if (event.run.latest) latest.push(event.run.latest.seq)
  }
  // What a stage has none of is null in the store, and left out on the way.
  const withoutNulls = (stage: StageRecord) =>
    Object.fromEntries(Object.entries(stage).filter(([, value]) => value !== null))
  expect([...stages.values()].map(withoutNulls)).toEqual(run.stages.map(withoutNulls))
  expect(latest).toEqual(run.log.map((r) => r.seq))

  // Sent as what changed: far less than every stage with every reading.
  const whole = browser.events.filter((e) => e.type === 'run').length * JSON.stringify(run.stages).length
  const sent = browser.events.filter((e) => e.type === 'run').reduce((sum, e) => sum + JSON.stringify(e).length, 0)
  expect(sent).toBeLessThan(whole / 3)
  await browser.close()
})

test('a courier that goes and comes is told as its workstation and displays', async () => {
  const browser = await listener()
  studio.bench.disconnect(live.workstation)
  const workstation = () =>
    browser
      .news()
      .flatMap((n) => n.workstations)
      .at(-1)
  await until(async () => workstation()?.courierOnline === false, 'it is told that the courier went')
  const told = browser.news().at(-1)!
  expect(told.displays.find((d) => d.id === studio.displayId)!.live).toBe(false)
  expect(told.pulse.couriersOnline).toBe(0)
  await studio.connect()
  await until(async () => workstation()?.courierOnline === true, 'it is told that the courier is back')
  expect(browser.events.filter((e) => e.type === 'changed')).toEqual([])
  await browser.close()
})

test('what was told before is not told again to whoever listens later @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief' }))
  const check = { kind: 'check', aimId: undefined, overwrites: undefined }
  const toldOf = (browser: Awaited<ReturnType<typeof listener>>, id: number) =>
    browser.news().flatMap((n) => n.runs.filter((r) => r.id === id && r.state === 'done'))
  const first = await listener()
  const run = await studio.finish(await studio.start(check))
  await until(
    async () => toldOf(first, run.id).length > 0 && first.news().at(-1)!.pulse.running.length === 0,
    'it is told',
  )
  await first.close()
  const second = await listener()
  const again = await studio.finish(await studio.start(check))
  await until(async () => toldOf(second, again.id).length > 0, 'the second is told')
  expect(second.news().flatMap((n) => n.runs.filter((r) => r.id === run.id))).toEqual([])
  await second.close()
})
