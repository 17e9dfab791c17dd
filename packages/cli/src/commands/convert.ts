import { readReadings, writeCsv, writeReadings, type SignalScale } from '@bichroma/core/formats'
import { BadInput, fromFile, nameOf, readText, write, type CliIo } from '../io'
import type { Answer } from '../output'

/** Readings from CxF3, CGATS.17 or CSV as CGATS.17 or CSV. */
export function convert(from: string, to: string, io: CliIo, scale?: SignalScale): Answer {
  const asCsv = /\.csv$/i.test(to)
  if (!asCsv && !/\.(cgats|txt)$/i.test(to)) throw new BadInput('The file to write must end in .cgats, .txt or .csv.')
  const text = readText(from)
  const { readings, format, scale: used } = fromFile(from, () => readReadings(text, scale))
  write(
    to,
    asCsv
      ? writeCsv(
          ['name', 'R', 'G', 'B', 'X', 'Y', 'Z'],
          readings.map(({ name, rgb, xyz }) => [name, ...rgb.map((v) => 100 * v), ...xyz]),
        )
      : writeReadings(readings, { description: nameOf(from), createdAt: io.now() }),
  )
  return {
    json: { from: format, scale: used, readings: readings.length, out: to },
    text: [
      `${readings.length} readings from ${format} (RGB up to ${used}) written to ${to}, RGB in percent, XYZ in cd/m².`,
    ],
  }
}
