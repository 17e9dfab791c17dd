import Papa from 'papaparse'
import type { DisplayDetail, DisplayListing, InventoryPlan, LedgerEntry, Page, Room } from '@bichroma/contract'
import { Studio } from './studio'

let studio: Studio
// Each has a register of its own, which it writes to.
beforeEach(async () => {
  studio = await Studio.open()
})
afterEach(() => studio.close())

const head =
  'serial,name,maker,model,firmware,panel,slots,building,room,workstation,system,system version,limits,days between checks'
const row = (serial: string, change: Record<string, string> = {}) => {
  const usual: Record<string, string> = {
    ...{
      serial,
      name: `Named ${serial}`,
      maker: 'Quillon',
      model: 'Q27',
      firmware: '1',
      panel: 'wide-gamut-led',
      slots: '3',
    },
    ...{ building: 'Mill', room: 'Loft', workstation: 'loft-01', system: 'Linux', 'system version': '12' },
    ...{ limits: 'Plate work', 'days between checks': '21' },
  }
  return head
    .split(',')
    .map((c) => change[c] ?? usual[c])
    .join(',')
}
const file = (...rows: string[]) => [head, ...rows].join('\n')
const plan = (text: string) => studio.admin.post<InventoryPlan>('/inventory/plan', { text })
const takeIn = async (text: string) =>
  studio.admin.post<{ written: number }>('/inventory', { text, digest: (await plan(text)).digest })
const out = async () => (await studio.admin.raw('GET', '/inventory')).text()
const displays = () => studio.admin.list<DisplayListing>('/displays')
const faultsOf = async (...rows: string[]) =>
  (await plan(file(...rows))).lines.map((l) => l.faults.map((f) => `${f.field}: ${f.sentence}`))

test('what is written out is read in again as the same, to the last cell', async () => {
  const text = await out()
  const parsed = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true })
  expect(parsed.errors).toEqual([])
  expect(parsed.data).toHaveLength(1)
  expect(parsed.data[0]).toMatchObject({ name: 'Sedge 2', room: 'Sedge Room', workstation: 'sedge-02', kept: 'in use' })
  const { counts, lines } = await plan(text)
  expect(counts).toEqual({ new: 0, change: 0, same: 1, fault: 0 })
  expect(lines[0]).toMatchObject({ line: 2, kind: 'same', changes: [], faults: [] })
})

test('a preview tells row and field and writes nothing; then each line is taken whole, with its entries', async () => {
  const text = file(row('A-1'), row('A-2', { workstation: 'loft-02' }), row('A-3', { workstation: 'loft-02' }))
  const before = await out()
  const told = await plan(text)
  expect(told.counts).toEqual({ new: 3, change: 0, same: 0, fault: 0 })
  expect([told.newRooms, told.newWorkstations]).toEqual([['Loft'], ['loft-01', 'loft-02']])
  expect(await out()).toBe(before)
  expect(await takeIn(text)).toEqual({ written: 3 })
  const made = (await displays()).filter((d) => d.serial.startsWith('A-'))
  expect(made.map((d) => [d.serial, d.name, d.room, d.workstation, d.checkEveryDays])).toEqual([
    ['A-1', 'Named A-1', 'Loft', 'loft-01', 21],
    ['A-2', 'Named A-2', 'Loft', 'loft-02', 21],
    ['A-3', 'Named A-3', 'Loft', 'loft-02', 21],
  ])
  expect((await studio.admin.get<DisplayDetail>(`/displays/${made[0].id}`)).slots).toHaveLength(3)
  expect((await studio.admin.get<Room[]>('/rooms')).find((r) => r.name === 'Loft')?.building).toBe('Mill')
  const entries = (await studio.admin.get<Page<LedgerEntry>>('/ledger?limit=6')).items
  expect(entries.map((e) => `${e.act} ${e.thing}`).sort()).toEqual(
    ['added display', 'added display', 'added display', 'added room', 'added workstation', 'added workstation'].sort(),
  )
  expect((await plan(text)).counts).toEqual({ new: 0, change: 0, same: 3, fault: 0 })
})

test('what is changed is told from what to what; what a file leaves out or empty stays', async () => {
  await takeIn(file(row('B-1')))
  const text = 'serial,name,days between checks,workstation\nB-1,Other name,,loft-09\n'
  // A workstation that is not there yet lacks what makes one.
  expect((await plan(text)).lines[0]).toMatchObject({
    kind: 'change',
    changes: [
      { field: 'name', from: 'Named B-1', to: 'Other name' },
      { field: 'workstation', from: 'loft-01', to: 'loft-09' },
    ],
  })
  await takeIn(text)
  const moved = (await displays()).find((d) => d.serial === 'B-1')!
  expect(moved).toMatchObject({ name: 'Other name', workstation: 'loft-09', checkEveryDays: 21 })
  const [entry] = (await studio.admin.get<Page<LedgerEntry>>(`/ledger/display/${moved.id}`)).items
  expect(entry.changes).toEqual([
    { field: 'name', from: 'Named B-1', to: 'Other name' },
    { field: 'workstation', from: 'loft-01', to: 'loft-09' },
  ])
})

test.each<[string, string[], string]>([
  ['a panel that there is none of', [row('X', { panel: 'plasma' })], 'panel: '],
  ['slots that are no number', [row('X', { slots: 'three' })], 'slots: '],
  ['a slot too many', [row('X', { slots: '9' })], 'slots: '],
  ['days that are none', [row('X', { 'days between checks': '0' })], 'days between checks: '],
  ['limits that are not there', [row('X', { limits: 'Nothing' })], 'limits: There are no limits called “Nothing”'],
  ['a system that there is none of', [row('X', { system: 'Amber', workstation: 'new' })], 'system: '],
  ['no room', [row('X', { room: '', workstation: 'nowhere' })], 'room: '],
  ['no serial number', [row('')], 'serial: '],
  [
    'a workstation in two rooms',
    [row('X', { workstation: 'sedge-02', system: '' })],
    'room: sedge-02 is in Sedge Room',
  ],
  [
    'another system than the register’s',
    [row('X', { workstation: 'sedge-02', room: 'Sedge Room', building: '', system: 'macOS' })],
    'system: sedge-02 runs',
  ],
  [
    'another building than the register’s',
    [row('X', { workstation: 'new', room: 'Sedge Room', building: 'Mill' })],
    'building: Sedge Room is in no building',
  ],
  ['a name that is another’s', [row('X', { name: 'Sedge 2' })], 'name: Another display'],
  ['a name with a control character', [row('X', { name: 'a\u0007b' })], 'name: '],
])('%s is told with its field', async (_what, rows, words) => {
  const [faults] = await faultsOf(...rows)
  expect(faults.some((f) => f.startsWith(words))).toBe(true)
  const refused = takeIn(file(...rows))
  await expect(refused).rejects.toThrow('lines cannot be taken')
})

test('lines are looked at beside each other', async () => {
  const faults = await faultsOf(
    row('C-1'),
    row('C-1', { name: 'Twice' }),
    row('C-2', { name: 'Named C-1' }),
    row('C-3', { room: 'Cellar' }),
  )
  expect(faults).toEqual([
    [],
    ['serial: Line 2 is of C-1 already.'],
    ['name: Line 2 is called Named C-1 already.'],
    [expect.stringContaining('room: loft-01 is in Loft')],
  ])
})

test('what a display is does not change, and what is put away stays there', async () => {
  await takeIn(file(row('D-1')))
  const [faults] = await faultsOf(row('D-1', { model: 'Q32', slots: '4', panel: 'oled' }))
  expect(faults.map((f) => f.split(':')[0]).sort()).toEqual(['model', 'panel', 'slots'])
  const { id } = (await displays()).find((d) => d.serial === 'D-1')!
  await studio.admin.post(`/displays/${id}/keep`, { kept: 'stored' })
  expect((await plan(await out())).counts.fault).toBe(0)
  expect((await faultsOf(row('D-1', { name: 'Renamed' })))[0][0]).toContain('kept: Named D-1 is stored')
  const text = `${head},kept\n${row('D-1')},in use`
  expect((await plan(text)).lines[0].faults[0].field).toBe('kept')
})

test.each<[string, string]>([
  ['', 'Text'],
  ['serial\n', ''],
  ['name,maker\na,b', 'must name a column “serial”'],
  ['serial,colour\na,b', 'no column “colour”'],
  ['serial,serial\na,b', 'named twice'],
  ['serial,name\na', 'The row has 1 values'],
  ['serial,name\n"a,b', 'quotation mark'],
  [`serial\n${'x\n'.repeat(5001)}`, '5000 lines'],
])('a file that is none is told as such: %.30j', async (text, words) => {
  if (words) await expect(plan(text)).rejects.toThrow(words)
  else expect((await plan(text)).lines).toEqual([])
})

test('nothing is written without the preview, nor by the preview of another register', async () => {
  const text = file(row('E-1'))
  await expect(studio.admin.post('/inventory', { text })).rejects.toThrow('Look at what it would do first')
  await expect(studio.admin.post('/inventory', { text, digest: 'no' })).rejects.toThrow('Digest')
  const { digest } = await plan(text)
  await studio.admin.post('/rooms', { name: 'Meanwhile' })
  await takeIn(file(row('E-1', { name: 'First' })))
  await expect(studio.admin.post('/inventory', { text, digest })).rejects.toThrow('has changed since the preview')
  expect((await displays()).find((d) => d.serial === 'E-1')?.name).toBe('First')
})

test('a line that cannot be written stops there, told with its number; those before it are whole, and the rest follows @long', async () => {
  await takeIn(file(row('F-0')))
  const { id: workstationId } = (await studio.admin.list<{ id: number; name: string }>('/workstations')).find(
    (w) => w.name === 'sedge-02',
  )!
  expect(workstationId).toBe(studio.ids.workstation)
  const run = await studio.start({ sampling: 'brief' })
  const text = file(
    row('F-1'),
    `${(await displays()).find((d) => d.id === studio.displayId)!.serial},Sedge 2,,,,,,,,loft-02,,,,`,
    row('F-2'),
  )
  await expect(takeIn(text)).rejects.toThrow('Line 3: Sedge 2 is in a run.')
  const serials = async () => (await displays()).map((d) => d.serial)
  expect(await serials()).toContain('F-1')
  expect(await serials()).not.toContain('F-2')
  await studio.finish(run)
  expect(await takeIn(text)).toEqual({ written: 2 })
  expect(await serials()).toContain('F-2')
})

test('cells at which a program for tables would reckon are guarded, and read as they were', async () => {
  const names = ['=1+1', '+cmd', '-2', '@sum', "'quoted", "'=x"]
  for (const [i, name] of names.entries())
    await studio.admin.post('/displays', {
      ...{ name, maker: 'Quillon', model: 'Q27', serial: `G-${i}`, firmware: '1', panelKind: 'oled', slots: 1 },
      ...{ workstationId: studio.ids.workstation, limitsId: studio.ids.limits, checkEveryDays: 28 },
    })
  const text = await out()
  const cells = Papa.parse<string[]>(text).data.flat()
  expect(cells.filter((c) => /^[=+\-@\t\r]/.test(c))).toEqual([])
  const { counts } = await plan(text)
  expect([counts.change, counts.fault]).toEqual([0, 0])
})

test('two at once are one after another, and a viewer only reads', async () => {
  const [one, two] = [file(row('H-1')), file(row('H-2'))]
  const digests = [(await plan(one)).digest, (await plan(two)).digest]
  const both = await Promise.allSettled([
    studio.admin.post('/inventory', { text: one, digest: digests[0] }),
    studio.admin.post('/inventory', { text: two, digest: digests[1] }),
  ])
  expect(both.filter((b) => b.status === 'fulfilled')).toHaveLength(1)
  const viewer = await studio.as('viewer')
  expect((await viewer.raw('GET', '/inventory')).status).toBe(200)
  expect((await viewer.raw('POST', '/inventory', { text: one })).status).toBe(403)
})
