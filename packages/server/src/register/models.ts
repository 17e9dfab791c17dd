import type { DataSource } from 'typeorm'
import type { ModelFacts, Share } from '@bichroma/contract'

/** Facts of a model that its displays share, as the store's columns. */
const shared = {
  panelKinds: 'panel_kind',
  slots: 'slots',
  firmware: 'firmware',
  checkEveryDays: 'check_every_days',
  limits: 'limits.name',
} as const
type Fact = keyof typeof shared
const facts = Object.keys(shared) as Fact[]

/** Displays of one model that share all facts. */
type Alike = Record<Fact, never> & {
  readonly maker: string
  readonly model: string
  readonly displays: number
  readonly from: number | null
  readonly to: number | null
}

const keyOf = (of: { readonly maker: string; readonly model: string }) => `${of.maker}\n${of.model}`

/** Values of a fact among displays, the most frequent first. */
function sharesOf(alike: readonly Alike[], fact: Fact): Share<never>[] {
  const displays = new Map<never, number>()
  for (const of of alike) displays.set(of[fact], (displays.get(of[fact]) ?? 0) + of.displays)
  return [...displays]
    .map(([value, count]) => ({ value, displays: count }))
    .sort((a, b) => b.displays - a.displays || (a.value < b.value ? -1 : 1))
}

/** What is known of each model, the most frequent first; each fact's most frequent value first. */
export async function modelFacts(data: DataSource): Promise<ModelFacts[]> {
  // Looked through once: of a fleet, that is what takes the time.
  const all = await data.query<Alike[]>(
    `SELECT maker, model, ${facts.map((fact) => `${shared[fact]} AS ${fact}`).join(', ')},
       COUNT(*) AS displays, MIN(delay_ms) AS "from", MAX(delay_ms) AS "to"
     FROM display JOIN limits ON limits.id = limits_id WHERE kept = 'in use'
     GROUP BY maker, model, panel_kind, slots, firmware, check_every_days, limits_id`,
  )
  const byModel = new Map<string, Alike[]>()
  for (const alike of all) {
    const of = byModel.get(keyOf(alike))
    if (of) of.push(alike)
    else byModel.set(keyOf(alike), [alike])
  }
  type Correction = ModelFacts['corrections'][number] & { maker: string; model: string }
  const corrections = await data.query<Correction[]>(
    `SELECT display.maker AS maker, display.model AS model, instrument.model || ' ' || instrument.serial AS instrument,
       display.name AS displayName, MAX(made_at) AS madeAt, residual
     FROM correction JOIN display ON display.id = display_id JOIN instrument ON instrument.id = instrument_id
     GROUP BY display.maker, display.model, instrument_id ORDER BY madeAt DESC`,
  )
  const models = [...byModel].map(([key, alike]) => {
    const delays = alike.flatMap(({ from, to }) => (from === null || to === null ? [] : [from, to]))
    return {
      maker: alike[0].maker,
      model: alike[0].model,
      displays: alike.reduce((sum, of) => sum + of.displays, 0),
      panelKinds: sharesOf(alike, 'panelKinds'),
      slots: sharesOf(alike, 'slots'),
      firmware: sharesOf(alike, 'firmware'),
      checkEveryDays: sharesOf(alike, 'checkEveryDays'),
      limits: sharesOf(alike, 'limits'),
      delayMs: delays.length
        ? { from: delays.reduce((a, b) => Math.min(a, b)), to: delays.reduce((a, b) => Math.max(a, b)) }
        : null,
      corrections: corrections
        .filter((c) => keyOf(c) === key)
        .map(({ instrument, displayName, madeAt, residual }) => ({ instrument, displayName, madeAt, residual })),
    }
  })
  return models.sort((a, b) => b.displays - a.displays || (keyOf(a) < keyOf(b) ? -1 : 1))
}
