// Speed against what a developer would pick instead, in one run, results compared first. `npm run bench`.
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { differenceCiede2000 } from 'culori'
import { instantiate, FLOAT_SH, COLORSPACE_SH, CHANNELS_SH, BYTES_SH, PT_RGB, cmsFLAGS_NOOPTIMIZE } from 'lcms-wasm'
import type { Aim } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import { buildTable3d, characterize, fitAim, fitMatrixModel } from '@bichroma/core/characterization'
import {
  deltaE2000Pairs,
  matrixOfEncoding,
  pcsWhite,
  bradfordMatrix,
  invert,
  multiply,
  convertChromaticityToXyz,
  standardWhites,
  type PatchReading,
  type Triple,
} from '@bichroma/core/color'
import { compareSolids, solidOfCharacterization, solidOfEncoding } from '@bichroma/core/gamut'
import { writeMatrixProfile, writeTableProfile } from '@bichroma/core/profiles'
import { pictureFilterOfMatrix, pictureFilterOfTable } from '@bichroma/core/tables'
import { toneCurve } from '@bichroma/core/tone'
import { deviceLink } from './bench/lcmsLink'
import { benchDrift } from './bench/drift'
import { benchFleet } from './bench/fleetReads'
import { benchLoop } from './bench/loop'
import { benchPictures } from './bench/pictures'
import { benchRollout } from './bench/rollout'
import { benchRounds } from './bench/rounds'
import { benchSolve } from './bench/solve'
import { benchRoundsFleet } from './bench/roundsFleet'
import { buildPrograms } from './programs.mjs'
import { finish, largestDifference, note, race, report, timesAsLong } from './bench/measure'
import { readingsOf, testPanel } from '../packages/core/src/test/panel'

// Some start the server as it is built.
await buildPrograms()

const uniform = uniformFrom(1)
const only = process.argv[2]
const wants = (name: string) => !only || name.includes(only)

if (wants('delta')) {
  const n = 1_000_000
  console.log(`\nΔE2000 of ${n.toLocaleString('en')} pairs, one thread`)
  const fill = () => Float64Array.from({ length: 3 * n }, (_, i) => (i % 3 ? 160 * uniform() - 80 : 100 * uniform()))
  const [a, b] = [fill(), fill()]
  const out = new Float64Array(n)
  const culori = differenceCiede2000()
  const color = (from: Float64Array, i: number) => ({
    mode: 'lab65' as const,
    l: from[3 * i],
    a: from[3 * i + 1],
    b: from[3 * i + 2],
  })
  // Each library gets the same numbers, and makes of them what it works on; culori’s objects are made beforehand.
  const culoriPairs = Array.from({ length: n }, (_, i) => [color(a, i), color(b, i)] as const)
  const { default: Color } = createRequire(import.meta.url)('colorjs.io')
  // colorjs.io is so much slower that a twentieth of the pairs tells.
  const some = n / 20
  const culoriOut = new Float64Array(n)
  const jsOut = new Float64Array(some)
  const runCulori = () => {
    for (let i = 0; i < n; i++) culoriOut[i] = culori(culoriPairs[i][0], culoriPairs[i][1])
  }
  const runJs = () => {
    for (let i = 0, p = 0; i < some; i++, p += 3)
      jsOut[i] = new Color('lab', [a[p], a[p + 1], a[p + 2]]).deltaE(
        new Color('lab', [b[p], b[p + 1], b[p + 2]]),
        '2000',
      )
  }
  deltaE2000Pairs(a, b, out)
  runCulori()
  runJs()
  const off = Math.max(largestDifference(out, culoriOut), largestDifference(jsOut, out))
  report('equal to culori and colorjs.io', off.toExponential(1), '≤ 1e-9', off <= 1e-9)
  const times = race({ ours: () => deltaE2000Pairs(a, b, out), culori: runCulori, colorjs: runJs }, 9)
  note(
    `medians: ours ${times.ours.ms.toFixed(0)} ms, culori ${times.culori.ms.toFixed(0)} ms, colorjs.io ${times.colorjs.ms.toFixed(0)} ms for ${some.toLocaleString('en')} pairs; memory: 56 bytes a pair, nothing else`,
  )
  const [byCulori, byJs] = [timesAsLong(times.culori, times.ours), timesAsLong(times.colorjs, times.ours) * (n / some)]
  report('against culori', `${byCulori.toFixed(1)} times as fast`, '≥ 4×', byCulori >= 4)
  report('against colorjs.io', `${byJs.toFixed(0)} times as fast`, '≥ 50×', byJs >= 50)
}

const panel = testPanel({ coupling: 0.04 })
const readings: PatchReading[] = readingsOf(panel, 1000)
const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 110,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}

if (wants('picture')) {
  const [width, height] = [4000, 3000]
  console.log(`\nPictures of ${(width * height) / 1e6} megapixels, 8-bit RGB`)
  /** Smooth areas with a little grain, as photographs have. */
  const photograph = () => {
    const p = new Uint8Array(3 * width * height)
    for (let y = 0, at = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (let c = 0; c < 3; c++, at++)
          p[at] = 127 + 110 * Math.sin(x / (300 + 170 * c)) * Math.cos(y / (410 - 90 * c)) + 12 * uniform()
    return p
  }
  const noise = () => Uint8Array.from({ length: 3 * width * height }, () => 256 * uniform())
  const cms = await instantiate()
  const open = (bytes: Uint8Array) => {
    const opened = cms.cmsOpenProfileFromMem(bytes, bytes.length)
    if (!opened) throw new Error('Little CMS cannot open the profile.')
    return opened
  }
  const rgb8 = FLOAT_SH(0) | COLORSPACE_SH(PT_RGB) | CHANNELS_SH(3) | BYTES_SH(1)
  const c = characterize(readings)
  const table = buildTable3d(c, fitAim(aim, c).aim, { size: 33 })
  // Little CMS is timed as it comes, and compared without its optimisations, which move some colours by many codes.
  const transforms = (from: number, to: number) =>
    [0, cmsFLAGS_NOOPTIMIZE].map((flags) => cms.cmsCreateTransform(from, rgb8, to, rgb8, 1, flags))
  const link = transforms(open(deviceLink(table)), 0)
  const filter = pictureFilterOfTable(table)

  const plain = testPanel()
  const model = fitMatrixModel(readingsOf(plain, 60))
  const profile = open(writeMatrixProfile(model, { description: 'b', copyright: 'b', createdAt: 0 }))
  const toSrgb = transforms(profile, cms.cmsCreate_sRGBProfile())
  const adapt = bradfordMatrix([model.white[0] / model.white[1], 1, model.white[2] / model.white[1]], pcsWhite)
  const srgb = multiply(
    bradfordMatrix(convertChromaticityToXyz(standardWhites.D65), pcsWhite),
    matrixOfEncoding('sRGB'),
  )
  const relative = model.matrix.map((row) => row.map((v) => v / model.white[1])) as unknown as [Triple, Triple, Triple]
  const { encode } = toneCurve({ kind: 'sRGB' })
  const matrixFilter = pictureFilterOfMatrix({
    decode: model.curves,
    matrix: multiply(invert(srgb), multiply(adapt, relative)).flat(),
    encode: [encode, encode, encode],
  })
  for (const [kind, picture] of [
    ['photograph', photograph()],
    ['noise', noise()],
  ] as const) {
    const target = new Uint8Array(picture.length)
    for (const [what, ours, [transform, exact]] of [
      ['3D table, 33 nodes, tetrahedral', filter, link],
      ['matrix profile to sRGB', matrixFilter, toSrgb],
    ] as const) {
      ours(picture, target, 3)
      const off = largestDifference(target, cms.cmsDoTransform(exact, picture, width * height))
      report(`${what}, ${kind}: equal to Little CMS`, `within ${off} code`, '≤ 1 code', off <= 1)
      const times = race(
        {
          ours: () => ours(picture, target, 3),
          lcms: () => cms.cmsDoTransform(transform, picture, width * height),
        },
        5,
      )
      const ratio = timesAsLong(times.lcms, times.ours)
      note(`medians: ours ${times.ours.ms.toFixed(0)} ms, lcms-wasm ${times.lcms.ms.toFixed(0)} ms`)
      report(`${what}, ${kind}: against lcms-wasm`, `${ratio.toFixed(2)} times as fast`, '≥ 1.5×', ratio >= 1.5)
    }
  }
  note(
    `memory: the table filter keeps ${((12 * 34 ** 3) / 2 ** 20).toFixed(1)} MB, the matrix filter 0.1 MB; a picture is read and written in place of 3 bytes a pixel each`,
  )
}

if (wants('build')) {
  console.log('\nBuilding from 1,000 readings, one thread')
  let c = characterize(readings)
  const facts = { description: 'b', copyright: 'b', createdAt: 0 }
  const model = fitMatrixModel(readings)
  const times = race(
    {
      table: () => {
        c = characterize(readings)
        return buildTable3d(c, fitAim(aim, c).aim, { size: 33 })
      },
      profile: () => writeTableProfile(characterize(readings), model, facts),
    },
    5,
  )
  // So short that a handful of turns would time the compiler.
  const { coverage } = race(
    { coverage: () => compareSolids(solidOfCharacterization(c), solidOfEncoding('Display P3')) },
    31,
  )
  const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`
  report('33-node table, fit and inversion included', seconds(times.table.ms), '≤ 2 s', times.table.ms <= 2000)
  report('table profile, 33 nodes each way, fit included', seconds(times.profile.ms), '≤ 3 s', times.profile.ms <= 3000)
  report('gamut volume coverage', `${coverage.ms.toFixed(0)} ms`, '≤ 50 ms', coverage.ms <= 50)
  const kept = (c.residual.byteLength + c.curves.byteLength) / 2 ** 20
  const matrix = (8 * readings.length ** 2) / 2 ** 20
  note(
    `memory: a characterization keeps ${kept.toFixed(1)} MB; while it is fitted, ${matrix.toFixed(1)} MB for the matrix of ${readings.length.toLocaleString('en')} readings`,
  )
}

note(
  `Node.js ${process.version}, ${/model name\s*:\s*(.*)/.exec(readFileSync('/proc/cpuinfo', 'utf8'))?.[1] ?? 'unknown processor'}`,
)
if (wants('solve')) benchSolve()

if (wants('loop')) await benchLoop()

if (wants('rollout')) {
  console.log('\nRollout, at the bench’s fastest pace')
  await benchRollout()
}

if (wants('rounds')) await benchRounds()

if (wants('roundsfleet')) await benchRoundsFleet()

if (wants('fleet')) {
  console.log('\nA fleet of 10,000 displays and 600,000 validations, as the server answers')
  await benchFleet()
}

if (wants('drift')) {
  console.log('\nDrift of 1,000 displays and 60,000 validations, as the server answers')
  await benchDrift()
}

if (wants('pictures')) {
  console.log('\nA picture of 12 megapixels before and after, in Chromium')
  await benchPictures()
}

finish()
