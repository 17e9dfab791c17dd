import { operatingSystemNames, panelKindNames, type OperatingSystem, type PanelKind } from '@bichroma/core/register'
import { idField, nameField, numberField, textField } from '../fields'
import { yup } from '../sentences'

/** Whether a thing is in use, put away for a while, or will not come back. */
export const keptStates = ['in use', 'stored', 'retired'] as const
export type Kept = (typeof keptStates)[number]

const keptField = () =>
  yup
    .string<Kept>()
    .strict()
    .oneOf([...keptStates])
    .required()
    .label('Kept')
const whyField = () => textField(200).trim().label('Why')

/** A display goes to another workstation. */
export const moveDisplaySchema = yup.object({ workstationId: idField().required().label('Workstation') }).noUnknown()

/** Two displays have changed places. */
export const swapDisplaysSchema = yup
  .object({ first: idField().required().label('First'), second: idField().required().label('Second') })
  .noUnknown()
  .test('two', 'Name two different displays.', (v) => v.first === undefined || v.first !== v.second)

/** A display is stored, retired, or comes back into use: at the workstation that is named, else where it stood last. */
export const keepDisplaySchema = yup
  .object({ kept: keptField(), why: whyField().optional(), workstationId: idField().optional().label('Workstation') })
  .noUnknown()
export type KeepDisplay = yup.InferType<typeof keepDisplaySchema>

/** Another display takes a display's desk, with its name and what it is judged by; the old one goes. */
export const replaceDisplaySchema = yup
  .object({
    maker: nameField().label('Maker'),
    model: nameField().label('Model'),
    serial: nameField().label('Serial number'),
    firmware: nameField().label('Firmware'),
    panelKind: yup.string<PanelKind>().strict().oneOf(panelKindNames).required().label('Panel'),
    slots: numberField().required().integer().min(1).max(8).label('Slots'),
    /** What becomes of the old one. */
    old: yup.string<'stored' | 'retired'>().strict().oneOf(['stored', 'retired']).required().label('Old display'),
    why: whyField().optional(),
  })
  .noUnknown()
export type ReplaceDisplay = yup.InferType<typeof replaceDisplaySchema>

/** An instrument is stored, retired, or comes back into use. */
export const keepInstrumentSchema = yup.object({ kept: keptField(), why: whyField().optional() }).noUnknown()

/** Displays that one change may name. */
export const mostChanged = 500

/** Changes many displays at once: those named, or all of a model that are in use. */
export const changeDisplaysSchema = yup
  .object({
    ids: yup.array().of(idField().required()).strict().min(1).max(mostChanged).label('Displays'),
    maker: textField(60),
    model: textField(60),
    limitsId: idField().label('Limits'),
    checkEveryDays: numberField().integer().min(1).max(730).label('Days between checks'),
  })
  .noUnknown()
  .test(
    'which',
    'Say which displays: “ids”, or “maker” and “model”.',
    (v) => (v.ids === undefined) !== (v.maker === undefined) && (v.maker === undefined) === (v.model === undefined),
  )
  .test(
    'what',
    'Say what is to change: “limitsId” or “checkEveryDays”.',
    (v) => v.limitsId !== undefined || v.checkEveryDays !== undefined,
  )

/** Changes a workstation: its name, its room, its system. */
export const changeWorkstationSchema = yup
  .object({
    name: nameField().label('Name'),
    roomId: idField().required().label('Room'),
    operatingSystem: yup.string<OperatingSystem>().strict().oneOf(operatingSystemNames).required().label('System'),
    systemVersion: nameField().label('Version of the system'),
  })
  .noUnknown()
export type ChangeWorkstation = yup.InferType<typeof changeWorkstationSchema>

/** Gives a building another name, in all its rooms. */
export const renameBuildingSchema = yup
  .object({ from: nameField().label('From'), to: nameField().label('To') })
  .noUnknown()

/** A display that was put away. */
export interface PutAwayDisplay {
  id: number
  name: string
  maker: string
  model: string
  serial: string
  kept: Exclude<Kept, 'in use'>
  /** ms since 1970. */
  keptSince: number
  keptWhy: string | null
  /** Where it stood last. */
  workstation: string
  room: string
}

/** How many displays of a model have a value. */
export interface Share<T> {
  readonly value: T
  readonly displays: number
}

/** What is known of a model: from all its displays that are in use. */
export interface ModelFacts {
  readonly maker: string
  readonly model: string
  readonly displays: number
  readonly panelKinds: readonly Share<PanelKind>[]
  readonly slots: readonly Share<number>[]
  readonly firmware: readonly Share<string>[]
  readonly checkEveryDays: readonly Share<number>[]
  readonly limits: readonly Share<string>[]
  /** How long its light takes to follow a patch, ms, as runs measured it; null where none has. */
  readonly delayMs: { readonly from: number; readonly to: number } | null
  /** The newest correction of each instrument on a display of this model. */
  readonly corrections: readonly {
    readonly instrument: string
    readonly displayName: string
    readonly madeAt: number
    readonly residual: number
  }[]
}

/** Lines of an inventory that are taken at once, and its length, characters. */
export const mostInventoryRows = 5000
export const longestInventory = 2_000_000

/** An inventory as CSV; `digest`: what the preview said of it, without which nothing is written. */
export const inventorySchema = yup
  .object({
    text: yup.string().strict().required().max(longestInventory).label('Text'),
    digest: yup
      .string()
      .strict()
      .matches(/^[0-9a-f]{64}$/, '“Digest” must be the one that the preview gave.'),
  })
  .noUnknown()

/** What a line of an inventory comes to. */
export interface InventoryLine {
  /** Line of the file, the heading being 1. */
  readonly line: number
  readonly name: string
  readonly serial: string
  readonly kind: 'new' | 'change' | 'same' | 'fault'
  /** What would be other than it is. */
  readonly changes: readonly { readonly field: string; readonly from: string; readonly to: string }[]
  readonly faults: readonly { readonly field: string; readonly sentence: string }[]
}

/** What an inventory would do; nothing is written before somebody says so. */
export interface InventoryPlan {
  readonly lines: readonly InventoryLine[]
  /** Lines by kind. */
  readonly counts: Readonly<Record<InventoryLine['kind'], number>>
  readonly newRooms: readonly string[]
  readonly newWorkstations: readonly string[]
  /** Of all the above; the same file on another register has another. */
  readonly digest: string
}
