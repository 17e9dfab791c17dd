import type { DataSource } from 'typeorm'
import { LooseStore } from '../test/looseStore'
import { logFault } from '../data/log'
import { keptSetting } from '../studio/entities'
import { studioSettings } from '../studio/settings'
import { atomically } from '../data/atomically'
import { RolloutSchedule } from './schedule'

jest.mock('../data/log', () => ({ ...jest.requireActual('../data/log'), logFault: jest.fn() }))

let store: LooseStore
let data: DataSource
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  jest.mocked(logFault).mockClear()
})
afterEach(async () => {
  await store.close()
})

/** A schedule at a clock by day and hour of the machine; tells in turn what it asked for. */
function scheduled(asks: Partial<Record<'wanted' | 'gathered' | 'waves' | 'around', () => Promise<unknown>>> = {}) {
  let at = 0
  const told: string[] = []
  const asked =
    (what: keyof typeof asks) =>
    async (more: unknown = '') => {
      told.push(`${what} ${String(more)}`.trim())
      await asks[what]?.()
    }
  const schedule = new RolloutSchedule({
    data,
    now: () => at,
    wanted: { catchUp: asked('wanted') } as never,
    waves: { look: asked('waves'), sendGathered: asked('gathered') } as never,
    rollout: { lookAround: asked('around') } as never,
  })
  return {
    told,
    schedule,
    /** What one look at a day of November 2026 and a time asked for. */
    lookAt: async (day: number, hours: number, minutes = 0) => {
      at = new Date(2026, 10, day, hours, minutes).getTime()
      told.length = 0
      await schedule.look()
      return [...told]
    },
  }
}
const usual = ['wanted', 'waves', 'around 1800000']
const morningOf = (day: number) => ['wanted', `gathered Fresh profiles, ${day} Nov 2026`, 'waves', 'around 1800000']

test('what was gathered goes once, when the night is over; who starts in the day sends what was left', async () => {
  // A night from 21:00 to 06:00, unless the studio says otherwise.
  const { lookAt } = scheduled()
  expect(await lookAt(24, 12)).toEqual(morningOf(24))
  expect(await lookAt(24, 12, 1)).toEqual(usual)
  expect(await lookAt(24, 21)).toEqual(usual)
  expect(await lookAt(25, 5, 59)).toEqual(usual)
  expect(await lookAt(25, 6)).toEqual(morningOf(25))
  expect(await lookAt(25, 6, 1)).toEqual(usual)
})

test('who starts in the night waits for the morning', async () => {
  const { lookAt } = scheduled()
  expect(await lookAt(24, 23)).toEqual(usual)
  expect(await lookAt(25, 7)).toEqual(morningOf(25))
})

test('a night through which nobody looked has its morning too; one that is missed waits for the next', async () => {
  const { lookAt } = scheduled()
  await lookAt(24, 12)
  expect(await lookAt(25, 11)).toEqual(morningOf(25))
  expect(await lookAt(25, 20, 59)).toEqual(usual)
  // Asleep over the whole of the day.
  expect(await lookAt(26, 22)).toEqual(usual)
  expect(await lookAt(27, 8)).toEqual(morningOf(27))
})

test('a night without an end has a morning each day all the same', async () => {
  const settings = await studioSettings(data)
  const night = { ...settings.night, from: '07:30', to: '07:30' }
  atomically(data, (take) => take(keptSetting('studio', { ...settings, night })))
  const { lookAt } = scheduled()
  await lookAt(24, 12)
  expect(await lookAt(25, 7, 29)).toEqual(usual)
  expect(await lookAt(25, 7, 30)).toEqual(morningOf(25))
  expect(await lookAt(25, 23)).toEqual(usual)
})

test('what could not be sent is sent with the next look, and keeps nothing else from its turn', async () => {
  let full = true
  const { lookAt } = scheduled({ gathered: () => (full ? Promise.reject(new Error('full')) : Promise.resolve()) })
  expect(await lookAt(24, 12)).toEqual(morningOf(24))
  expect(logFault).toHaveBeenCalledTimes(1)
  full = false
  expect(await lookAt(24, 12, 1)).toEqual(morningOf(24))
  expect(await lookAt(24, 12, 2)).toEqual(usual)
})

test('a look while another lasts is none; one that fails is told and does not keep the next from looking', async () => {
  let go = () => {}
  const { schedule, lookAt, told } = scheduled({ wanted: () => new Promise<void>((resolve) => (go = resolve)) })
  const first = lookAt(24, 12)
  await schedule.look()
  expect(told).toEqual(['wanted'])
  go()
  expect(await first).toEqual(morningOf(24))
  const torn = scheduled({ waves: () => Promise.reject(new Error('torn')) })
  expect((await torn.lookAt(24, 12)).at(-1)).toBe('waves')
  expect(logFault).toHaveBeenCalledWith('Rollout looked around', expect.objectContaining({ message: 'torn' }))
  expect((await torn.lookAt(24, 13)).at(-1)).toBe('waves')
})
