import { operatingSystemNames, panelKindNames, type OperatingSystem, type PanelKind } from '@bichroma/core/register'
import type { SignalRange } from '@bichroma/core/tables'
import { minutesField, nameField, numberField, settingField, textField, timeField, tripleField } from '../fields'
import { managedPictures, programKinds, type ManagedPictures, type ProgramKind } from '@bichroma/core/rollout'
import { hostConditionNames, type HostCondition } from '@bichroma/core/runs'
import { yup } from '../sentences'
import { pipelineShapeSchema } from './pipelineShape'

export const panelKindField = () => yup.string<PanelKind>().oneOf(panelKindNames)
const rangeField = () => yup.string<SignalRange>().oneOf(['full', 'limited'])
const wholeRange = () =>
  yup
    .object({ min: settingField().required(), max: settingField().required() })
    .noUnknown()
    .required()
    .test(
      'range',
      ({ path }) => `“${path}” must go from its smallest setting to its largest.`,
      (v) => v.min === undefined || v.max === undefined || v.min <= v.max,
    )

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
    presets: yup.array().of(textField(60).nullable().defined()).strict().required().max(8),
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
        min: settingField().required(),
        max: settingField().required(),
        factory: settingField().required(),
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
    certifiedAt: timeField().nullable().defined(),
    /** Kinds of panel for which it holds a correction of its own. */
    corrections: yup.array().of(panelKindField().required()).strict().required().max(16),
  })
  .noUnknown()
export type CourierInstrument = yup.InferType<typeof courierInstrumentSchema>

export const displayControlsSchema = yup
  .object({
    backlight: settingField().required(),
    /** `slot`: signals go through the active slot; `bypass`: they are the panel's drive. */
    pipeline: yup.string<'slot' | 'bypass'>().oneOf(['slot', 'bypass']).required(),
    activeSlot: numberField().required().integer().min(1).max(8),
    /** The display's data cable answers. */
    dataLink: yup.boolean().strict().required(),
    /** The range that the display takes its signal to have. */
    inputRange: rangeField().required(),
    /** Gains of red, green and blue; null when it has none. */
    gains: tripleField(settingField()).nullable().defined(),
    /** It turns its own light down in dark pictures. */
    dynamicContrast: yup.boolean().strict().required(),
    /** A table was written that will hold only after a power cycle. */
    needsPowerCycle: yup.boolean().strict().required(),
    /** Minutes since it was switched on; null when it does not tell. */
    warmMinutes: minutesField().nullable().defined(),
  })
  .noUnknown()
export type DisplayControls = yup.InferType<typeof displayControlsSchema>

/** A program that shows pictures, with its switches; null for one that cannot be read. */
export const programSchema = yup
  .object({
    name: nameField(),
    kind: yup.string<ProgramKind>().oneOf(programKinds).required(),
    colorManagement: yup.string<ManagedPictures>().oneOf(managedPictures).nullable().defined(),
    /** It reads version 4 profiles. */
    version4: yup.boolean().strict().nullable().defined(),
    /** The courier may turn its switches. */
    settable: yup.boolean().strict().required(),
  })
  .noUnknown()

export { hostConditionNames, type HostCondition }

export const hostFactsSchema = yup
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
    /** Minutes since somebody last touched the workstation; null when it does not tell. */
    idleMinutes: minutesField().nullable().defined(),
    /** The workstation's own clock, ms since 1970. */
    clock: timeField().required(),
  })
  .noUnknown()
export type HostFacts = yup.InferType<typeof hostFactsSchema>
