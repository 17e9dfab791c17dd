import { uniformFrom } from '@bichroma/core/basics'
import type { Problem } from '@bichroma/contract'
import { demoLimits } from '../scripts/demoStudio'
import { Studio } from './studio'

// Readings from elsewhere of displays that nobody ever saw: whatever of them is taken in, every page that tells of it
// still stands, and says what the API's description promises.

const day = 86_400_000
let studio: Studio
beforeEach(async () => {
  studio = await Studio.proven()
})
afterEach(() => studio.close())

/** Files of readings at random: light from a thousandth of a candela to a hundred thousand, channels that are dead or alike. */
function strangeFile(random: () => number): string {
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]
  const light = 10 ** (random() * 8 - 3)
  const channels = [0, 1, 2].map(() => [0, 1, 2].map(() => pick([0, 1e-6, 0.3, 0.3, 0.3, 1, 1, 1, 40]) * random()))
  const black = pick([0, 0, 1e-9, 0.001, 0.2, 0.9])
  const exponent = pick([0.01, 1, 2.2, 2.2, 2.2, 30])
  const signals = [
    [1, 1, 1],
    [0, 0, 0],
    ...[0.1, 0.5, 0.9].map((v) => [v, v, v]),
    ...(random() < 0.7 ? [1, 2, 4].map((bits) => [bits & 1, (bits >> 1) & 1, bits >> 2]) : []),
  ]
  const rows = signals.map((rgb) => {
    const xyz = [0, 1, 2].map(
      (c) => light * (black + rgb.reduce((sum, v, i) => sum + channels[i][c] * v ** exponent, 0)),
    )
    return [...rgb, ...xyz].join()
  })
  return ['RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z', ...rows].join('\n')
}

test.each([1, 2, 3])(
  'of %i: what tells of them stands, however wild and however close together @long',
  async (seed) => {
    const random = uniformFrom(seed)
    const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]
    const path = `/displays/${studio.displayId}`
    const taken: number[] = []
    const stands = async () => {
      const { status, detail } = await studio.admin
        .raw('GET', '/drift')
        .then(async (r) => ({ status: r.status, detail: r.ok ? '' : ((await r.json()) as Problem).detail }))
      expect([status, detail]).toEqual([200, ''])
      for (const at of [
        ...[
          '/displays',
          path,
          `${path}/outlook`,
          '/floor',
          '/needs',
          '/drift/slots',
          '/kept',
          '/pulse',
          '/runs',
          '/models',
        ],
        ...[1, 2, 3].map((slot) => `/drift/${studio.displayId}?slot=${slot}`),
        ...taken.slice(-1).flatMap((id) => [`/runs/${id}`, `/runs/${id}/review`, `/runs/${id}/report?as=csv`]),
      ])
        expect([at, (await studio.admin.raw('GET', at)).status]).toEqual([at, 200])
    }
    for (let i = 0; i < 40; i++) {
      const ago = pick([0, 1, 2, 1000, 60_000, day, 30 * day, 300 * day]) * random()
      const response = await studio.admin.raw('POST', `${path}/validations`, {
        slot: 1 + Math.floor(random() * 3),
        aimId: pick(Object.values(studio.aimIds)),
        fileName: 'strange.csv',
        text: strangeFile(random),
        readAt: Math.floor(studio.clock.now() - ago),
        instrument: pick(['Old puck', 'Older puck']),
      })
      const answer = (await response.json()) as { id: number } & Problem
      // Light of no display at all is refused in a sentence.
      expect([200, 201, 400]).toContain(response.status)
      if (response.status === 400) expect(answer.detail).toMatch(/^strange\.csv/)
      else taken.push(answer.id)
      await stands()
    }
    expect(taken.length).toBeGreaterThan(8)
    // By limits that look at everything, and months later.
    const { name } = (await studio.admin.get<{ id: number; name: string }[]>('/limits')).find(
      (l) => l.id === studio.ids.limits,
    )!
    await studio.admin.put(`/limits/${studio.ids.limits}`, { name, limits: demoLimits.Everyday })
    studio.clock.jumpTo(studio.clock.now() + 200 * day)
    studio.admin = await studio.as('administrator')
    await stands()
    for (const as of ['html', 'pdf', 'csv', 'cgats'])
      for (const id of taken.slice(-4))
        expect([as, (await studio.admin.raw('GET', `/runs/${id}/report?as=${as}`)).status]).toEqual([as, 200])
    for (const as of ['html', 'pdf', 'csv'])
      expect([as, (await studio.admin.raw('GET', `/reports/fleet?as=${as}`)).status]).toEqual([as, 200])
    await studio.close()
  },
)
