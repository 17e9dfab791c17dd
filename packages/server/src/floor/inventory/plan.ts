import { createHash } from 'node:crypto'
import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import { FormatError, readCsv } from '@bichroma/core/formats'
import {
  InvalidInput,
  mostInventoryRows,
  saveDisplaySchema,
  saveWorkstationSchema,
  validate,
  yup,
  type InventoryLine,
  type InventoryPlan,
  type SaveDisplay,
  type SaveWorkstation,
} from '@bichroma/contract'
import type { DisplayRow } from '../../register/entities'
import { inventoryColumns, panelOf, systemOf, unguarded, type InventoryCells, type InventoryColumn } from './columns'

/** Lines that are looked at in one go, so that others are answered in between. */
const lineBlock = 100

/** What a line asks for, once it is clear that it can be done. */
export interface InventoryAct {
  readonly line: InventoryLine
  /** What the display is to be; of its workstation and limits the names, for they may have to be made first. */
  readonly display: Omit<SaveDisplay, 'workstationId' | 'limitsId'>
  readonly limits: string
  readonly place: {
    readonly workstation: Omit<SaveWorkstation, 'roomId'>
    readonly room: string
    readonly building: string
  }
  /** The display as it is registered; null for a new one. */
  readonly before: Known | null
}

/** A display with the names of where it stands and what it is judged by. */
type Known = Pick<
  DisplayRow,
  | 'id'
  | 'name'
  | 'maker'
  | 'model'
  | 'serial'
  | 'firmware'
  | 'panelKind'
  | 'slots'
  | 'checkEveryDays'
  | 'kept'
  | 'workstationId'
> & {
  readonly limits: string
  readonly workstation: string
  readonly operatingSystem: string
  readonly systemVersion: string
  readonly room: string
  readonly building: string | null
}

/** What the register knows, as lines ask for it. */
class Register {
  private readonly bySerial
  private readonly byName
  private readonly workstation
  private readonly room
  private readonly limits

  constructor(store: Database.Database) {
    const known = `SELECT display.id AS id, display.name AS name, maker, model, serial, firmware, panel_kind AS panelKind, slots,
        check_every_days AS checkEveryDays, kept, workstation_id AS workstationId, limits.name AS limits,
        workstation.name AS workstation, operating_system AS operatingSystem, system_version AS systemVersion,
        room.name AS room, building
      FROM display JOIN limits ON limits.id = limits_id JOIN workstation ON workstation.id = workstation_id
        JOIN room ON room.id = room_id`
    this.bySerial = store.prepare(`${known} WHERE serial = ?`)
    this.byName = store.prepare('SELECT serial FROM display WHERE name = ?').pluck()
    this.workstation = store.prepare(
      `SELECT workstation.name AS name, operating_system AS operatingSystem, system_version AS systemVersion,
         room.name AS room FROM workstation JOIN room ON room.id = room_id
       WHERE workstation.name = ? AND workstation.retired_at IS NULL`,
    )
    this.room = store.prepare('SELECT name, building FROM room WHERE name = ? AND retired_at IS NULL')
    this.limits = store.prepare('SELECT 1 FROM limits WHERE name = ?').pluck()
  }

  display = (serial: string) => (this.bySerial.get(serial) as Known | undefined) ?? null
  holderOfName = (name: string) => this.byName.get(name) as string | undefined
  workstationOf = (name: string) =>
    this.workstation.get(name) as
      | { name: string; operatingSystem: string; systemVersion: string; room: string }
      | undefined
  roomOf = (name: string) => this.room.get(name) as { name: string; building: string | null } | undefined
  hasLimits = (name: string) => this.limits.get(name) !== undefined
}

const displaySchema = saveDisplaySchema.omit(['workstationId', 'limitsId'])
const workstationSchema = saveWorkstationSchema.omit(['roomId'])
const placeSchema = yup.object({ room: saveDisplaySchema.fields.name as yup.StringSchema })

/** Columns of the fields that schemas name. */
const columnOf: Readonly<Record<string, InventoryColumn>> = {
  panelKind: 'panel',
  checkEveryDays: 'days between checks',
  operatingSystem: 'system',
  systemVersion: 'system version',
}

type Faults = { field: string; sentence: string }[]

/** A value as its schema wants it, or what is wrong with it. */
function take<T>(
  schema: yup.Schema<T>,
  value: object,
  faults: Faults,
  rename: Record<string, InventoryColumn> = {},
): T {
  try {
    return validate(schema, value)
  } catch (error) {
    if (!(error instanceof InvalidInput)) throw error
    for (const { field = '', sentence } of error.all)
      faults.push({ field: rename[field] ?? columnOf[field] ?? field, sentence })
    return value as T
  }
}

/** A number that a cell holds; anything else is left as it is, to be refused for what it is. */
const numberOf = (cell: string): number => (/^\d{1,6}$/.test(cell.trim()) ? Number(cell) : NaN)

/** The lines of an inventory against the register; nothing is written. Throws InvalidInput for a file that is none. */
export async function planInventory(
  data: DataSource,
  text: string,
): Promise<{ plan: InventoryPlan; acts: readonly InventoryAct[] }> {
  const rows = cellsOf(text)
  const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
  const planner = new Planner(new Register(store))
  for (const [n, { line, cells }] of rows.entries()) {
    if (n % lineBlock === 0) await new Promise((resolve) => setImmediate(resolve))
    planner.line(line, cells)
  }
  return planner.end()
}

/** The rows of a file by the names of its columns. */
function cellsOf(text: string): { line: number; cells: InventoryCells }[] {
  let table
  try {
    table = readCsv(text)
  } catch (error) {
    if (error instanceof FormatError) throw new InvalidInput(error.message, 'text')
    throw error
  }
  const fields = table.fields.map((f) => f.toLowerCase())
  const unknown = fields.find((f) => f !== '' && !inventoryColumns.includes(f as InventoryColumn))
  if (unknown !== undefined)
    throw new InvalidInput(
      `There is no column “${unknown.slice(0, 40)}” in an inventory; its columns are ${inventoryColumns.join(', ')}.`,
      'text',
    )
  if (!fields.includes('serial'))
    throw new InvalidInput('The first line must name a column “serial”: by it a display is known.', 'text')
  if (table.rows.length > mostInventoryRows)
    throw new InvalidInput(`An inventory of ${mostInventoryRows} lines is taken at once; divide it.`, 'text')
  return table.rows.map(({ values, line }) => ({
    line,
    cells: Object.fromEntries(fields.map((f, i) => [f, unguarded(values[i])])),
  }))
}

/** Goes through the lines, each on what those before it would make. */
class Planner {
  private readonly lines: InventoryLine[] = []
  private readonly acts: InventoryAct[] = []
  private readonly serials = new Map<string, number>()
  private readonly names = new Map<string, number>()
  private readonly rooms = new Map<string, string>()
  private readonly workstations = new Map<string, { operatingSystem: string; systemVersion: string; room: string }>()

  constructor(private readonly register: Register) {}

  line(line: number, cells: InventoryCells): void {
    const faults: Faults = []
    const serial = (cells.serial ?? '').trim()
    const before = this.register.display(serial)
    // What a file leaves out, or leaves empty, stays what it is.
    const cell = (column: InventoryColumn, known: string | number | undefined | null, usual = '') =>
      cells[column]?.trim() || String(known ?? usual)
    const workstationName = cell('workstation', before?.workstation)
    const station = this.workstations.get(workstationName) ?? this.register.workstationOf(workstationName)
    const panel = cell('panel', before?.panelKind)
    const system = cell('system', station?.operatingSystem ?? before?.operatingSystem)
    const display = take(
      displaySchema,
      {
        serial,
        name: cell('name', before?.name),
        maker: cell('maker', before?.maker),
        model: cell('model', before?.model),
        firmware: cell('firmware', before?.firmware, 'unknown'),
        panelKind: panelOf(panel) ?? panel,
        slots: numberOf(cell('slots', before?.slots)),
        checkEveryDays: numberOf(cell('days between checks', before?.checkEveryDays, '28')),
      },
      faults,
    )
    const workstation = take(
      workstationSchema,
      {
        name: workstationName,
        operatingSystem: systemOf(system) ?? system,
        systemVersion: cell('system version', station?.systemVersion ?? before?.systemVersion),
      },
      faults,
      { name: 'workstation' },
    )
    const { room } = take(placeSchema, { room: cell('room', station?.room ?? before?.room) }, faults)
    const building = cell('building', this.rooms.get(room!) ?? this.register.roomOf(room!)?.building)
    const limits = cell('limits', before?.limits)
    if (!this.register.hasLimits(limits))
      faults.push({
        field: 'limits',
        sentence: `There are no limits called “${limits.slice(0, 60)}”; make them first.`,
      })
    this.faultsBetween({ ...display, serial }, before, cells, faults)
    if (station && station.room !== room)
      faults.push({
        field: 'room',
        sentence: `${workstationName} is in ${station.room}; a workstation is in one room.`,
      })
    if (station && workstation.operatingSystem !== station.operatingSystem)
      faults.push({ field: 'system', sentence: `${workstationName} runs ${station.operatingSystem} by the register.` })
    const known = this.register.roomOf(room!)
    if (known && (known.building ?? '') !== building)
      faults.push({ field: 'building', sentence: `${room} is in ${known.building ?? 'no building'} by the register.` })
    const kind = before ? 'change' : 'new'
    const changes = before
      ? changed(before, {
          name: display.name,
          maker: display.maker,
          model: display.model,
          panel: display.panelKind,
          slots: String(display.slots),
          workstation: workstationName,
          limits,
          'days between checks': String(display.checkEveryDays),
        })
      : [
          { field: 'model', from: '', to: `${display.maker} ${display.model}` },
          { field: 'workstation', from: '', to: workstationName },
          { field: 'room', from: '', to: room! },
        ]
    for (const field of before ? ['maker', 'model', 'panel', 'slots'] : [])
      if (changes.some((c) => c.field === field) && !faults.some((f) => f.field === field))
        faults.push({
          field,
          sentence: `What ${before!.name} is does not change: “${field}” must stay ${was(before!, field)}.`,
        })
    if (before && before.kept !== 'in use' && changes.length)
      faults.push({ field: 'kept', sentence: `${before.name} is ${before.kept}. Take it back into use first.` })
    const told: InventoryLine = {
      line,
      name: display.name,
      serial,
      kind: faults.length ? 'fault' : kind === 'change' && !changes.length ? 'same' : kind,
      changes: faults.length ? [] : changes,
      faults,
    }
    this.lines.push(told)
    this.serials.set(serial, line)
    if (display.name) this.names.set(display.name, line)
    if (faults.length) return
    if (!station) {
      const { operatingSystem, systemVersion } = workstation
      this.workstations.set(workstationName, { operatingSystem, systemVersion, room: room! })
    }
    if (!this.register.roomOf(room!)) this.rooms.set(room!, building)
    if (told.kind !== 'same')
      this.acts.push({ line: told, display, limits, place: { workstation, room: room!, building }, before })
  }

  /** What is wrong with a line beside others. */
  private faultsBetween(
    { serial, name }: { serial: string; name: string },
    before: Known | null,
    cells: InventoryCells,
    faults: Faults,
  ) {
    const twice = this.serials.get(serial)
    if (twice !== undefined) faults.push({ field: 'serial', sentence: `Line ${twice} is of ${serial} already.` })
    const named = this.names.get(name)
    if (named !== undefined) faults.push({ field: 'name', sentence: `Line ${named} is called ${name} already.` })
    const holder = name ? this.register.holderOfName(name) : undefined
    if (holder !== undefined && holder !== serial)
      faults.push({ field: 'name', sentence: `Another display, ${holder}, is called ${name} already.` })
    const kept = cells.kept?.trim()
    if (kept && kept !== (before?.kept ?? 'in use'))
      faults.push({
        field: 'kept',
        sentence: 'Displays are stored, retired and taken back on their own page; leave “kept” as it is.',
      })
  }

  end(): { plan: InventoryPlan; acts: readonly InventoryAct[] } {
    const counts = { new: 0, change: 0, same: 0, fault: 0 }
    for (const { kind } of this.lines) counts[kind] += 1
    const plan = {
      lines: this.lines,
      counts,
      newRooms: [...this.rooms.keys()],
      newWorkstations: [...this.workstations.keys()],
    }
    const digest = createHash('sha256').update(JSON.stringify(plan)).digest('hex')
    return { plan: { ...plan, digest }, acts: this.acts }
  }
}

const was = (before: Known, field: string): string =>
  String(field === 'panel' ? before.panelKind : before[field as 'maker' | 'model' | 'slots'])

/** Columns whose value is another than the register's. */
function changed(before: Known, to: Partial<Record<InventoryColumn, string>>): InventoryLine['changes'] {
  const from: Partial<Record<InventoryColumn, string>> = {
    ...before,
    panel: before.panelKind,
    slots: String(before.slots),
    'days between checks': String(before.checkEveryDays),
  } as never
  return Object.entries(to)
    .filter(([field, value]) => from[field as InventoryColumn] !== value)
    .map(([field, value]) => ({ field, from: from[field as InventoryColumn] ?? '', to: value }))
}
