import { nameField, numberField, pipelineShapeSchema, validate, yup } from '@bichroma/contract'
import { panelKindNames, type PanelKind } from '@bichroma/core/register'
import type { SignalRange } from '@bichroma/core/tables'
import { about, group, number, numberOr, triple, tripleOr } from '../described'

/** What stands on the desk. */
export const forms = ['desktop', 'reference', 'pen', 'laptop', 'field', 'projector'] as const
export type Form = (typeof forms)[number]

/** How a display's data link carries bytes: packets of so many bytes, each acknowledged after so many ms. */
export const links = {
  usb: { packetBytes: 64, packetMs: 2 },
  network: { packetBytes: 1024, packetMs: 5 },
  // One node of a table per command, each answered before the next.
  serial: { packetBytes: 5, packetMs: 130 },
} as const
export type Link = keyof typeof links

const bands = (text: string) =>
  about(
    yup
      .array()
      .of(
        group('A Gaussian over wavelength.', {
          center: number('Peak, nm.', 380, 780),
          width: number('Standard deviation, nm.', 1, 80),
          height: number('Radiance relative to the channel’s other bands.', 0, 10),
        }).required(),
      )
      .strict()
      .min(1)
      .max(12),
    text,
  )

const light = group('What the panel emits.', {
  source: about(
    yup.string<PanelKind>().oneOf(panelKindNames).required(),
    'Kind of light; decides the emission bands, and is the kind that the display says it has.',
  ),
  bands: about(
    yup
      .object({
        red: bands('Bands of the red channel.').required(),
        green: bands('Bands of the green channel.').required(),
        blue: bands('Bands of the blue channel.').required(),
        white: bands('Bands of the white subpixel.').optional(),
      })
      .noUnknown()
      .optional()
      .default(undefined),
    'Emission bands of its own, in place of those typical of the kind.',
  ),
  shiftNm: tripleOr([0, 0, 0], 'Shift of red’s, green’s and blue’s bands from the typical, nm.', -15, 15),
  peakLuminance: number('Raw white at full control when new and warm, cd/m².', 5, 5000),
  nativeWhite: group('Chromaticity of raw white when new and warm.', {
    x: number('CIE 1931 x.', 0.2, 0.5),
    y: number('CIE 1931 y.', 0.2, 0.5),
  }).required(),
  whiteSubpixel: numberOr(
    0,
    'Share of white’s luminance that comes from a white subpixel, driven by the least of the three channels. Only for a source with one.',
    0,
    0.8,
  ),
  contrast: about(
    numberField().min(50).max(1e6).nullable().defined(),
    'Raw white ÷ raw black; null for a panel that goes dark altogether.',
  ),
  blackTint: tripleOr(
    [0.93, 0.98, 1.25],
    'Red’s, green’s and blue’s share of the light that leaks at black, 1 for as in white.',
    0,
    3,
  ),
  reflectance: numberOr(0.012, 'Share of the room’s light that the surface sends back (luminance factor).', 0, 1),
})

const control = group('The brightness control.', {
  min: numberOr(0, 'Lowest setting.', 0, 0),
  max: numberOr(100, 'Highest setting.', 10, 1000),
  factory: numberOr(80, 'Setting in which it leaves the factory.', 0, 1000),
  lowest: numberOr(0.08, 'Light at the lowest setting, as a share of full.', 0, 0.9),
  exponent: numberOr(1.12, 'Exponent of the control’s curve.', 0.5, 3),
  by: about(
    yup.string<'commands' | 'hands'>().oneOf(['commands', 'hands']).default('commands'),
    'Whether it obeys commands, or only hands at the display’s own buttons. commands unless given.',
  ),
})

const gains = group('Gains and offsets of the channels, at the display’s own buttons and by command.', {
  place: about(
    yup.string<'before' | 'after'>().oneOf(['before', 'after']).required(),
    'Whether they act on the signal before the slot’s tables, or on the drive after them.',
  ),
  max: numberOr(100, 'Highest gain; the factory’s is the highest.', 10, 1000),
})

const tone = group('Native tone of the channels: a power with an S laid over it.', {
  exponents: triple('Exponents of red, green and blue.', 1, 3.5),
  bows: tripleOr([0, 0, 0], 'Depth of the S in each: drive + bow·d·(1 − d)·(2d − 1). 0.2 is strong.', -0.4, 0.4),
})

const coupling = group('What keeps the channels from adding up.', {
  crosstalk: numberOr(
    0,
    'Share of its light that a channel at half drive loses beside dark neighbours, through the drive lines; 0.03 is 3 %.',
    0,
    0.1,
  ),
  load: numberOr(0, 'Share of its light that everything loses when all channels are full, through the supply.', 0, 0.3),
})

const surface = group('Light over the surface: a smooth field.', {
  falloff: numberOr(0.06, 'Share of light lost in the corners.', 0, 0.5),
  leanX: numberOr(0, 'Share of light more at the right edge than in the middle.', -0.2, 0.2),
  leanY: numberOr(0, 'Share of light more at the top edge than in the middle.', -0.2, 0.2),
  tint: numberOr(0, 'Share of blue lost from the bottom to the top.', -0.1, 0.1),
})

const time = group('What changes with time.', {
  warmUp: group('Light missing at switch-on, and how fast it comes: each settles exponentially.', {
    luminanceShort: numberOr(0.09, 'Share of all light.', 0, 0.5),
    luminanceMinutes: numberOr(11, 'Minutes to a third of it.', 0.5, 60),
    blueShort: numberOr(0.025, 'Share of blue besides.', 0, 0.2),
    blueMinutes: numberOr(16, 'Minutes to a third of it.', 0.5, 90),
  }),
  ageing: group('Change with hours of use.', {
    light: tripleOr([0.004, 0.004, 0.007], 'Light lost per 1,000 hours by red, green and blue, as shares.', 0, 0.3),
    tone: tripleOr([0, 0, 0], 'Rise of the exponents per 1,000 hours.', -0.02, 0.02),
  }),
  wander: group('Day-to-day change, standard deviation.', {
    luminance: numberOr(0.0015, 'Of all light, as a share.', 0, 0.03),
    blue: numberOr(0.001, 'Of blue besides, as a share.', 0, 0.03),
  }),
  tellsWarmth: about(
    yup.boolean().strict().default(true),
    'The display tells how long it has been on. true unless given.',
  ),
  delayMs: numberOr(60, 'From the signal’s change to the first change of light, ms.', 0, 2000),
  settlingMs: numberOr(8, 'Time in which the light then goes two thirds of the way, ms.', 0, 1000),
})

const brightnessLimit = group('Automatic limiting by how much of the screen is bright.', {
  meanLight: number('Mean light over the screen, as a share of full white, from which it limits.', 0.01, 1),
  exponent: numberOr(0.7, 'Light falls with (limit ÷ mean light) to this power.', 0.1, 1),
})

const signal = group('The input.', {
  bits: about(
    numberField()
      .integer()
      .oneOf([8, 10, 12] as const)
      .required(),
    'Bits per channel of the signal: 8, 10 or 12.',
  ),
  range: about(
    yup.string<SignalRange>().oneOf(['full', 'limited']).default('full'),
    'Range that the display takes its signal to have. full unless given.',
  ),
  driveBits: about(
    numberField().integer().min(8).max(16).required(),
    'Bits per channel of the drive behind the tables.',
  ),
})

const tables = group('The slots and what they hold.', {
  in: about(
    yup.string<'display' | 'card'>().oneOf(['display', 'card']).default('display'),
    'Where the tables live: in the display, or for a display without any in the workstation’s video card. display unless given.',
  ),
  slots: about(numberField().integer().min(1).max(8).required(), 'Number of slots.'),
  pipeline: about(
    pipelineShapeSchema,
    'What one slot holds: kind 1D+3x3 (before, matrixFractionBits, after), 1D+3D (grid, after), 3D (grid) or 1D (after). A table has entries and bits; a grid has size (nodes along an axis, 9–33) and bits.',
  ),
  gamut: about(
    yup.string<'any' | 'panel'>().oneOf(['any', 'panel']).default('any'),
    'panel: the firmware takes only the panel’s own gamut as the gamut of a slot. any unless given.',
  ),
  presets: about(
    yup
      .array()
      .of(yup.string().strict().max(60).nullable().defined())
      .strict()
      .max(8)
      .default(() => []),
    'Names of factory presets by slot, null for none. They can be overwritten, and come back when a slot is emptied.',
  ),
  link: about(
    yup
      .string<Link>()
      .oneOf(Object.keys(links) as Link[])
      .default('usb'),
    'Data link, which decides how long writing takes. usb unless given.',
  ),
  resetSeconds: numberOr(0, 'Seconds to reset a slot before it can be written.', 0, 1200),
  powerCycle: about(
    yup.boolean().strict().default(false),
    'A written table holds only after the display was switched off and on. false unless given.',
  ),
})

/** A panel file: everything that makes one model of display what it is. */
export const panelSchema = group('A display, described for the bench. Lengths of time are at real pace.', {
  format: about(yup.string<'bichroma-panel/1'>().oneOf(['bichroma-panel/1']).required(), 'bichroma-panel/1'),
  maker: about(nameField(), 'Maker.'),
  model: about(nameField(), 'Model.'),
  firmware: about(nameField(), 'Firmware revision.'),
  form: about(yup.string<Form>().oneOf(forms).default('desktop'), 'What stands there. desktop unless given.'),
  light: light.required(),
  control,
  gains: about(gains.nullable().default(null), 'Absent or null for a display without gains.'),
  tone: tone.required(),
  coupling,
  surface,
  time,
  brightnessLimit: about(
    brightnessLimit.nullable().default(null),
    'Absent or null for a panel that does not limit itself.',
  ),
  signal: signal.required(),
  tables: tables.required(),
})

/** A panel file with every default filled in. */
export type PanelTraits = yup.InferType<typeof panelSchema>

/** What a file of JSON says, with defaults filled in. Throws InvalidInput naming the field at fault. */
export function readPanel(value: unknown): PanelTraits {
  return panelSchema.cast(validate(panelSchema, value)) as PanelTraits
}
