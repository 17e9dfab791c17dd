import {
  hostConditionNames,
  nameField,
  numberField,
  programSchema,
  validate,
  yup,
  type HostCondition,
} from '@bichroma/contract'
import { operatingSystemNames, type OperatingSystem } from '@bichroma/core/register'
import type { SignalRange } from '@bichroma/core/tables'
import type { DisplayTraits } from '../display/benchDisplay'
import type { HostTraits } from '../host/benchHost'
import { readInstrument, type InstrumentModel } from '../instrument/instrumentSchema'
import type { LitRoom } from '../light/daylight'
import { readPanel } from '../panel/panelSchema'
import { shippedInstruments, shippedPanels } from './shipped'

const many = <S extends yup.Schema>(of: S, most: number) => yup.array().of(of).strict().required().max(most)
const serial = () =>
  nameField().matches(/^[A-Za-z0-9-]+$/, ({ path }) => `“${path}” must be letters, digits and hyphens.`)

/** A scenario file: a studio for the bench to stand in for. A model is the name of a shipped file, or the path of another. */
export const scenarioSchema = yup
  .object({
    format: yup.string<'bichroma-scenario/1'>().oneOf(['bichroma-scenario/1']).required(),
    studio: nameField(),
    seed: numberField().integer().min(0).required(),
    rooms: many(
      yup
        .object({
          name: nameField(),
          illuminanceLux: numberField().min(0).max(100_000).required(),
          kelvin: numberField().min(1700).max(20_000).required(),
          /** What daylight adds at noon; no windows without it. */
          daylightLux: numberField().min(0).max(100_000).optional(),
        })
        .noUnknown()
        .required(),
      100,
    ),
    instruments: many(
      yup
        .object({
          serial: serial(),
          model: nameField(),
          /** Days since its certificate when the scenario begins; null when it does not tell. */
          certifiedDaysAgo: numberField().min(0).max(20_000).nullable().defined(),
          wear: numberField().min(-5).max(5).default(1),
        })
        .noUnknown()
        .required(),
      50,
    ),
    workstations: many(
      yup
        .object({
          name: nameField(),
          room: nameField(),
          operatingSystem: yup.string<OperatingSystem>().oneOf(operatingSystemNames).required(),
          systemVersion: nameField(),
          administrator: yup.boolean().strict().default(true),
          signalRange: yup.string<SignalRange>().oneOf(['full', 'limited']).default('full'),
          programs: yup
            .array()
            .of(programSchema.required())
            .strict()
            .max(32)
            .default(() => []),
          untold: yup
            .array()
            .of(
              yup
                .string<HostCondition>()
                .oneOf([...hostConditionNames])
                .required(),
            )
            .strict()
            .max(hostConditionNames.length)
            .default(() => []),
          displays: many(
            yup
              .object({
                name: nameField(),
                serial: serial(),
                model: nameField(),
                /** Fields of the panel file in which this piece differs from its model. */
                differs: yup.mixed<object>().default(() => ({})),
                hours: numberField().min(0).max(200_000).required(),
                hoursPerDay: numberField().min(0).max(24).required(),
                warmMinutes: numberField().min(0).max(100_000).required(),
              })
              .noUnknown()
              .required(),
            16,
          ),
        })
        .noUnknown()
        .required(),
      200,
    ),
  })
  .noUnknown()

/** A display as the file has it. */
type FileDisplay = Omit<DisplayTraits, 'panel'> & {
  readonly name: string
  readonly model: string
  readonly differs: unknown
}

/** One workstation with the displays it drives. */
export interface WorkstationScenario {
  readonly host: HostTraits
  readonly room: string
  /** The display's name in the studio, besides what it says of itself. */
  readonly displays: readonly (DisplayTraits & { readonly name: string })[]
}

/** One instrument; its certificate is so many days older than the scenario's beginning. */
export interface InstrumentScenario {
  readonly serial: string
  readonly model: InstrumentModel
  readonly certifiedDaysAgo: number | null
  readonly wear: number
}

/** Everything that a bench stands in for. Deterministic from its seed at a given sequence of commands. */
export interface Scenario {
  readonly studio: string
  readonly seed: number
  readonly rooms: Readonly<Record<string, LitRoom>>
  readonly workstations: readonly WorkstationScenario[]
  readonly instruments: readonly InstrumentScenario[]
}

/** A file with some of its fields put in place of others, groups field by field. */
export function withDifferences(base: unknown, differs: unknown): unknown {
  const isGroup = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v)
  if (!isGroup(base) || !isGroup(differs)) return differs
  return Object.entries(differs).reduce<Record<string, unknown>>(
    (all, [key, value]) => ({ ...all, [key]: key in all ? withDifferences(all[key], value) : value }),
    { ...base },
  )
}

/**
 * A scenario from what its file says. `readFile` gives the JSON of a model that is no shipped one. Throws InvalidInput or
 * Error with a sentence that names what is at fault.
 */
export function readScenario(value: unknown, readFile: (path: string) => unknown): Scenario {
  const file = scenarioSchema.cast(validate(scenarioSchema, value))
  const find = (model: string, shipped: Readonly<Record<string, unknown>>) =>
    Object.hasOwn(shipped, model) ? shipped[model] : readFile(model)
  const about = <T>(what: string, read: () => T): T => {
    try {
      return read()
    } catch (error) {
      throw new Error(`${what}: ${(error as Error).message}`)
    }
  }
  const rooms = Object.fromEntries(
    file.rooms.map(({ name, daylightLux, ...lamps }) => [
      name,
      { ...lamps, ...(daylightLux !== undefined && { daylight: { lux: daylightLux } }) },
    ]),
  )
  const serials = new Set<string>()
  const once = (serial: string) => {
    if (serials.has(serial)) throw new Error(`The serial number ${serial} is there twice; each thing needs its own.`)
    serials.add(serial)
  }
  return {
    studio: file.studio,
    seed: file.seed,
    rooms,
    instruments: file.instruments.map(({ serial, model, certifiedDaysAgo, wear }) => {
      once(serial)
      return about(`Instrument ${serial}`, () => ({
        serial,
        model: readInstrument(find(model, shippedInstruments)),
        certifiedDaysAgo,
        wear,
      }))
    }),
    workstations: file.workstations.map(({ displays, room, ...host }) => {
      if (!Object.hasOwn(rooms, room))
        throw new Error(`Workstation ${host.name} stands in “${room}”, which is no room.`)
      return {
        host: host as HostTraits,
        room,
        displays: (displays as FileDisplay[]).map(({ model, differs, ...display }) => {
          once(display.serial)
          return about(`Display ${display.name}`, () => ({
            ...display,
            panel: readPanel(withDifferences(find(model, shippedPanels), differs)),
          }))
        }),
      }
    }),
  }
}
