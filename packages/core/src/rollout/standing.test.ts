import { mendOf, mends, placementStates, standingOf, type Agreed, type Found } from './standing'

const ours = 'a'
const agreeds: Agreed[] = (['queued', 'sent', 'withdrawn'] as const).flatMap((progress) =>
  [true, false].flatMap((read) =>
    [ours, null].flatMap((hash) => [1, null].map((slot) => ({ progress, read, hash, slot }))),
  ),
)
const founds: (Found | null)[] = [
  null,
  ...['/x/ours.icc', null].flatMap((path) =>
    [ours, 'b', null].flatMap((hash) =>
      (['sign-out', null] as const).map((waitsFor) => ({ path, hash: path === null ? null : hash, waitsFor })),
    ),
  ),
]

test('nothing is claimed in force that was not read back, since it was sent, with the bytes that were agreed to', () => {
  const seen = new Set<string>()
  for (const agreed of agreeds)
    for (const found of founds)
      for (const shown of [1, 2]) {
        const state = standingOf(agreed, found, shown)
        seen.add(state)
        if (state === 'in force' || state === 'out of step') {
          expect([agreed.progress, agreed.read]).toEqual(['sent', true])
          expect(found).toMatchObject({ hash: agreed.hash, waitsFor: null })
        }
        if (state === 'in force' && agreed.slot !== null) expect(agreed.slot).toBe(shown)
        if (state === 'waiting') expect(found!.waitsFor).not.toBeNull()
        if (state === 'missing') expect(found!.hash).toBeNull()
        if (state === 'overridden') expect(found!.hash ?? found!.path).not.toBe(agreed.hash)
        if (agreed.progress === 'queued') expect(state).toBe('queued')
      }
  expect([...seen].sort()).toEqual([...placementStates].sort())
})

test('what was taken away is as agreed when nothing is bound', () => {
  const none: Agreed = { progress: 'sent', read: true, hash: null, slot: null }
  expect(standingOf(none, { path: null, hash: null, waitsFor: null }, 1)).toBe('in force')
  expect(standingOf(none, { path: '/x', hash: 'b', waitsFor: null }, 1)).toBe('overridden')
})

test('half of what is to be there is missing too; what is of no slot is in step with every one', () => {
  const agreed: Agreed = { progress: 'sent', read: true, hash: ours, slot: null }
  expect(standingOf(agreed, { path: null, hash: ours, waitsFor: null }, 1)).toBe('missing')
  expect(standingOf(agreed, { path: '/x', hash: null, waitsFor: null }, 1)).toBe('missing')
  for (const shown of [1, 2])
    expect(standingOf(agreed, { path: '/x', hash: ours, waitsFor: null }, shown)).toBe('in force')
})

const nothing = {
  state: 'in force' as const,
  differs: false,
  lacksProfile: false,
  waitsFor: null,
  fault: null,
  courierOnline: true,
  inWave: false,
}

test('what is as wanted needs nothing; every difference is mended by something', () => {
  expect(mendOf(nothing)).toBeNull()
  expect(mendOf({ ...nothing, inWave: true })).toBeNull()
  const seen = new Set<string>()
  for (const state of [...placementStates.filter((s) => s !== 'withdrawn'), null])
    for (const differs of [true, false])
      for (const lacksProfile of [true, false])
        for (const fault of [null, 'privilege', 'disk-full', 'no-display', 'content'])
          for (const courierOnline of [true, false])
            for (const inWave of [true, false])
              for (const waitsFor of ['sign-out', 'restart', null] as const) {
                const mend = mendOf({ state, differs, lacksProfile, fault, courierOnline, inWave, waitsFor })
                if (mend) seen.add(mend)
                if (differs || (state !== null && state !== 'in force')) expect(mend).not.toBeNull()
              }
  expect([...seen].sort()).toEqual([...mends].sort())
})

test.each([
  [{ state: 'queued', courierOnline: false, fault: 'privilege' }, 'courier'],
  [{ state: 'queued', fault: 'privilege' }, 'right'],
  [{ state: 'queued', fault: 'disk-full' }, 'room'],
  [{ state: 'queued', fault: 'no-display' }, 'cable'],
  [{ state: 'queued' }, 'moment'],
  [{ state: 'waiting', waitsFor: 'restart' }, 'restart'],
  [{ state: 'waiting', waitsFor: 'sign-out' }, 'sign-out'],
  [{ state: 'overridden' }, 'decision'],
  [{ differs: true, inWave: true }, 'wave'],
  [{ state: null, lacksProfile: true }, 'run'],
] as const)('%j is mended by %s', (facts, mend) => {
  expect(mendOf({ ...nothing, ...facts })).toBe(mend)
})
