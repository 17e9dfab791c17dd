import { operatingSystemNames, panelKindNames, type OperatingSystem, type PanelKind } from '@bichroma/core'
import { hashField, nameField, numberField, tripleField } from '../fields'
import { yup } from '../sentences'

/** Version of the protocol below; a courier that speaks another is refused with a sentence. */
export const courierProtocol = 1

const unit = () => numberField().required().min(0).max(1)
const table = () =>
  yup
    .object({
      entries: numberField().required().integer().min(2).max(65536),
      bits: numberField().required().integer().min(6).max(16),
    })
    .noUnknown()
    .required()

/** A display as its courier finds it. */
export const courierDisplaySchema = yup
  .object({
    serial: nameField(),
    maker: nameField(),
    model: nameField(),
    firmware: nameField(),
    panelKind: yup.string<PanelKind>().oneOf(panelKindNames).required(),
    slots: numberField().required().integer().min(1).max(8),
    signalBits: numberField().required().integer().oneOf([8, 10, 12]),
    backlight: yup
      .object({ min: numberField().required().integer(), max: numberField().required().integer() })
      .noUnknown()
      .required(),
    pipeline: yup
      .object({
        before: table(),
        matrixFractionBits: numberField().required().integer().min(6).max(24),
        after: table(),
      })
      .noUnknown()
      .required(),
  })
  .noUnknown()
export type CourierDisplay = yup.InferType<typeof courierDisplaySchema>

export const courierInstrumentSchema = yup
  .object({
    serial: nameField(),
    maker: nameField(),
    model: nameField(),
    kind: yup.string<'colorimeter' | 'spectroradiometer'>().oneOf(['colorimeter', 'spectroradiometer']).required(),
  })
  .noUnknown()
export type CourierInstrument = yup.InferType<typeof courierInstrumentSchema>

const displayControlsSchema = yup
  .object({
    backlight: numberField().required().integer(),
    /** `slot`: signals go through the active slot; `bypass`: they are the panel's drive. */
    pipeline: yup.string<'slot' | 'bypass'>().oneOf(['slot', 'bypass']).required(),
    activeSlot: numberField().required().integer().min(1).max(8),
    /** The display's data cable answers. */
    dataLink: yup.boolean().strict().required(),
    warmMinutes: numberField().required().min(0),
  })
  .noUnknown()
export type DisplayControls = yup.InferType<typeof displayControlsSchema>

const slotStateSchema = yup
  .object({
    slot: numberField().required().integer().min(1).max(8),
    label: yup.string().strict().max(60).nullable().defined(),
    hash: hashField().nullable().defined(),
  })
  .noUnknown()

/** Host settings that ruin a run when they are on. */
export const hostConditionNames = [
  'automaticBrightness',
  'whiteAdaptation',
  'eveningTint',
  'hdr',
  'mirroring',
  'screenSaver',
] as const
export type HostCondition = (typeof hostConditionNames)[number]

const hostFactsSchema = yup
  .object({
    name: nameField(),
    operatingSystem: yup.string<OperatingSystem>().oneOf(operatingSystemNames).required(),
    systemVersion: nameField(),
    conditions: yup
      .object(
        Object.fromEntries(hostConditionNames.map((n) => [n, yup.boolean().strict().required()])) as Record<
          HostCondition,
          yup.BooleanSchema<boolean>
        >,
      )
      .noUnknown()
      .required(),
  })
  .noUnknown()
export type HostFacts = yup.InferType<typeof hostFactsSchema>

const readingSchema = yup
  .object({
    xyz: tripleField(numberField()).required(),
    integrationMs: numberField().required().min(0),
    flags: yup
      .array()
      .of(yup.string<'cover' | 'saturated' | 'unstable'>().oneOf(['cover', 'saturated', 'unstable']).required())
      .strict()
      .required(),
  })
  .noUnknown()
export interface CourierReading {
  xyz: [number, number, number]
  integrationMs: number
  flags: ('cover' | 'saturated' | 'unstable')[]
}

/** One profile as the system binds it to a display now. */
const bindingSchema = yup
  .object({
    serial: nameField(),
    scope: yup.string<'machine' | 'user'>().oneOf(['machine', 'user']).required(),
    path: yup.string().strict().required().max(1000),
    /** SHA-256 of the file's bytes as they are on disk; null when the bound file is not there. */
    hash: hashField().nullable().defined(),
  })
  .noUnknown()
export type Binding = yup.InferType<typeof bindingSchema>

const serial = { serial: nameField() }
const none = yup.object({}).noUnknown()
const slot = { slot: numberField().required().integer().min(1).max(8) }

/** Every command: what it takes and what it gives back. */
export const commands = {
  'display.showPatch': {
    args: yup.object({ ...serial, rgb: tripleField(unit()).required() }).noUnknown(),
    result: none,
  },
  'display.getControls': { args: yup.object(serial).noUnknown(), result: displayControlsSchema },
  'display.setControls': {
    args: yup
      .object({
        ...serial,
        backlight: numberField().integer().optional(),
        pipeline: yup.string<'slot' | 'bypass'>().oneOf(['slot', 'bypass']).optional(),
      })
      .noUnknown(),
    result: displayControlsSchema,
  },
  'display.readSlot': { args: yup.object({ ...serial, ...slot }).noUnknown(), result: slotStateSchema },
  'display.writeSlot': {
    /** A null hash empties the slot. */
    args: yup
      .object({
        ...serial,
        ...slot,
        label: yup.string().strict().max(60).nullable().defined(),
        hash: hashField().nullable().defined(),
      })
      .noUnknown(),
    result: slotStateSchema,
  },
  'display.activateSlot': { args: yup.object({ ...serial, ...slot }).noUnknown(), result: displayControlsSchema },
  'instrument.identify': {
    args: none,
    result: yup
      .object({ instruments: yup.array().of(courierInstrumentSchema).strict().required().max(16) })
      .noUnknown(),
  },
  'instrument.zero': { args: yup.object(serial).noUnknown(), result: none },
  'instrument.read': { args: yup.object({ ...serial, display: nameField() }).noUnknown(), result: readingSchema },
  'host.facts': { args: none, result: hostFactsSchema },
  'host.placeProfile': {
    args: yup
      .object({
        display: nameField(),
        hash: hashField().required(),
        fileName: yup
          .string()
          .strict()
          .required()
          .max(200)
          .matches(
            /^[A-Za-z0-9][A-Za-z0-9.-]*\.icc$/,
            '“fileName” must be letters, digits, hyphens and points, ending in .icc.',
          ),
        scope: yup.string<'machine' | 'user'>().oneOf(['machine', 'user']).required(),
      })
      .noUnknown(),
    result: yup.object({ path: yup.string().strict().required().max(1000) }).noUnknown(),
  },
  'host.listInForce': {
    args: none,
    result: yup.object({ bindings: yup.array().of(bindingSchema).strict().required().max(64) }).noUnknown(),
  },
} as const

export type CommandName = keyof typeof commands
export const commandNames = Object.keys(commands) as CommandName[]
export type CommandArgs<N extends CommandName> = yup.InferType<(typeof commands)[N]['args']>
export type CommandResult<N extends CommandName> = N extends 'instrument.read'
  ? CourierReading
  : yup.InferType<(typeof commands)[N]['result']>

/** Why a command could not be done, as far as the courier knows. */
export const faultKinds = [
  'data-link',
  'no-instrument',
  'no-display',
  'bad-slot',
  'bad-tables',
  'content',
  'privilege',
  'device',
  'bad-message',
] as const
export type FaultKind = (typeof faultKinds)[number]

/** Courier → server. */
export const helloSchema = yup
  .object({
    type: yup.string<'hello'>().oneOf(['hello']).required(),
    protocol: numberField().required().integer(),
    host: hostFactsSchema.required(),
    displays: yup.array().of(courierDisplaySchema).strict().required().max(16),
    instruments: yup.array().of(courierInstrumentSchema).strict().required().max(16),
  })
  .noUnknown()
export type Hello = yup.InferType<typeof helloSchema>

export const resultSchema = yup
  .object({
    type: yup.string<'result'>().oneOf(['result']).required(),
    id: numberField().required().integer(),
    ok: yup.boolean().strict().required(),
    /** How long it took at real pace. */
    tookMs: numberField().required().min(0),
    value: yup.mixed().optional(),
    fault: yup
      .object({
        kind: yup
          .string<FaultKind>()
          .oneOf([...faultKinds])
          .required(),
        sentence: yup.string().strict().required().max(500),
      })
      .noUnknown()
      .optional()
      .default(undefined),
  })
  .noUnknown()
export type ResultMessage = yup.InferType<typeof resultSchema>

/** Server → courier. */
export const commandSchema = yup
  .object({
    type: yup.string<'command'>().oneOf(['command']).required(),
    id: numberField().required().integer(),
    name: yup.string<CommandName>().oneOf(commandNames).required(),
    args: yup.mixed().required(),
  })
  .noUnknown()
export type CommandMessage = { type: 'command'; id: number; name: CommandName; args: unknown }

export const refusedSchema = yup
  .object({ type: yup.string<'refused'>().oneOf(['refused']).required(), sentence: yup.string().required() })
  .noUnknown()
export type Refused = yup.InferType<typeof refusedSchema>
