/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { convertChromaticityToXyz, matrixOfPrimaries, standardPrimaries, standardWhites } from '@bichroma/core/color'
import { writeMatrixProfile } from '@bichroma/core/profiles'
import { showAt } from '../parts/showInApp'
import { layOut } from '../test/layOut'
import { ProfileInspector } from './ProfileInspector'

const video = Float64Array.from({ length: 256 }, (_, i) => (i / 255) ** 1.1)
const white = convertChromaticityToXyz(standardWhites.D65, 120)
/** A profile of a display with sRGB's primaries or wider ones. */
const profile = (name: string, { wide = false, carries = false } = {}) =>
  writeMatrixProfile(
    {
      matrix: matrixOfPrimaries(standardPrimaries[wide ? 'Display P3' : 'sRGB'], white),
      white,
      curves: [0, 1, 2].map(() => (v: number) => v ** 2.2),
    } as never,
    {
      description: name,
      copyright: 'Fen & Lantern',
      createdAt: Date.UTC(2026, 10, 24),
      version: 4,
      ...(carries && { videoCurves: [video, video, video] }),
    },
  )
const file = (name: string, bytes: Uint8Array) =>
  ({ name, arrayBuffer: async () => bytes.slice().buffer }) as unknown as File

const begin = (at = '/review/profiles', answer?: { ok: boolean; bytes?: Uint8Array }) => {
  const asked: string[] = []
  globalThis.fetch = (async (path: string) => {
    asked.push(path)
    if (!answer) throw new Error('Failed to fetch')
    return {
      ok: answer.ok,
      arrayBuffer: async () => answer.bytes!.slice().buffer,
      json: async () => ({ detail: 'Run 6 filed no profile.' }),
    }
  }) as never
  showAt('/review/profiles', <ProfileInspector />, at)
  return asked
}
const drop = (...files: File[]) =>
  fireEvent.drop(screen.getByText(/Drop an .icc file here/).closest('div[class], body > div > div')!, {
    dataTransfer: { files },
  })
const row = (name: string) => {
  const found = screen.getByRole('cell', { name }).closest('tr')!
  return {
    values: within(found)
      .getAllByRole('cell')
      .slice(1)
      .map((c) => c.textContent),
    differs: found.className,
  }
}
beforeAll(() => layOut(30))
afterEach(cleanup)

test('a profile that is dropped is told whole: its header, its tags, its curves @long', async () => {
  begin()
  expect(screen.getByText('No profile is open yet.')).toBeTruthy()
  const bytes = profile('Sedge 2, Atlas web')
  drop(file('sedge-2.icc', bytes))
  expect(await screen.findByRole('heading', { name: /^sedge-2\.icc/ })).toBeTruthy()
  expect(row('Name inside').values).toEqual(['Sedge 2, Atlas web'])
  expect(row('Size').values).toEqual([`${bytes.length.toLocaleString('en')} bytes`])
  expect(row('Kind').values).toEqual(['matrix and curves'])
  expect(row('ICC version').values[0]).toMatch(/^4\./)
  expect(row('Its white, xy').values).toEqual(['0.3127 0.3290'])
  for (const tag of ['rXYZ', 'gTRC', 'wtpt', 'chad']) expect(row(tag).values[0]).not.toContain('broken')
})

test('two beside each other: rows in which they differ are marked, no others; the wider reaches more @long', async () => {
  begin()
  drop(
    file('one.icc', profile('One')),
    file('wide.icc', profile('Wide', { wide: true })),
    file('third.icc', profile('3')),
  )
  expect(await screen.findByRole('heading', { name: /^wide\.icc/ })).toBeTruthy()
  expect(screen.queryByText(/third\.icc/)).toBeNull()
  expect(row('Name inside')).toEqual({ values: ['One', 'Wide'], differs: 'differs' })
  for (const same of ['Kind', 'Its white, xy', 'Made', 'wtpt', 'rTRC'])
    expect([same, row(same).differs]).toEqual([same, ''])
  for (const other of ['ID', 'rXYZ', 'Gamut volume']) expect([other, row(other).differs]).toEqual([other, 'differs'])
  const [narrow, wide] = row('Gamut volume').values.map((v) => Number(v!.replaceAll(',', '')))
  // sRGB has about 830,000 cubic units of CIELAB, Display P3 about 1.2 million.
  expect(narrow / 830_000).toBeCloseTo(1, 1)
  expect(wide / narrow).toBeGreaterThan(1.3)
})

test('a tag that only one has is told as not there @long', async () => {
  begin()
  drop(file('carries.icc', profile('Carries', { carries: true })), file('plain.icc', profile('Plain')))
  await screen.findByRole('heading', { name: /^plain\.icc/ })
  const { values, differs } = row('vcgt')
  expect([values[1], differs]).toEqual(['not there', 'differs'])
  expect(values[0]).not.toBe('not there')
})

describe('what is no profile', () => {
  test.each<[string, Uint8Array]>([
    ['nothing at all', new Uint8Array()],
    ['words', new TextEncoder().encode('This is a letter about reeds. '.repeat(20))],
    ['half of one', profile('Half').slice(0, 300)],
  ])('%s: named with what is wrong, and what was open stays open @long', async (_, bytes) => {
    begin()
    drop(file('good.icc', profile('Good')))
    await screen.findByRole('heading', { name: /^good\.icc/ })
    drop(file('bad.icc', bytes))
    const said = (await screen.findByRole('alert')).textContent!
    expect(said).toMatch(/^bad\.icc: .{10,}\.$/)
    expect(row('Name inside').values).toEqual(['Good'])
    // A good one after it takes the word away.
    drop(file('better.icc', profile('Better')))
    await screen.findByRole('heading', { name: /^better\.icc/ })
    expect(screen.queryByRole('alert')).toBeNull()
  })

  test('a file that the browser cannot read is named too', async () => {
    begin()
    drop({ name: 'gone.icc', arrayBuffer: () => Promise.reject(new Error('NotReadableError')) } as never)
    expect((await screen.findByRole('alert')).textContent).toBe('gone.icc: This browser cannot read it.')
  })
})

describe('the profile that a run filed', () => {
  test('stands open, by the name that it has inside @long', async () => {
    const asked = begin('/review/profiles?run=6', { ok: true, bytes: profile('Sedge 2, Atlas web') })
    expect(await screen.findByRole('heading', { name: /^Sedge 2, Atlas web/ })).toBeTruthy()
    expect(asked).toEqual(['/api/runs/6/profile'])
    drop(file('other.icc', profile('Other')))
    await waitFor(() => expect(row('Name inside').values).toEqual(['Sedge 2, Atlas web', 'Other']))
  })

  test.each([
    ['of a run that filed none', { ok: false }, 'Profile of run 6: Run 6 filed no profile.'],
    ['that is broken', { ok: true, bytes: profile('x').slice(0, 200) }, /^Profile of run 6: .+\.$/],
    [
      'while the server is away',
      undefined,
      'Profile of run 6: The server does not answer. See that it runs, then try again.',
    ],
  ])('%s says so', async (_, answer, says) => {
    begin('/review/profiles?run=6', answer)
    expect((await screen.findByRole('alert')).textContent).toMatch(says)
    expect(screen.getByText('No profile is open yet.')).toBeTruthy()
  })
})
