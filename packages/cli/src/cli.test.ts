import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PNG } from 'pngjs'
import { computeMetrics, resolveAim } from '@bichroma/core/aims'
import { panelFactsOf } from '@bichroma/core/characterization'
import { deltaE2000, type Lab } from '@bichroma/core/color'
import { readCsv, readCube, readPatches, readReadings } from '@bichroma/core/formats'
import { makePlan, samplings } from '@bichroma/core/runs'
import { applyTetrahedral } from '@bichroma/core/tables'
import { runCli } from './cli'

const samples = join(__dirname, '../samples')
const sample = (name: string) => join(samples, name)
let folder = ''
const at = (name: string) => join(folder, name)
const put = (name: string, contents: string | Uint8Array) => {
  writeFileSync(at(name), contents)
  return at(name)
}
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'bichroma-cli-'))))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

function run(...args: string[]) {
  const [out, err]: [string[], string[]] = [[], []]
  const io = {
    print: (t: string) => out.push(t),
    complain: (t: string) => err.push(t),
    now: () => Date.UTC(2026, 10, 24),
  }
  const code = runCli(args, io)
  return { code, out: out.join('\n'), err: err.join('\n') }
}
/** What a command says as JSON; it must have gone well. */
const json = (...args: string[]) => {
  const { code, out, err } = run(...args, '--json')
  expect(err).toBe('')
  return { code, value: JSON.parse(out) }
}

/** A table that halves every colour. */
const halves = () => put('halves.cube', 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n')

describe('delta', () => {
  test('adds the column, and agrees with the formula for single pairs', () => {
    const { code, value } = json('delta', sample('pairs.csv'), '--out', at('d.csv'))
    expect(code).toBe(0)
    const { fields, rows } = readCsv(readFileSync(at('d.csv'), 'utf8'))
    expect(fields).toEqual(['L1', 'a1', 'b1', 'L2', 'a2', 'b2', 'ΔE2000'])
    rows.forEach(({ values }, i) => {
      const v = values.map(Number)
      const plain = deltaE2000(v.slice(0, 3) as unknown as Lab, v.slice(3, 6) as unknown as Lab)
      expect(v[6]).toBeCloseTo(plain, 4)
      expect(value.differences[i]).toBeCloseTo(plain, 9)
    })
  })

  test.each(['de2000', 'de94', 'de76', 'deitp'])('%s of XYZ pairs is zero where nothing differs', (formula) => {
    const path = put('x.csv', 'X1,Y1,Z1,X2,Y2,Z2\n40,50,60,40,50,60\n40,50,60,41,50,60\n')
    const { value } = json('delta', path, '--formula', formula)
    expect(value.differences[0]).toBeCloseTo(0, 9)
    expect(value.differences[1]).toBeGreaterThan(0.1)
  })
})

test('white: temperature and Duv there and back', () => {
  const there = json('white', '--cct', '5003', '--duv', '0.003').value
  const back = json('white', '--xy', `${there.x},${there.y}`).value
  expect(json('white', '--cct', '3000', '--duv', '-0.01').value.duv).toBeCloseTo(-0.01, 9)
  expect(back.cct).toBeCloseTo(5003, 1)
  expect(back.duv).toBeCloseTo(0.003, 6)
  expect(there.nearest.name).toBe('D50')
})

describe('patches', () => {
  test('a plan is written and read again', () => {
    const { value } = json('patches', '--plan', 'usual', '--out', at('p.cgats'))
    const plan = makePlan(samplings.usual)
    expect(value.readings).toBe(plan.length)
    const back = readPatches(readFileSync(at('p.cgats'), 'utf8'))
    back.forEach((p, i) => p.rgb.forEach((v, c) => expect(v).toBeCloseTo(plan[i].rgb[c], 12)))
  })

  test('after readings: what tells most next, none of it read before', () => {
    const { value } = json('patches', '--after', sample('sedge-2.cgats'), '--count', '8')
    const { readings } = readReadings(readFileSync(sample('sedge-2.cgats'), 'utf8'))
    const known = new Set(readings.map((r) => r.rgb.join()))
    expect(value.patches).toHaveLength(8)
    expect(value.patches.every((p: { rgb: number[] }) => !known.has(p.rgb.join()))).toBe(true)
  })
})

describe('profiles', () => {
  test.each([
    ['matrix', '2'],
    ['matrix', '4'],
    ['table', '2'],
    ['table', '4'],
  ])('%s of version %s: built, shown, and checked against the readings @long', (kind, icc) => {
    const path = at(`${kind}-${icc}.icc`)
    const built = json(
      'profile',
      'build',
      sample('sedge-2.cgats'),
      '--kind',
      kind,
      '--icc',
      icc,
      '--name',
      'Sedge 2',
      '--out',
      path,
    ).value
    const shown = json('profile', 'show', path).value
    expect(shown).toMatchObject({
      description: 'Sedge 2',
      kind,
      version: icc === '4' ? '4.4' : '2.4',
      invertible: true,
    })
    const checked = json('profile', 'check', path, sample('sedge-2.cgats')).value
    expect(checked.average).toBeCloseTo(built.fit.average, 9)
    expect(checked.average).toBeLessThan(kind === 'table' ? 0.15 : 0.5)
    expect(checked.worst).toBeLessThan(kind === 'table' ? 0.6 : 1)
    expect(run('profile', 'show', path).out).toContain('Sedge 2')
  })

  test('a profile of another display is found not to fit', () => {
    run('profile', 'build', sample('sedge-2-after.cgats'), '--out', at('other.icc'))
    expect(json('profile', 'check', at('other.icc'), sample('sedge-2.cgats')).value.average).toBeGreaterThan(2)
  })
})

describe('tables', () => {
  const build = (format: 'cube' | 'clf') =>
    run(
      ...['table', 'build', sample('sedge-2.cgats'), '--aim', sample('aim.json'), '--size', '17'],
      ...['--out', at(`t.${format}`)],
    )

  test('built as .cube and as .clf they do the same to colours @long', () => {
    build('cube')
    build('clf')
    const colors = put('rgb.csv', 'name,R,G,B\nmiddle,0.5,0.5,0.5\nleaf,0.31,0.52,0.18\n')
    const [a, b] = ['cube', 'clf'].map((format) => {
      expect(run('table', 'apply', at(`t.${format}`), '--rgb', colors, '--out', at('o.csv')).code).toBe(0)
      return readCsv(readFileSync(at('o.csv'), 'utf8')).rows.map((r) => r.values)
    })
    expect(a.map((r) => r[0])).toEqual(['middle', 'leaf'])
    a.forEach((row, i) => row.slice(1).forEach((v, k) => expect(Number(v)).toBeCloseTo(Number(b[i][k + 1]), 5)))
  })

  test('a picture goes through as its colours do @long', () => {
    build('cube')
    expect(run('table', 'apply', at('t.cube'), '--rgb', sample('picture.png'), '--out', at('p.png')).code).toBe(0)
    const { table3d } = readCube(readFileSync(at('t.cube'), 'utf8'))
    const [before, after] = [sample('picture.png'), at('p.png')].map((p) => PNG.sync.read(readFileSync(p)))
    let worst = 0
    for (let p = 0; p < before.data.length; p += 4) {
      const [r, g, b] = [0, 1, 2].map((c) => before.data[p + c] / 255)
      applyTetrahedral(table3d!, [r, g, b]).forEach(
        (v, c) => (worst = Math.max(worst, Math.abs(255 * v - after.data[p + c]))),
      )
      expect(after.data[p + 3]).toBe(255)
    }
    expect(worst).toBeLessThan(1)
  })

  test('a picture of 16 bits keeps its bits', () => {
    const wide = new PNG({ width: 4, height: 1 })
    wide.data = Buffer.from(
      new Uint16Array([0, 257, 40000, 65535, 1, 2, 3, 65535, 65535, 0, 0, 65535, 12345, 23456, 34567, 65535]).buffer,
    )
    put(
      'wide.png',
      new Uint8Array(
        PNG.sync.write(wide, { bitDepth: 16, colorType: 6, inputColorType: 6, inputHasAlpha: true } as object),
      ),
    )
    expect(json('table', 'apply', halves(), '--rgb', at('wide.png'), '--out', at('half.png')).value.bits).toBe(16)
    const back = PNG.sync.read(readFileSync(at('half.png')), { skipRescale: true } as object)
    expect([...back.data].slice(0, 4)).toEqual([0, 129, 20000, 65535])
    expect([...back.data].slice(12)).toEqual([6173, 11728, 17284, 65535])
  })

  test('with the aim in force a table’s readings are judged within or near, and the raw ones outside', () => {
    const args = ['--aim', sample('aim.json'), '--limits', sample('limits.json')]
    const after = json('judge', sample('sedge-2-after.cgats'), ...args)
    expect(after.code).toBe(0)
    expect(['within', 'near']).toContain(after.value.verdict)
    const raw = run('judge', sample('sedge-2.cgats'), ...args)
    expect(raw.code).toBe(3)
    expect(raw.out).toMatch(/^outside: /)
  })
})

test('judge gives the figures that core gives for the same readings', () => {
  const { value } = json(
    'judge',
    sample('sedge-2-after.cgats'),
    '--aim',
    sample('aim.json'),
    '--limits',
    sample('limits.json'),
  )
  const { readings } = readReadings(readFileSync(sample('sedge-2-after.cgats'), 'utf8'))
  const aim = JSON.parse(readFileSync(sample('aim.json'), 'utf8'))
  const own = computeMetrics(readings, resolveAim(aim, panelFactsOf(readings, aim.primaries)))
  expect(value.metrics).toEqual(JSON.parse(JSON.stringify(own)))
})

test('gamut: readings and the profile made from them agree; coverage stays within 100 @long', () => {
  const fromReadings = json('gamut', sample('sedge-2.cgats'), '--against', 'srgb,display-p3,oprgb,bt2020').value
  run('profile', 'build', sample('sedge-2.cgats'), '--kind', 'table', '--out', at('g.icc'))
  const fromProfile = json('gamut', at('g.icc'), '--against', 'srgb,display-p3,oprgb,bt2020').value
  fromReadings.against.forEach(
    (r: { xy: { coverage: number; areaRatio: number }; volume: { coverage: number } }, i: number) => {
      const p = fromProfile.against[i]
      expect(r.xy.coverage).toBeLessThanOrEqual(100)
      expect(Math.abs(r.xy.coverage - p.xy.coverage)).toBeLessThan(1)
      expect(Math.abs(r.volume.coverage - p.volume.coverage)).toBeLessThan(1)
    },
  )
  expect(fromReadings.against[0].xy.areaRatio).toBeGreaterThan(100)
})

test('edid: identity and primaries', () => {
  expect(json('edid', sample('sedge-2.edid.bin')).value).toMatchObject({ maker: 'QLN', name: 'Quillon Q27', bits: 10 })
})

test('convert: CxF to CGATS to CSV keeps every reading', () => {
  run('convert', sample('sedge-2-after.cxf'), at('c.cgats'))
  run('convert', at('c.cgats'), at('c.csv'))
  const [a, b, c] = [sample('sedge-2-after.cxf'), at('c.cgats'), at('c.csv')].map(
    (p) => readReadings(readFileSync(p, 'utf8')).readings,
  )
  expect(b).toHaveLength(39)
  b.forEach((r, i) => {
    expect(r.xyz).toEqual(a[i].xyz)
    expect(c[i].xyz).toEqual(a[i].xyz)
    r.rgb.forEach((v, k) => expect(v).toBeCloseTo(a[i].rgb[k], 12))
  })
})

describe('bad input: exit code 2, one line that names file, line and field, nothing written', () => {
  const cases: [string, () => string[], RegExp][] = [
    ['a file that is not there', () => ['edid', at('none.bin')], /none\.bin: there is no such file\.$/],
    [
      'a folder',
      () => ['judge', folder, '--aim', sample('aim.json'), '--limits', sample('limits.json')],
      /it is a folder, not a file\.$/,
    ],
    ['an unknown command', () => ['calibrate'], /Unknown command 'calibrate'/],
    ['an unknown option', () => ['white', '--ducv', '1'], /Unknown option '--ducv'/],
    ['a number that is none', () => ['white', '--cct', 'warm'], /It must be a number from 1667 to 100000\.$/],
    [
      'both ways to name a white',
      () => ['white', '--cct', '5000', '--xy', '0.3,0.3'],
      /Give either --xy x,y or --cct K\.$/,
    ],
    ['a chromaticity no light has', () => ['white', '--xy', '0.9,0.9'], /--xy lies outside the spectral locus/],
    [
      'a plan that is none',
      () => ['patches', '--plan', 'greys:x'],
      /--plan: “greys” needs a whole number from 2 to 1024/,
    ],
    [
      'a row that is no number',
      () => ['delta', put('b.csv', 'L1,a1,b1,L2,a2,b2\n1,2,3,4,5,6\n1,2,3,4,x,6\n')],
      /b\.csv, line 3: “a2” must be a number; “x” is none\.$/,
    ],
    [
      'columns that are missing',
      () => ['delta', put('b.csv', 'a,b\n1,2\n')],
      /b\.csv, line 1: The columns must be L1, a1, b1/,
    ],
    [
      'readings without white',
      () => ['profile', 'build', put('w.csv', 'R,G,B,X,Y,Z\n0,0,0,0,0,0\n1,0,0,40,20,2\n'), '--out', at('never.icc')],
      /w\.csv: The readings hold no white/,
    ],
    [
      'an aim with a field at fault',
      () => [
        'judge',
        sample('sedge-2.cgats'),
        '--aim',
        put('aim.json', readFileSync(sample('aim.json'), 'utf8').replace('110', '-110')),
        '--limits',
        sample('limits.json'),
      ],
      /aim\.json: “Luminance” must be above 0\.$/,
    ],
    [
      'an aim that is no JSON',
      () => [
        'judge',
        sample('sedge-2.cgats'),
        '--aim',
        put('aim.json', '{\n "white": {,\n'),
        '--limits',
        sample('limits.json'),
      ],
      /aim\.json, line 2: this is no JSON\.$/,
    ],
    [
      'limits of a figure that does not exist',
      () => [
        'judge',
        sample('sedge-2.cgats'),
        '--aim',
        sample('aim.json'),
        '--limits',
        put('l.json', '{"rules":[{"metric":"beauty","near":1,"hard":2}]}'),
      ],
      /l\.json: “rules\[0\]\.metric” must be one of: averageDeltaE/,
    ],
    [
      'readings of which no limited figure can be told',
      () => [
        'judge',
        put('j.csv', 'R,G,B,X,Y,Z\n1,1,1,95,100,108\n0,0,0,0.1,0.1,0.1\n'),
        '--aim',
        sample('aim.json'),
        '--limits',
        put('greys.json', '{"rules":[{"metric":"greyChroma","near":1,"hard":2}]}'),
      ],
      /j\.csv: “Average grey chroma” has limits, but the readings hold no grey between black and white, so it cannot be told\.$/,
    ],
    [
      'a profile that is none',
      () => ['profile', 'show', sample('picture.png')],
      /picture\.png: This is not an ICC profile/,
    ],
    [
      'a checksum that is wrong',
      () => {
        const b = readFileSync(sample('sedge-2.edid.bin'))
        b[127] ^= 1
        return ['edid', put('e.bin', new Uint8Array(b))]
      },
      /e\.bin: The checksum of the first block is [0-9A-F]{2}; by its bytes it should be [0-9A-F]{2}\.$/,
    ],
    [
      'an encoding that is none',
      () => ['gamut', sample('sedge-2.cgats'), '--against', 'rgb'],
      /Encodings are srgb, bt709, oprgb, display-p3, dci-p3, bt2020, ebu-3213\.$/,
    ],
    [
      'a size out of bounds',
      () => [
        'table',
        'build',
        sample('sedge-2.cgats'),
        '--aim',
        sample('aim.json'),
        '--size',
        '7',
        '--out',
        at('never.cube'),
      ],
      /It must be a whole number from 9 to 65\.$/,
    ],
    [
      'an ending that is none',
      () => ['table', 'build', sample('sedge-2.cgats'), '--aim', sample('aim.json'), '--out', at('never.lut')],
      /--out must end in \.clf or \.cube\.$/,
    ],
    [
      'an option that is missing',
      () => ['table', 'build', sample('sedge-2.cgats'), '--out', at('never.cube')],
      /Required option '--aim <aim\.json>' not specified\.$/,
    ],
    [
      'a table cut short',
      () => [
        'table',
        'apply',
        put('s.cube', 'LUT_3D_SIZE 2\n0 0 0\n'),
        '--rgb',
        sample('picture.png'),
        '--out',
        at('never.png'),
      ],
      /s\.cube, line 3: The table has 1 rows; its size asks for 8\.$/,
    ],
    [
      'a picture that is none',
      () => ['table', 'apply', halves(), '--rgb', put('x.png', 'no picture'), '--out', at('never.png')],
      /x\.png: this is no PNG\.$/,
    ],
    [
      'a picture cut short',
      () => [
        'table',
        'apply',
        halves(),
        '--rgb',
        put('x.png', new Uint8Array(readFileSync(sample('picture.png')).subarray(0, 900))),
        '--out',
        at('never.png'),
      ],
      /x\.png: the PNG cannot be unpacked/,
    ],
    [
      'a place that cannot be written',
      () => ['convert', sample('sedge-2-after.cxf'), join(folder, 'no/where.cgats')],
      /where\.cgats: there is no such file\.$/,
    ],
  ]
  test.each(cases)('%s', (_, args, line) => {
    const { code, out, err } = run(...args())
    expect(code).toBe(2)
    expect(out).toBe('')
    expect(err).toMatch(/^bichroma: [^\n]+$/)
    expect(err).toMatch(line)
    for (const name of ['never.icc', 'never.cube', 'never.lut', 'never.png'])
      expect(() => readFileSync(at(name))).toThrow('ENOENT')
  })
})

test('help tells every command; a group without one tells its own', () => {
  const { code, out } = run('--help')
  expect(code).toBe(0)
  for (const command of ['delta', 'white', 'patches', 'profile', 'table', 'judge', 'gamut', 'edid', 'convert'])
    expect(out).toContain(command)
  expect(run('profile', 'build', '--help').out).toContain('--kind <kind>')
  expect(run()).toMatchObject({ code: 2, out: '', err: expect.stringContaining('gamut') })
  expect(run('profile')).toMatchObject({ code: 2, out: '', err: expect.stringContaining('check') })
})
