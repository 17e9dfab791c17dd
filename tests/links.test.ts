import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import ICAL from 'ical.js'
import { MailSink } from '@bichroma/bench'
import type { Desk, DeskReport, KeptWell, LinkListing, Page, RoundsHouse, Visit, Week } from '@bichroma/contract'
import { HeldClient } from './heldClient'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

const hour = 3_600_000
const day = 24 * hour

let studio: Studio
let sink: MailSink
// Each has a studio of its own: days pass in them, and desks, links and letters are told of.
beforeEach(async () => {
  sink = new MailSink()
  studio = await Studio.proven({
    mail: { url: await sink.listen(), from: 'rounds@fen-and-lantern.example' },
  })
  // In the morning, and all day long, so that no test depends on the hour at which it is run.
  studio.clock.jumpTo(Math.ceil(studio.clock.now() / day) * day + 9 * hour)
  studio.admin = await studio.as('administrator')
  const { hours, minutes, walk, people } = await studio.admin.get<RoundsHouse>('/rounds/house')
  const always = { from: '00:00', to: '24:00' }
  await studio.admin.put('/rounds/settings', {
    hours: { ...hours, zone: 'UTC', desk: Array.from({ length: 7 }, () => always), lunch: null },
    minutes,
    walk,
    heads: ['head@fen-and-lantern.example'],
  })
  const { id, name: _, ...said } = people.find((p) => p.goes)!
  await studio.admin.put(`/rounds/people/${id}`, { ...said, mail: 'tour@fen-and-lantern.example' })
  await studio.admin.put('/due-rules', { level: 'display', of: studio.displayId, everyDays: 4 })
  await studio.admin.post('/rounds/plan', { days: 7 })
  await studio.admin.post('/rounds/told')
})
afterEach(async () => {
  await studio.close()
  await sink.close()
})

const visits = async () => (await studio.admin.get<Week>('/rounds/week')).visits
const ahead = async (): Promise<Visit> => (await visits()).find((v) => v.state === 'planned')!
const stranger = (method: string, path: string, body?: unknown) =>
  new HeldClient(studio.server.url).raw(method, path, body)
const desk = async (token: string) => (await (await stranger('GET', `/desk/${token}`)).json()) as Desk
const told = () => studio.bench.desks()[live.workstation]
const pageOf = async () => {
  await until(async () => told().page !== null, 'the courier was told the page of the desk')
  return told().page!.replace('/desk/', '')
}

describe('a calendar', () => {
  const eventsOf = (text: string) => {
    const calendar = new ICAL.Component(ICAL.parse(text) as never)
    return calendar.getAllSubcomponents('vevent').map((v) => new ICAL.Event(v))
  }

  it('is opened by its link alone, as a parser of its own reads it, and keeps its UID while its SEQUENCE goes up', async () => {
    const visit = await ahead()
    const { token, id } = await studio.admin.post<{ token: string; id: number }>('/links', {
      kind: 'person',
      of: visit.personId,
    })
    const feed = async () => {
      const response = await stranger('GET', `/feeds/${token}.ics`)
      expect(response.headers.get('content-type')).toMatch(/^text\/calendar/)
      return response.text()
    }
    const text = await feed()
    // Lines end and fold as RFC 5545 wants it.
    expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true)
    const [event] = eventsOf(text)
    expect(event.startDate.toUnixTime() * 1000).toBe(visit.at)
    expect(event.endDate.toUnixTime() * 1000).toBe(visit.endsAt)
    expect(event.summary).toContain(visit.display.name)
    await studio.admin.put(`/visits/${visit.id}`, {
      personId: visit.personId,
      instrumentId: visit.instrumentId,
      at: visit.at! + 4 * hour,
    })
    const [moved] = eventsOf(await feed())
    expect(moved.uid).toBe(event.uid)
    expect(moved.sequence).toBeGreaterThan(event.sequence)
    expect(moved.startDate.toUnixTime() * 1000).toBe(visit.at! + 4 * hour)
    await studio.admin.delete(`/visits/${visit.id}/pin`)
    await studio.admin.post('/rounds/told')
    expect((await studio.admin.get<LinkListing[]>('/links')).map((l) => [l.kind, l.name])).toEqual([
      ['person', 'technician'],
    ])
    await studio.admin.delete(`/links/${id}`)
    expect((await stranger('GET', `/feeds/${token}`)).status).toBe(404)
    expect(await studio.admin.get<LinkListing[]>('/links')).toEqual([])
  })

  it('of a room or an instrument is an administrator’s to give; one’s own is one’s own', async () => {
    const technician = await studio.as('technician')
    const { id } = (await technician.get<{ account: { id: number } }>('/session')).account
    const own = await technician.post<{ id: number; token: string }>('/links', { kind: 'person', of: id })
    await expect(technician.post('/links', { kind: 'room', of: studio.ids.room })).rejects.toThrow('own calendar only')
    await expect(studio.admin.post('/links', { kind: 'room', of: 4711 })).rejects.toThrow('names no room')
    const room = await studio.admin.post<{ id: number; token: string }>('/links', { kind: 'room', of: studio.ids.room })
    expect((await technician.get<LinkListing[]>('/links')).map((l) => l.id)).toEqual([own.id])
    await expect(technician.delete(`/links/${room.id}`)).rejects.toThrow('There is no calendar')
    expect(eventsOf(await (await stranger('GET', `/feeds/${room.token}`)).text()).length).toBeGreaterThan(0)
    // A calendar opens nothing else.
    expect((await stranger('GET', `/desk/${room.token}`)).status).toBe(404)
  })
})

describe('the page of a desk', () => {
  it('says what can be trusted and what is planned, and nothing of the rest of the studio', async () => {
    const page = await desk(await pageOf())
    const visit = await ahead()
    expect(page).toMatchObject({ workstation: live.workstation, room: 'Sedge Room' })
    expect(page.displays).toHaveLength(1)
    expect(page.displays[0]).toMatchObject({ shows: 'Atlas web', visit: { id: visit.id, at: visit.at, answer: null } })
    const text = JSON.stringify(page)
    for (const secret of ['technician', 'administrator', live.serial, 'TC-0417']) expect(text).not.toContain(secret)
  })

  it('takes what suits: another time that is free, later as far as the due line leaves, or this one @long', async () => {
    const token = await pageOf()
    const [{ visit }] = (await desk(token)).displays
    const answer = (body: object) => stranger('POST', `/desk/${token}/answer`, { visitId: visit!.id, ...body })
    expect((await answer({ answer: 'another time' })).status).toBe(400)
    expect((await answer({ answer: 'another time', at: visit!.at + 123 })).status).toBe(409)
    expect((await answer({ answer: 'another time', at: visit!.times[1] })).status).toBe(200)
    expect(await ahead()).toMatchObject({ id: visit!.id, at: visit!.times[1], pinned: true })
    const later = (await desk(token)).displays[0].visit!.later!
    expect(later).toBeLessThan((await studio.display()).dueAt!)
    expect((await answer({ answer: 'later' })).status).toBe(200)
    expect((await ahead()).at).toBe(later)
    expect((await answer({ answer: 'suits' })).status).toBe(200)
    expect((await desk(token)).displays[0].visit!.answer).toBe('suits')
    // What was said of one time is not said of another.
    const { personId, instrumentId } = await ahead()
    await studio.admin.put(`/visits/${visit!.id}`, { personId, instrumentId, at: visit!.times[2] })
    expect((await desk(token)).displays[0].visit!.answer).toBeNull()
    expect((await stranger('POST', `/desk/${token}/answer`, { visitId: 4711, answer: 'suits' })).status).toBe(404)
  })

  it('takes a word and a picture of what looks wrong, plans a visit for it, and answers there once it was read @long @long', async () => {
    const token = await pageOf()
    const png = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]).toString('base64')
    const say = (body: object) => stranger('POST', `/desk/${token}/wrong`, { displayId: studio.displayId, ...body })
    expect((await say({ text: 'x' })).status).toBe(400)
    expect(
      (await say({ text: 'The greys look green.', picture: Buffer.from('<svg/>').toString('base64') })).status,
    ).toBe(400)
    expect((await say({ text: 'The greys look green.', displayId: 4711 })).status).toBe(400)
    expect((await say({ text: 'The greys look green.', picture: png })).status).toBe(201)
    const [report] = (await studio.admin.get<Page<DeskReport>>('/desk-reports?state=open')).items
    expect(report).toMatchObject({ text: 'The greys look green.', picture: true, workstation: live.workstation })
    const picture = await studio.admin.raw('GET', `/desk-reports/${report.id}/picture`)
    expect([picture.status, picture.headers.get('content-type')]).toEqual([200, 'image/png'])
    await studio.server.rounds.planner.again()
    expect(await ahead()).toMatchObject({ dueBy: 'asked' })
    await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
    await until(
      async () => (await studio.admin.get<Page<DeskReport>>('/desk-reports?state=open')).total === 0,
      'it was answered',
    )
    const [answered] = (await desk(token)).displays[0].reports
    expect(answered.answer).toMatch(/^It was read/)
    // Nobody fills the studio with it.
    const statuses: number[] = []
    for (let i = 0; i < 14; i++) statuses.push((await say({ text: `Again ${i}` })).status)
    expect(statuses.slice(-2)).toEqual([429, 429])
    const { items } = await studio.admin.get<Page<DeskReport>>('/desk-reports?state=open')
    await studio.admin.post(`/desk-reports/${items[0].id}/answer`, { answer: 'Somebody comes this afternoon.' })
    await expect(studio.admin.post(`/desk-reports/${items[0].id}/answer`, { answer: 'Once more.' })).rejects.toThrow(
      'answered already',
    )
    for (const { id } of items.slice(1)) await studio.admin.post(`/desk-reports/${id}/answer`, { answer: 'Thank you.' })
  })

  it('has one link: a new one ends the one before, and a guess opens nothing @long', async () => {
    const token = await pageOf()
    const fresh = (await studio.admin.post<{ token: string }>(`/workstations/${studio.ids.workstation}/desk-link`))
      .token
    expect(fresh).not.toBe(token)
    expect((await stranger('GET', `/desk/${token}`)).status).toBe(404)
    expect((await desk(fresh)).workstation).toBe(live.workstation)
    await until(async () => told().page === `/desk/${fresh}`, 'the courier was told the new one')
    // A folder whose secret is another, as after a backup was put back, gives a new one and ends that which nobody can tell.
    writeFileSync(join(studio.folder, 'data', 'link-secret'), 'ab'.repeat(32))
    await studio.restartServer()
    await until(async () => told().page !== `/desk/${fresh}`, 'the courier was told one of the new secret')
    expect((await desk(await pageOf())).workstation).toBe(live.workstation)
    expect((await stranger('GET', `/desk/${fresh}`)).status).toBe(404)
    for (const guess of ['x', 'A'.repeat(43), '..%2f..', `${fresh.slice(0, -1)}!`])
      expect((await stranger('GET', `/desk/${guess}`)).status).toBe(404)
  })
})

describe('reminders', () => {
  it('come to the desk once a day, plainer each time, and go quiet once it was answered @long', async () => {
    await studio.admin.put('/due-rules', { level: 'display', of: studio.displayId, everyDays: 6 })
    await studio.admin.post('/rounds/plan', { days: 14 })
    const visit = await ahead()
    // Three days from now, so that there is time to be told.
    const at = Math.round((studio.clock.now() + 2.9 * day) / 300_000) * 300_000
    await studio.admin.put(`/visits/${visit.id}`, { personId: visit.personId, instrumentId: visit.instrumentId, at })
    await studio.admin.post('/rounds/told')
    await studio.server.rounds.reminders.look()
    expect(told().messages).toHaveLength(1)
    expect(told().messages[0].text).toMatch(/is to be looked at on .*Does that suit\?/)
    await studio.server.rounds.reminders.look()
    expect(told().messages).toHaveLength(1)
    const first = told().messages[0].id
    studio.clock.jumpTo(studio.clock.now() + day)
    await studio.server.rounds.reminders.look()
    expect(told().messages[0].id).not.toBe(first)
    expect(told().messages[0].text).toMatch(/will be looked at on/)
    const token = await pageOf()
    await stranger('POST', `/desk/${token}/answer`, { visitId: visit.id, answer: 'suits' })
    await until(async () => told().messages.length === 0, 'the desk is quiet')
    studio.clock.jumpTo(studio.clock.now() + day)
    await studio.server.rounds.reminders.look()
    expect(told().messages).toEqual([])
  })

  it('go to addresses that administrators alone see', async () => {
    const own = await studio.as('administrator').then((a) => a.get<RoundsHouse>('/rounds/house'))
    expect([own.heads, own.people.map((p) => p.mail).filter(Boolean)]).toEqual([
      ['head@fen-and-lantern.example'],
      ['tour@fen-and-lantern.example'],
    ])
    const seen = await studio.as('viewer').then((v) => v.get<RoundsHouse>('/rounds/house'))
    expect(JSON.stringify(seen)).not.toContain('@')
  })

  it('bring a technician the tour in the morning, once, and a head the month @long', async () => {
    studio.admin = await studio.as('administrator')
    const letters = (to: string) => sink.letters.filter((l) => l.to.includes(to))
    const before = letters('tour@').length
    const visit = await ahead()
    studio.bench.instrument(live.instrument).knock(3)
    const waits = await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined })
    const { message } = await studio.reach(waits, 'waiting')
    // Early on its day, if that is not two hours before it.
    studio.clock.jumpTo(Math.max(Math.floor(visit.at! / day) * day + 1, visit.at! - 2 * hour))
    await studio.server.rounds.reminders.look()
    await studio.server.rounds.reminders.look()
    const today = letters('tour@')
    expect(today.length - before).toBeLessThanOrEqual(1)
    expect(today[today.length - 1].subject).toMatch(/^Your tour on /)
    expect(today[today.length - 1].text).toContain(visit.display.name)
    expect(today[today.length - 1].text).toContain(`What waits for hands now:\nSedge 2, Sedge Room: ${message}`)
    const anew = await studio.as('administrator')
    await anew.post(`/runs/${waits}/stop`, {})
    await studio.server.engine.ended(waits)
    studio.bench.instrument(live.instrument).seat = { place: { x: 0, y: 0 }, tilt: 0, optics: 'open' }
    expect(today[today.length - 1].from).toContain('rounds@fen-and-lantern.example')
    // Each month once, whichever of them begin meanwhile.
    const subjects = letters('head@').map((l) => l.subject)
    expect(subjects[0]).toMatch(/^How well the displays were kept/)
    expect(new Set(subjects).size).toBe(subjects.length)
  })

  it('are tried again when the mail is out of order, and undo nothing', async () => {
    studio.admin = await studio.as('administrator')
    sink.broken = true
    const heads = () => sink.letters.filter((l) => l.to.includes('head@')).length
    const had = heads()
    studio.clock.jumpTo(studio.clock.now() + 32 * day)
    await studio.server.rounds.reminders.look()
    expect(heads()).toBe(had)
    sink.broken = false
    await studio.server.rounds.reminders.look()
    expect(heads()).toBe(had + 1)
    await studio.server.rounds.reminders.look()
    expect(heads()).toBe(had + 1)
  })
})

test('how well it was kept is told by month, room and model, and as CSV with the runs that it rests on', async () => {
  studio.admin = await studio.as('administrator')
  const kept = await studio.admin.get<KeptWell>('/kept?months=3')
  expect(kept.months).toHaveLength(3)
  const all = (days: KeptWell['total'][number]) => Object.values(days).reduce((sum, n) => sum + n, 0)
  expect(kept.rooms.map((r) => [r.name, r.displays])).toEqual([['Sedge Room', 1]])
  expect(kept.rooms[0].months).toEqual(kept.total)
  // Every day of every month is one display-day.
  const [year, month] = kept.months[0].split('-').map(Number)
  expect(all(kept.total[0])).toBe(new Date(Date.UTC(year, month, 0)).getUTCDate())
  expect(kept.total.reduce((sum, d) => sum + d.within, 0)).toBeGreaterThan(0)
  const csv = await (await studio.admin.raw('GET', '/kept/file?months=3')).text()
  const [head, ...lines] = csv.trim().split('\n')
  expect(head).toBe('month,building,room,display,model,within,outside,lapsed,unproven,out of step,share,runs')
  expect(lines).toHaveLength(3)
  expect(lines.some((line) => /,[\d ]+$/.test(line))).toBe(true)
  expect((await studio.admin.raw('GET', '/kept?months=99')).status).toBe(400)
})

test('days on which another profile was in force are out of step, and the fleet’s report says so too @long', async () => {
  studio.admin = await studio.as('administrator')
  const total = async () =>
    (await studio.admin.get<KeptWell>('/kept?months=2')).total.reduce((sum, d) => sum + d['out of step'], 0)
  const run = await studio.start({ sampling: 'brief' })
  await studio.finish(run)
  await studio.admin.post('/placements', { runId: run })
  const standing = async () => (await studio.display()).rollout?.placement?.state
  await until(async () => (await standing()) === 'in force', 'it is in force')
  const before = await total()
  // The figures of before are told for a minute.
  studio.clock.jumpTo(studio.clock.now() + 3 * day)
  studio.admin = await studio.as('administrator')
  expect(await total()).toBe(before)
  await studio.bench.host(live.workstation).replaceProfile(live.serial, 'Panel Pal')
  await until(async () => (await standing()) === 'overridden', 'it is overridden')
  studio.clock.jumpTo(studio.clock.now() + 3 * day)
  studio.admin = await studio.as('administrator')
  expect((await total()) - before).toBeGreaterThanOrEqual(3)
  expect((await total()) - before).toBeLessThanOrEqual(4)
  const report = await (await studio.admin.raw('GET', '/reports/fleet')).text()
  expect(report).toMatch(/\d+\.\d % of display-days in 30 days were proven within limits/)
  expect(report).toContain('out of step')
})
