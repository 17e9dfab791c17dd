import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import {
  forecastAsOf,
  forecastOrder,
  formatSigned,
  instrumentStandings,
  type InstrumentShift,
  type InstrumentStanding,
} from '@bichroma/core'
import type { FleetDrift, FleetGroup, Grouping, InstrumentReading, SlotOutlook } from '@bichroma/contract'
import { limitsEntity } from '../aims/entities'
import { displayEntity, instrumentEntity, roomEntity, workstationEntity } from '../register/entities'
import { slotDriftEntity, type Foretold, type SlotDriftRow } from './entities'
import { foretell } from './history'

const day = 86_400_000
/** Slots that will leave their limits within so many days count as soon. */
const soonDays = 60

/** What lists need; the trends themselves stay in the store. */
const listed = {
  id: true,
  displayId: true,
  slot: true,
  label: true,
  firstAt: true,
  at: true,
  validations: true,
  verdict: true,
  instrumentId: true,
  averageDeltaE: true,
  worstDeltaE: true,
  luminanceOff: true,
  whiteDeltaUv: true,
  shifts: true,
  foretold: true,
  limitsId: true,
  limitsUpdatedAt: true,
} as const

/** Forecasts by limits that have changed since are made anew, and kept. */
async function foretoldByNow(
  data: DataSource,
  rows: SlotDriftRow[],
  now: number,
): Promise<Map<number, Foretold | null>> {
  const limits = new Map((await data.getRepository(limitsEntity).find()).map((l) => [l.id, l]))
  const limitsIds = new Map(
    (await data.getRepository(displayEntity).find({ select: { id: true, limitsId: true } })).map((d) => [
      d.id,
      d.limitsId,
    ]),
  )
  const stale = rows.filter((r) => {
    const current = limits.get(limitsIds.get(r.displayId)!)!
    return current.id !== r.limitsId || current.updatedAt !== r.limitsUpdatedAt
  })
  const kept = data.getRepository(slotDriftEntity)
  const found = new Map(rows.map((r) => [r.id, r.foretold]))
  for (const { id, drift, displayId } of stale.length ? await kept.findBy({ id: In(stale.map((r) => r.id)) }) : []) {
    const current = limits.get(limitsIds.get(displayId)!)!
    const foretold = foretell(drift, current.limits, now)
    await kept.update({ id }, { foretold, limitsId: current.id, limitsUpdatedAt: current.updatedAt } as never)
    found.set(id, foretold)
  }
  return found
}

/** The fleet by what its histories foretell; the soonest to leave its limits first. */
export async function fleetDrift(data: DataSource, now: number): Promise<FleetDrift> {
  const rows = (await data.getRepository(slotDriftEntity).find({ select: listed })) as SlotDriftRow[]
  const foretold = await foretoldByNow(data, rows, now)
  const rooms = new Map((await data.getRepository(roomEntity).find()).map((r) => [r.id, r.name]))
  const roomOf = new Map(
    (await data.getRepository(workstationEntity).find({ select: { id: true, roomId: true } })).map((w) => [
      w.id,
      rooms.get(w.roomId)!,
    ]),
  )
  const displays = new Map(
    (
      await data
        .getRepository(displayEntity)
        .find({ select: { id: true, name: true, maker: true, model: true, workstationId: true } })
    ).map((d) => [d.id, d]),
  )
  const instruments = new Map((await data.getRepository(instrumentEntity).find()).map((i) => [i.id, nameOf(i)]))
  const slots = rows
    .map((r): SlotOutlook => {
      const display = displays.get(r.displayId)!
      const made = foretold.get(r.id) ?? null
      return {
        displayId: r.displayId,
        displayName: display.name,
        slot: r.slot,
        label: r.label,
        room: roomOf.get(display.workstationId)!,
        model: `${display.maker} ${display.model}`,
        firstAt: r.firstAt,
        at: r.at,
        validations: r.validations,
        verdict: r.verdict,
        instrument: instruments.get(r.instrumentId)!,
        averageDeltaE: r.averageDeltaE,
        worstDeltaE: r.worstDeltaE,
        luminanceOff: r.luminanceOff,
        whiteDeltaUv: r.whiteDeltaUv,
        rule: made?.rule ?? null,
        forecast: made && forecastAsOf(made.forecast, now),
      }
    })
    .sort((a, b) => order(a) - order(b))
  return {
    slots,
    groups: {
      model: groupsBy(slots, now, (s) => s.model),
      age: groupsBy(slots, now, (s) => ageOf(now - s.firstAt)),
      room: groupsBy(slots, now, (s) => s.room),
      instrument: groupsBy(slots, now, (s) => s.instrument),
    } satisfies Record<Grouping, FleetGroup[]>,
    instruments: standingsOf(
      rows.flatMap((r) => r.shifts),
      instruments,
    ),
  }
}

/** An instrument as people call it. */
export const nameOf = (i: { kind: string; model: string; serial: string }): string =>
  i.kind === 'elsewhere' ? i.model : `${i.model} ${i.serial}`

const order = (s: SlotOutlook) => (s.forecast ? forecastOrder(s.forecast) : Infinity)

/** How long a slot has been followed, in bands. */
function ageOf(ms: number): string {
  const months = ms / (30.44 * day)
  if (months < 6) return 'under 6 months'
  if (months < 12) return '6 to 12 months'
  if (months < 24) return '1 to 2 years'
  return 'over 2 years'
}

const quantile = (sorted: readonly number[], share: number) => {
  const at = share * (sorted.length - 1)
  const low = Math.floor(at)
  return sorted[low] + (sorted[Math.min(sorted.length - 1, low + 1)] - sorted[low]) * (at - low)
}

function groupsBy(slots: readonly SlotOutlook[], now: number, of: (slot: SlotOutlook) => string): FleetGroup[] {
  const groups = new Map<string, SlotOutlook[]>()
  for (const slot of slots) {
    const name = of(slot)
    const known = groups.get(name)
    if (known) known.push(slot)
    else groups.set(name, [slot])
  }
  return [...groups]
    .map(([name, own]): FleetGroup => {
      const sorted = own.map((s) => s.averageDeltaE).sort((a, b) => a - b)
      return {
        name,
        slots: own.length,
        least: sorted[0],
        quarter: quantile(sorted, 0.25),
        median: quantile(sorted, 0.5),
        threeQuarters: quantile(sorted, 0.75),
        most: sorted[sorted.length - 1],
        outside: own.filter((s) => s.verdict === 'outside').length,
        soon: own.filter(
          ({ forecast: f }) => f?.kind === 'past' || (f?.kind === 'crosses' && f.at < now + soonDays * day),
        ).length,
      }
    })
    .sort((a, b) => b.median - a.median)
}

function standingsOf(shifts: readonly InstrumentShift[], names: ReadonlyMap<number, string>): InstrumentReading[] {
  return instrumentStandings(shifts).map(({ errors, ...standing }) => {
    const name = names.get(standing.instrumentId) ?? 'an instrument'
    return { ...standing, name, sentence: evidenceOf(name, { ...standing, errors }) }
  })
}

function evidenceOf(name: string, s: InstrumentStanding): string {
  const figure = (word: string, value: number, error: number) =>
    `${word} ${formatSigned(value, 1)} ± ${error.toFixed(1)} %`
  const figures = [
    figure('luminance', s.luminance, s.errors.luminance),
    figure('X', s.x, s.errors.x),
    figure('Z', s.z, s.errors.z),
  ].join(', ')
  const basis = `on ${s.slots} ${s.slots === 1 ? 'slot' : 'slots'} that others read too (${s.readings} validations)`
  return s.stands
    ? `${name} reads differently from the others: ${figures} beside the trends ${basis}. Have it compared with a reference before its verdicts are trusted.`
    : `${name} reads like the others: ${figures} ${basis}.`
}
