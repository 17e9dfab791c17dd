import {
  operatingSystemNames,
  panelKindNames,
  type OperatingSystem,
  type PanelKind,
  type SignalRange,
} from '@bichroma/core'
import { hashField, nameField, numberField, tripleField } from '../fields'
import { yup } from '../sentences'
import { pipelineShapeSchema } from './pipelineShape'

/** Version of the protocol below; a courier that speaks another is refused with a sentence. */
export const courierProtocol = 3

const unit = () => numberField().required().min(0).max(1)
const panelKindField = () => yup.string<PanelKind>().oneOf(panelKindNames)
const rangeField = () => yup.string<SignalRange>().oneOf(['full', 'limited'])
const wholeRange = () =>
  yup
    .object({ min: numberField().required().integer(), max: numberField().required().integer() })
    .noUnknown()
    .required()

/** A display as its courier finds it. */
export const courierDisplaySchema = yup
  .object({
    serial: nameField(),
    maker: nameField(),
    model: nameField(),
    firmware: nameField(),
    panelKind: panelKindField().required(),
    slots: numberField().required().integer().min(1).max(8),
    /** Where the tables of a slot live: in the display, or in the workstation's video card. */
    tablesIn: yup.string<'display' | 'card'>().oneOf(['display', 'card']).required(),
    pipeline: pipelineShapeSchema,
    /** Firmware of `panel` takes only the panel's own gamut as the gamut of a slot. */
    gamutTargets: yup.string<'any' | 'panel'>().oneOf(['any', 'panel']).required(),
    /** What the factory put into the slots; null for nothing. */
    presets: yup.array().of(yup.string().strict().max(60).nullable().defined()).strict().required().max(8),
    /** Seconds that the display takes to reset a slot before it can be written. */
    resetSeconds: numberField().required().min(0).max(3600),
    /** Seconds that its link needs for the contents of a slot. */
    writeSeconds: numberField().required().min(0).max(7200),
    /** A written table holds only after the display was switched off and on. */
    powerCycle: yup.boolean().strict().required(),
    signalBits: numberField().required().integer().oneOf([8, 10, 12]),
    /** The range in which the workstation sends signals to this display. */
    signalRange: rangeField().required(),
    backlight: wholeRange(),
    /** Whether its brightness obeys commands, or only the hands at its own buttons. */
    brightnessBy: yup.string<'commands' | 'hands'>().oneOf(['commands', 'hands']).required(),
    /** Gains of red, green and blue, if the display has them, and whether they sit before or after the tables. */
    gains: yup
      .object({
        min: numberField().required().integer(),
        max: numberField().required().integer(),
        factory: numberField().required().integer(),
        place: yup.string<'before' | 'after'>().oneOf(['before', 'after']).required(),
      })
      .noUnknown()
      .nullable()
      .defined(),
  })
  .noUnknown()
export type CourierDisplay = yup.InferType<typeof courierDisplaySchema>

export const courierInstrumentSchema = yup
  .object({
    serial: nameField(),
    maker: nameField(),
    model: nameField(),
    kind: yup.string<'colorimeter' | 'spectroradiometer'>().oneOf(['colorimeter', 'spectroradiometer']).required(),
    /** When its maker last certified it, ms since 1970; null when it does not tell. */
    certifiedAt: numberField().integer().nullable().defined(),
    /** Kinds of panel for which it holds a correction of its own. */
    corrections: yup.array().of(panelKindField().required()).strict().required().max(16),
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
    /** The range that the display takes its signal to have. */
    inputRange: rangeField().required(),
    /** Gains of red, green and blue; null when it has none. */
    gains: tripleField(numberField().integer()).nullable().defined(),
    /** It turns its own light down in dark pictures. */
    dynamicContrast: yup.boolean().strict().required(),
    /** A table was written that will hold only after a power cycle. */
    needsPowerCycle: yup.boolean().strict().required(),
    /** Minutes since it was switched on; null when it does not tell. */
    warmMinutes: numberField().min(0).nullable().defined(),
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
  'sleepOnMains',
  'sleepOnBattery',
  'onBattery',
] as const
export type HostCondition = (typeof hostConditionNames)[number]

const hostFactsSchema = yup
  .object({
    name: nameField(),
    operatingSystem: yup.string<OperatingSystem>().oneOf(operatingSystemNames).required(),
    systemVersion: nameField(),
    /** Null for a setting that this system does not tell: somebody has to look. */
    conditions: yup
      .object(
        Object.fromEntries(hostConditionNames.map((n) => [n, yup.boolean().strict().nullable().defined()])) as Record<
          HostCondition,
          yup.BooleanSchema<boolean | null>
        >,
      )
      .noUnknown()
      .required(),
    /** Applications whose own colour switches matter. */
    applications: yup
      .array()
      .of(
        yup
          .object({
            name: nameField(),
            colorManagement: yup.string<'off' | 'tagged' | 'all'>().oneOf(['off', 'tagged', 'all']).required(),
            /** It reads version 4 profiles. */
            version4: yup.boolean().strict().required(),
          })
          .noUnknown()
          .required(),
      )
      .strict()
      .required()
      .max(32),
    /** Minutes since somebody last touched the workstation; null when it does not tell. */
    idleMinutes: numberField().min(0).nullable().defined(),
    /** The workstation's own clock, ms since 1970. */
    clock: numberField().required().integer(),
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
    /** The profile that is bound but will be in force only after this; null when what is bound is in force. */
    waitsFor: yup.string<'sign-out' | 'restart'>().oneOf(['sign-out', 'restart']).nullable().defined(),
  })
  .noUnknown()
export type Binding = yup.InferType<typeof bindingSchema>

const serial = { serial: nameField() }
const none = yup.object({}).noUnknown()
const slot = { slot: numberField().required().integer().min(1).max(8) }

const patch = {
  rgb: tripleField(unit()).required(),
  /** Share of the screen's area that the patch fills, black around it. */
  area: numberField().moreThan(0).max(1).optional(),
  /** Time to let pass once it is drawn, for the light to follow, ms. */
  waitMs: numberField().min(0).max(60_000).optional(),
}

/** Every command: what it takes and what it gives back. */
export const commands = {
  'display.showPatch': {
    args: yup.object({ ...serial, ...patch }).noUnknown(),
    result: none,
  },
  /** Shows a patch and reads it with an instrument: one message for what a run does hundreds of times. */
  'display.readPatch': {
    args: yup
      .object({
        ...serial,
        ...patch,
        instrument: nameField(),
        correction: panelKindField().optional(),
      })
      .noUnknown(),
    result: readingSchema,
  },
  /** Shows lines of text large on the display for some seconds, so that people see which one it is. */
  'display.showName': {
    args: yup
      .object({
        ...serial,
        lines: yup.array().of(yup.string().strict().required().max(80)).strict().required().min(1).max(3),
        seconds: numberField().required().min(1).max(120),
      })
      .noUnknown(),
    result: none,
  },
  'display.getControls': { args: yup.object(serial).noUnknown(), result: displayControlsSchema },
  'display.setControls': {
    args: yup
      .object({
        ...serial,
        backlight: numberField().integer().optional(),
        gains: tripleField(numberField().integer()).optional(),
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
  'instrument.read': {
    args: yup
      .object({
        ...serial,
        display: nameField(),
        /** The correction of the instrument's own to apply; none when absent. */
        correction: panelKindField().optional(),
      })
      .noUnknown(),
    result: readingSchema,
  },
  /** Illuminance at the instrument with its diffuser on. */
  'instrument.readAmbient': {
    args: yup.object(serial).noUnknown(),
    result: yup
      .object({ illuminanceLux: numberField().required().min(0), xyz: tripleField(numberField()).required() })
      .noUnknown(),
  },
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
export type CommandResult<N extends CommandName> = N extends 'instrument.read' | 'display.readPatch'
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
  'disk-full',
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
