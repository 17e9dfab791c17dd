import {
  durationField,
  hashField,
  idField,
  illuminanceField,
  nameField,
  numberField,
  serialField,
  settingField,
  textField,
  tripleField,
  tristimulusField,
} from '../fields'
import { managedPictures, type ManagedPictures } from '@bichroma/core/rollout'
import { yup } from '../sentences'
import {
  courierDisplaySchema,
  courierInstrumentSchema,
  displayControlsSchema,
  hostFactsSchema,
  panelKindField,
  programSchema,
} from './deviceFacts'

/** Version of the protocol below; a courier that speaks another is refused with a sentence. */
export const courierProtocol = 5

/** Whether curves are in the video card: loaded, not wanted there, or gone although they are wanted. */
export const loaderStates = ['on', 'off', 'lost'] as const
export type LoaderState = (typeof loaderStates)[number]

const unit = () => numberField().required().min(0).max(1)

const slotStateSchema = yup
  .object({
    slot: numberField().required().integer().min(1).max(8),
    label: textField(60).nullable().defined(),
    hash: hashField().nullable().defined(),
  })
  .noUnknown()

const readingSchema = yup
  .object({
    xyz: tripleField(tristimulusField()).required(),
    integrationMs: durationField(600_000).required(),
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

const scopeField = () => yup.string<'machine' | 'user'>().oneOf(['machine', 'user']).required()
/** Name of a file in the folder of its scope, whoever put it there. */
const heldName = () => textField(255).required()

/** All that a system has for a display, by scope; the last of each is the default of that scope. */
export const associationsSchema = yup
  .object({
    machine: yup.array().of(heldName()).strict().required().max(64),
    user: yup.array().of(heldName()).strict().required().max(64),
    /** The person at the workstation has settings of their own, which go before the machine’s. */
    perUser: yup.boolean().strict().required(),
  })
  .noUnknown()
export type Associations = yup.InferType<typeof associationsSchema>

/** One profile as the system binds it to a display now. */
const bindingSchema = yup
  .object({
    serial: nameField(),
    scope: scopeField(),
    path: textField(1000).required(),
    /** SHA-256 of the file's bytes as they are on disk; null when the bound file is not there. */
    hash: hashField().nullable().defined(),
    /** The profile that is bound but will be in force only after this; null when what is bound is in force. */
    waitsFor: yup.string<'sign-out' | 'restart'>().oneOf(['sign-out', 'restart']).nullable().defined(),
    associations: associationsSchema.required(),
    /** What bound it last, where the system tells. */
    by: textField(100).nullable().defined(),
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
        lines: yup.array().of(textField(80).required()).strict().required().min(1).max(3),
        seconds: numberField().required().min(1).max(120),
      })
      .noUnknown(),
    result: none,
  },
  /** Wakes a display that sleeps, and keeps it awake: so that it is warm when somebody comes. */
  'display.wake': {
    args: yup.object({ ...serial, minutes: numberField().required().min(1).max(1440) }).noUnknown(),
    result: none,
  },
  'display.getControls': { args: yup.object(serial).noUnknown(), result: displayControlsSchema },
  'display.setControls': {
    args: yup
      .object({
        ...serial,
        backlight: settingField().optional(),
        gains: tripleField(settingField()).optional(),
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
        label: textField(60).nullable().defined(),
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
      .object({ illuminanceLux: illuminanceField().required(), xyz: tripleField(tristimulusField()).required() })
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
        scope: scopeField(),
        /** What a file of that name may hold to be written over, by SHA-256: earlier profiles of ours. */
        replaces: yup.array().of(hashField().required()).strict().required().max(256),
        /** Names of earlier profiles of ours, which the display has no more. */
        unbinds: yup.array().of(heldName()).strict().required().max(256),
      })
      .noUnknown(),
    result: yup.object({ path: textField(1000).required() }).noUnknown(),
  },
  /** Binds what is named, and nothing else; files stay as they are. */
  'host.bind': {
    args: yup.object({ display: nameField(), associations: associationsSchema.required() }).noUnknown(),
    result: none,
  },
  /** Removes a file that still holds what is named, and that no display has; else it stays, and that is told. */
  'host.removeProfile': {
    args: yup.object({ fileName: heldName(), scope: scopeField(), hash: hashField().required() }).noUnknown(),
    result: yup.object({ removed: yup.boolean().strict().required() }).noUnknown(),
  },
  /** Everything about profiles as it is now. */
  'host.readBack': {
    args: none,
    result: yup
      .object({
        bindings: yup.array().of(bindingSchema).strict().required().max(64),
        /** Slots on show, of displays that tell. */
        slots: yup
          .array()
          .of(
            yup
              .object({ serial: nameField(), ...slot })
              .noUnknown()
              .required(),
          )
          .strict()
          .required()
          .max(16),
        /** Whether the curves of a slot that lives in the video card are loaded; of displays that live by it. */
        loaders: yup
          .array()
          .of(
            yup
              .object({ serial: nameField(), state: yup.string<LoaderState>().oneOf(loaderStates).required() })
              .noUnknown()
              .required(),
          )
          .strict()
          .required()
          .max(16),
        programs: yup.array().of(programSchema.required()).strict().required().max(32),
      })
      .noUnknown(),
  },
  /** Loads the curves of a display’s slot into the video card again. */
  'host.loadCurves': { args: yup.object({ display: nameField() }).noUnknown(), result: none },
  /** Turns switches of a program. */
  'host.setProgram': {
    args: yup
      .object({
        program: nameField(),
        colorManagement: yup.string<ManagedPictures>().oneOf(managedPictures).optional(),
        version4: yup.boolean().strict().optional(),
      })
      .noUnknown(),
    result: none,
  },
  /** Leaves a note for whoever works there, in place of the one before; null takes it away. */
  'host.leaveNote': { args: yup.object({ text: textField(300).nullable().defined() }).noUnknown(), result: none },
  /** Where whoever works there finds the page of their desk on the server, and what they are told now: all of it, each time. */
  'host.tellDesk': {
    args: yup
      .object({
        page: textField(200)
          .matches(/^\/desk\/[A-Za-z0-9_-]+$/, '“page” must be an address on the server, as in /desk/….')
          .nullable()
          .defined(),
        messages: yup
          .array()
          .of(
            yup
              .object({ id: idField().required(), text: textField(600).required() })
              .noUnknown()
              .required(),
          )
          .strict()
          .required()
          .max(10),
      })
      .noUnknown(),
    result: none,
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
  'read-only',
  'name-taken',
  'path',
  'device',
  'bad-message',
] as const
export type FaultKind = (typeof faultKinds)[number]

/** What a courier tells of by itself when it changed. */
export const hostChanges = ['bindings', 'slots', 'loaders', 'programs', 'session'] as const
export type HostChange = (typeof hostChanges)[number]

/** Courier → server: something changed that nobody asked about. What it is now is read back. */
export const changedSchema = yup
  .object({
    type: yup.string<'changed'>().oneOf(['changed']).required(),
    what: yup.array().of(yup.string<HostChange>().oneOf(hostChanges).required()).strict().required().min(1).max(8),
  })
  .noUnknown()
export type ChangedMessage = yup.InferType<typeof changedSchema>

/** Courier → server: another display is plugged in, or one was pulled. */
export const displaysSchema = yup
  .object({
    type: yup.string<'displays'>().oneOf(['displays']).required(),
    displays: yup.array().of(courierDisplaySchema).strict().required().max(16),
  })
  .noUnknown()
export type DisplaysMessage = yup.InferType<typeof displaysSchema>

/** Courier → server. */
export const helloSchema = yup
  .object({
    type: yup.string<'hello'>().oneOf(['hello']).required(),
    protocol: serialField(),
    host: hostFactsSchema.required(),
    displays: yup.array().of(courierDisplaySchema).strict().required().max(16),
    instruments: yup.array().of(courierInstrumentSchema).strict().required().max(16),
  })
  .noUnknown()
export type Hello = yup.InferType<typeof helloSchema>

export const resultSchema = yup
  .object({
    type: yup.string<'result'>().oneOf(['result']).required(),
    id: serialField(),
    ok: yup.boolean().strict().required(),
    /** How long it took at real pace. */
    tookMs: durationField().required(),
    value: yup.mixed().optional(),
    fault: yup
      .object({
        kind: yup
          .string<FaultKind>()
          .oneOf([...faultKinds])
          .required(),
        sentence: textField(500).required(),
      })
      .noUnknown()
      .optional()
      .default(undefined),
  })
  .noUnknown()
export type ResultMessage = yup.InferType<typeof resultSchema>

/** Courier → server, while a command that takes its time is under way. */
export const progressSchema = yup
  .object({
    type: yup.string<'progress'>().oneOf(['progress']).required(),
    id: serialField(),
    /** 0–1 */
    done: unit(),
  })
  .noUnknown()
export type ProgressMessage = yup.InferType<typeof progressSchema>

/** Server → courier. */
export const commandSchema = yup
  .object({
    type: yup.string<'command'>().oneOf(['command']).required(),
    id: serialField(),
    name: yup.string<CommandName>().oneOf(commandNames).required(),
    args: yup.mixed().required(),
  })
  .noUnknown()
export type CommandMessage = { type: 'command'; id: number; name: CommandName; args: unknown }

export const refusedSchema = yup
  .object({ type: yup.string<'refused'>().oneOf(['refused']).required(), sentence: yup.string().required() })
  .noUnknown()
export type Refused = yup.InferType<typeof refusedSchema>
