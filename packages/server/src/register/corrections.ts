import type { DataSource } from 'typeorm'
import { add, scale, type Matrix3, type Triple, type XYZ } from '@bichroma/core/color'
import {
  correctionFrom,
  correctionResidual,
  type FourColors,
  type FourLights,
  type ReadTwice,
} from '@bichroma/core/register'
import { black, greyPatch, primariesAndSecondaries, white, type Patch } from '@bichroma/core/runs'
import {
  correctionListSchema,
  makeCorrectionSchema,
  validate,
  type Correction,
  type MadeCorrection,
  type Page,
} from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { orRefusal } from '../couriers/orRefusal'
import { insertion } from '../data/atomically'
import type { Ledger } from '../ledger/ledger'
import { holds, pageOf } from '../data/pageOf'
import { queryOf } from '../http/query'
import { Refusal } from '../http/problem'
import type { Api } from '../http/api'
import type { Holds } from './holds'
import { findDelay, FollowsTooLate } from './lightDelay'
import { correctionEntity, displayEntity, instrumentEntity, type DisplayRow, type InstrumentRow } from './entities'

/**
 * What a run does to its instrument's readings: the newest correction made with it on this display, else on a display of
 * the same model, else the one that it holds for the kind of panel. A spectroradiometer needs none.
 */
export async function chooseCorrection(
  data: DataSource,
  display: DisplayRow,
  instrument: InstrumentRow,
  hub: CourierHub,
): Promise<Correction> {
  if (instrument.kind === 'spectroradiometer') return { kind: 'none' }
  const [best] = await data.query<{ id: number; displayName: string }[]>(
    `SELECT correction.id AS id, name AS displayName FROM correction JOIN display ON display.id = display_id
     WHERE instrument_id = ? AND maker = ? AND model = ? AND panel_kind = ?
     ORDER BY display_id = ? DESC, made_at DESC LIMIT 1`,
    [instrument.id, display.maker, display.model, display.panelKind, display.id],
  )
  if (best) {
    const { id, madeAt, residual, matrix, lights, offset } = await data
      .getRepository(correctionEntity)
      .findOneByOrFail({ id: best.id })
    return {
      kind: 'made',
      id,
      madeAt,
      residual,
      matrix,
      ...(lights && { lights }),
      ...(offset && { offset }),
      displayName: best.displayName,
    }
  }
  const held = hub.helloOf(display.workstationId)?.instruments.find((i) => i.serial === instrument.serial)
  return held?.corrections.includes(display.panelKind)
    ? { kind: 'own', panelKind: display.panelKind }
    : { kind: 'none' }
}

/** Wait for the light of a patch to follow besides the display's delay, ms: a correction is a handful of readings. */
const spareMs = 200
/** Share of the screen that a patch fills: small, for a display that limits its light would else dim its white alone. */
const area = 0.025
/** Looks at a colour, averaged: what noise does to a correction it does to every reading that is made with it. */
const looks = { white: 6, primary: 3, black: 4 }
const [red, green, blue, ...secondaries] = primariesAndSecondaries
/** Colours that tell what a correction leaves: none that it is made from. */
const told: readonly Patch[] = [...secondaries, greyPatch(0.5)]

/** Routes of corrections: made on a display by reading its white and primaries with both instruments. */
export function correctionRoutes(
  api: Api,
  data: DataSource,
  hub: CourierHub,
  held: Holds,
  ledger: Ledger,
  now: () => number,
  changed: () => void,
): void {
  api.on('GET /corrections', (request): Promise<Page<MadeCorrection>> => {
    const asked = queryOf(request, correctionListSchema)
    return pageOf(data, asked, {
      columns: `correction.id AS id, display_id AS displayId, display.name AS displayName, maker, model,
        instrument_id AS instrumentId, reference_id AS referenceId, made_at AS madeAt, residual`,
      from: 'correction JOIN display ON display.id = display_id',
      where: [
        holds(`display.name || ' ' || maker || ' ' || model`, asked.search),
        asked.display !== undefined && { sql: 'display_id = ?', parameters: [Number(asked.display)] },
      ],
      by: 'made_at',
      down: true,
      id: 'correction.id',
    })
  })

  api.on('POST /corrections', async (request, response) => {
    const input = validate(makeCorrectionSchema, request.body)
    const display = await data.getRepository(displayEntity).findOneBy({ id: input.displayId })
    if (!display) throw new Refusal('not-found', 'This display is not in the register.', 'displayId')
    const find = async (id: number, kind: InstrumentRow['kind'], field: string) => {
      const found = await data.getRepository(instrumentEntity).findOneBy({ id })
      if (!found) throw new Refusal('not-found', 'This instrument is not in the register.', field)
      if (found.kind !== kind)
        throw new Refusal(
          'invalid-input',
          `“${field}” must be a ${kind}; ${found.model} ${found.serial} is none.`,
          field,
        )
      return found
    }
    const colorimeter = await find(input.instrumentId, 'colorimeter', 'instrumentId')
    const reference = await find(input.referenceId, 'spectroradiometer', 'referenceId')
    const using = { displayId: display.id, instrumentIds: [colorimeter.id, reference.id] }
    const inRun = { sentence: 'The display or one of the instruments is in a run. Wait for it, or stop it first.' }
    const { residual, ...correction } = await held.besideRuns(using, inRun, async () =>
      solve(await measure(hub, display, colorimeter, reference)),
    )
    const row = { ...input, madeAt: now(), accountId: request.account.id, ...correction, residual }
    const id = ledger.change(
      request.account,
      (take) => take(insertion(data.manager, correctionEntity, row)),
      (id) => ({
        act: 'made',
        thing: 'correction',
        id,
        name: `${colorimeter.model} ${colorimeter.serial} on ${display.name}`,
        evidence: {
          display: display.id,
          instrument: `${colorimeter.model} ${colorimeter.serial}`,
          reference: `${reference.model} ${reference.serial}`,
          residual,
        },
      }),
    )
    changed()
    response.status(201)
    return { id, residual }
  })
}

/**
 * What a correction may leave on colours that it was not made from, Δu′v′: several times what it leaves with both
 * instruments in place, and enough for a display with a white subpixel, whose four lights one matrix cannot tell apart.
 */
const mostResidual = 0.01

/** The correction that readings make, and what it leaves. Throws Refusal for readings that make none. */
function solve(sent: Awaited<ReturnType<typeof measure>>): {
  matrix: Matrix3
  lights: FourLights | null
  offset: XYZ | null
  residual: number
} {
  const nonsense = new Refusal(
    'conflict',
    'The readings do not make a display. See that both instruments lie on it with their covers open, and try again.',
  )
  try {
    const correction = correctionFrom(sent.reference, sent.measured, sent.black)
    const residual = correctionResidual(correction, sent.told)
    if (
      ![...correction.matrix.flat(), ...(correction.offset ?? [])].every(Number.isFinite) ||
      !Number.isFinite(residual)
    )
      throw nonsense
    if (residual > mostResidual)
      throw new Refusal(
        'conflict',
        `This correction would leave ${residual.toFixed(4)} Δu′v′ on colours that it was not made from; ${mostResidual} is the most that is taken. See that both instruments lie flat on the same place with their covers open, and try again.`,
      )
    return { ...correction, residual }
  } catch (error) {
    if (error instanceof RangeError) throw nonsense
    throw error
  }
}

/** Reads white, primaries and black, and colours to judge by, with both instruments, tables bypassed. Throws Refusal with what is in the way. */
async function measure(hub: CourierHub, display: DisplayRow, colorimeter: InstrumentRow, reference: InstrumentRow) {
  const send = async <T>(work: () => Promise<{ value: T }>) =>
    (await orRefusal('The courier of the display’s workstation is away. Start it, then try again.', work)).value
  const { workstationId, serial } = display
  const zero = (i: InstrumentRow) => send(() => hub.send(workstationId, 'instrument.zero', { serial: i.serial }))
  const look = async (i: InstrumentRow): Promise<XYZ> => {
    const { xyz, flags } = await send(() =>
      hub.send(workstationId, 'instrument.read', { serial: i.serial, display: serial }),
    )
    if (flags.includes('cover'))
      throw new Refusal('conflict', `The cover of ${i.model} ${i.serial} is closed. Open it, then try again.`)
    return xyz
  }
  /** Before anything else is read: how long its light takes to follow. */
  const delayOf = () =>
    findDelay({
      show: (v, waitMs) =>
        send(() => hub.send(workstationId, 'display.showPatch', { serial, rgb: [v, v, v], area, waitMs })),
      read: async () => {
        const { xyz, integrationMs } = await send(() =>
          hub.send(workstationId, 'instrument.read', { serial: colorimeter.serial, display: serial }),
        )
        return { xyz, ms: integrationMs }
      },
    }).catch((error: unknown) => {
      throw error instanceof FollowsTooLate ? new Refusal('conflict', error.message) : error
    })
  const { pipeline } = await send(() => hub.send(workstationId, 'display.getControls', { serial }))
  await zero(colorimeter)
  await zero(reference)
  try {
    await send(() => hub.send(workstationId, 'display.setControls', { serial, pipeline: 'bypass' }))
    const waitMs = spareMs + (await delayOf())
    const often = async (i: InstrumentRow, times: number) => {
      let sum: XYZ = [0, 0, 0]
      for (let n = 0; n < times; n++) sum = add(sum, await look(i))
      return scale(sum, 1 / times)
    }
    const both = async (rgb: Triple, times = 1): Promise<ReadTwice> => {
      await send(() => hub.send(workstationId, 'display.showPatch', { serial, rgb: [...rgb], area, waitMs }))
      return { measured: await often(colorimeter, times), reference: await often(reference, times) }
    }
    const colors = {
      white: await both(white.rgb, looks.white),
      red: await both(red.rgb, looks.primary),
      green: await both(green.rgb, looks.primary),
      blue: await both(blue.rgb, looks.primary),
    }
    const of = (which: 'measured' | 'reference'): FourColors => ({
      white: colors.white[which],
      red: colors.red[which],
      green: colors.green[which],
      blue: colors.blue[which],
    })
    const dark = await both(black.rgb, looks.black)
    const left: ReadTwice[] = []
    for (const { rgb } of told) left.push(await both(rgb))
    return { measured: of('measured'), reference: of('reference'), black: dark, told: left }
  } finally {
    await hub.send(workstationId, 'display.setControls', { serial, pipeline }).catch(() => null)
  }
}
