import { PNG } from 'pngjs'
import { aimSchema, validate } from '@bichroma/contract'
import { targetXyz } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import {
  buildTable3d,
  characterize,
  crossValidate,
  fitAim,
  invertXyz,
  predictLab,
} from '@bichroma/core/characterization'
import { convertXyzToLab, deltaE2000, type Triple } from '@bichroma/core/color'
import {
  applyClf,
  applyCube,
  FormatError,
  numberFrom,
  readClf,
  readCsv,
  readCube,
  readReadings,
  unitDomain,
  writeClf,
  writeCsv,
  writeCube,
  type SignalScale,
} from '@bichroma/core/formats'
import {
  applyTetrahedral,
  codeOfSignal,
  pictureFilterOfTable,
  quantizeTable3d,
  signalOfCode,
  type Interpolation,
  type SignalRange,
  type Table3D,
} from '@bichroma/core/tables'
import { BadInput, fromFile, nameOf, readBytes, readJson, readText, write } from '../io'
import { firstRows, type Answer } from '../output'
import { spreadHead, spreadOf, spreadRow, validationRows } from '../figures'

const extensionOf = (path: string) => /\.([a-z0-9]+)$/i.exec(path)?.[1].toLowerCase() ?? ''

export interface TableOptions {
  readonly aim: string
  readonly size: number
  readonly range: SignalRange
  readonly bits: number
  readonly out: string
  readonly scale?: SignalScale
}

const checks = 1000

export function buildTable(path: string, { aim: aimPath, size, range, bits, out, scale }: TableOptions): Answer {
  const format = extensionOf(out)
  if (format !== 'clf' && format !== 'cube') throw new BadInput('--out must end in .clf or .cube.')
  const aimJson = readJson(aimPath)
  const wanted = fromFile(aimPath, () => validate(aimSchema, aimJson))
  const text = readText(path)
  const built = fromFile(path, () => {
    const { readings } = readReadings(text, scale)
    const c = characterize(readings)
    const { aim, reachable } = fitAim(wanted, c)
    const table = quantizeTable3d(buildTable3d(c, aim, { size, range, bits }), 16)
    // By the model, at colours between the nodes: those within reach, and how many are not.
    const uniform = uniformFrom(1)
    const errors: number[] = []
    let outside = 0
    for (let i = 0; i < checks; i++) {
      const signal: Triple = [uniform(), uniform(), uniform()]
      const target = targetXyz(aim, signal)
      if (invertXyz(c, target).left > 0.5) {
        outside++
        continue
      }
      const code = signal.map((v) => codeOfSignal(v, range, bits)) as unknown as Triple
      const signalOut = applyTetrahedral(table, code).map((v) => signalOfCode(v, range, bits)) as unknown as Triple
      errors.push(deltaE2000(convertXyzToLab(target, c.white), predictLab(c, signalOut)))
    }
    return { table, reachable, aim, errors, outside, validation: crossValidate(readings), readings: readings.length }
  })
  const { table, reachable, aim, errors, outside, validation } = built
  const title = `${nameOf(path)} to ${nameOf(aimPath)}`
  write(
    out,
    format === 'cube'
      ? writeCube({ title, domain: unitDomain, table1d: null, table3d: table })
      : writeClf({ id: title, description: title, nodes: [{ kind: 'LUT3D', table, interpolation: 'tetrahedral' }] }),
  )
  const spread = errors.length ? spreadOf(errors) : null
  const dimmed = aim.white[1] < wanted.luminance
  return {
    json: {
      out,
      size,
      range,
      bits: range === 'limited' ? bits : undefined,
      luminance: aim.white[1],
      reachableLuminance: reachable,
      outOfReach: outside / checks,
      byTheModel: spread,
      crossValidation: validation,
    },
    text: [
      {
        head: spreadHead('ΔE2000'),
        rows: [
          ...(spread ? [spreadRow('table to aim, by the model', spread)] : []),
          ...validationRows('the model itself, on readings left out', built.readings, validation),
        ],
      },
      `${((100 * outside) / checks).toFixed(0)} % of the aim’s colours lie out of the display’s reach; they go to its edge, hue kept.`,
      dimmed
        ? `The display reaches ${reachable.toFixed(1)} cd/m² at the aim’s white, less than the ${wanted.luminance} asked for: the table aims at ${aim.white[1].toFixed(1)}.`
        : `Luminance ${aim.white[1].toFixed(1)} cd/m²; the display reaches ${reachable.toFixed(1)} at the aim’s white.`,
      `${size} nodes, ${range} range, written to ${out}.`,
    ],
  }
}

interface Loaded {
  readonly apply: (rgb: Triple) => Triple
  /** The table alone, where there is nothing else in the file. */
  readonly plain: Table3D | null
}

function loadTable(path: string, interpolation: Interpolation | undefined): Loaded {
  const text = readText(path)
  return fromFile(path, (): Loaded => {
    if (/^\uFEFF?\s*</.test(text)) {
      const { nodes } = readClf(text)
      const [only] = nodes
      const chosen = nodes.map((n) => (n.kind === 'LUT3D' && interpolation ? { ...n, interpolation } : n))
      const isPlain =
        nodes.length === 1 && only.kind === 'LUT3D' && (interpolation ?? only.interpolation) === 'tetrahedral'
      return { apply: (rgb) => applyClf(chosen, rgb), plain: isPlain ? only.table : null }
    }
    const file = readCube(text)
    const isUnit = file.domain.least.every((v) => v === 0) && file.domain.most.every((v) => v === 1)
    return {
      apply: (rgb) => applyCube(file, rgb, interpolation),
      plain: !file.table1d && isUnit && interpolation !== 'trilinear' ? file.table3d : null,
    }
  })
}

const mostPixels = 100_000_000

/** Width and height stand at fixed places of a PNG; a picture beyond reason is refused before it is unpacked. */
function checkPng(path: string, bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 33 || view.getUint32(0) !== 0x89504e47) throw new BadInput(`${path}: this is no PNG.`)
  if (view.getUint32(16) * view.getUint32(20) > mostPixels)
    throw new BadInput(`${path}: the picture has more than ${mostPixels.toLocaleString('en')} pixels.`)
}

function applyToPicture(path: string, out: string, { apply, plain }: Loaded): Answer {
  const bytes = readBytes(path)
  checkPng(path, bytes)
  let picture: PNG & { depth?: number }
  try {
    picture = PNG.sync.read(Buffer.from(bytes), { skipRescale: true } as object)
  } catch (error) {
    throw new BadInput(`${path}: the PNG cannot be unpacked (${(error as Error).message}).`)
  }
  const depth = picture.depth === 16 ? 16 : 8
  const data = picture.data as unknown as Uint8Array | Uint16Array
  if (plain && depth === 8) pictureFilterOfTable(plain)(data as Uint8Array, data as Uint8Array, 4)
  else {
    const top = 2 ** depth - 1
    for (let p = 0; p < data.length; p += 4) {
      const shown = apply([data[p] / top, data[p + 1] / top, data[p + 2] / top])
      for (let c = 0; c < 3; c++) data[p + c] = Math.round(Math.min(1, Math.max(0, shown[c])) * top)
    }
  }
  const { width, height } = picture
  const packed =
    depth === 8
      ? PNG.sync.write(picture)
      : PNG.sync.write(Object.assign(new PNG({ width, height }), { data: asBytes(data) }), {
          bitDepth: 16,
          inputHasAlpha: true,
          colorType: 6,
          inputColorType: 6,
        } as object)
  write(out, new Uint8Array(packed))
  return {
    json: { out, width, height, bits: depth },
    text: [`${width} × ${height} pixels of ${depth} bits written to ${out}.`],
  }
}

/** What the packer takes for 16 bits: the words as this machine holds them. */
const asBytes = (data: Uint8Array | Uint16Array) => Buffer.from(data.buffer, data.byteOffset, data.byteLength)

function applyToColors(path: string, out: string, { apply }: Loaded): Answer {
  const text = readText(path)
  const { fields, rows } = fromFile(path, () => {
    const table = readCsv(text)
    const at = ['R', 'G', 'B'].map((n) => table.fields.findIndex((f) => f.toUpperCase() === n))
    if (at.some((i) => i < 0)) throw new FormatError('The columns R, G and B (0–1) are needed.', 1)
    const rows = table.rows.map(({ values, line }) => {
      const rgb = at.map((i) => numberFrom(values[i], `“${table.fields[i]}”`, line)) as unknown as Triple
      const shown = apply(rgb)
      return values.map((v, i) => {
        const channel = at.indexOf(i)
        return channel < 0 ? v : String(Number(shown[channel].toFixed(6)))
      })
    })
    return { fields: table.fields, rows }
  })
  write(out, writeCsv(fields, rows))
  const shown = firstRows(rows, 20)
  return {
    json: { out, colors: rows.length },
    text: [{ head: fields, rows: shown.rows }, ...shown.more, `${rows.length} colours written to ${out}.`],
  }
}

export interface ApplyOptions {
  readonly rgb: string
  readonly out: string
  readonly interpolation?: Interpolation
}

/** Colours of a table of numbers (0–1), or a picture, through a table. */
export function applyTable(path: string, { rgb, out, interpolation }: ApplyOptions): Answer {
  const loaded = loadTable(path, interpolation)
  return extensionOf(rgb) === 'png' ? applyToPicture(rgb, out, loaded) : applyToColors(rgb, out, loaded)
}
