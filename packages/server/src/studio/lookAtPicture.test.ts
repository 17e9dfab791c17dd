import { deflateSync } from 'node:zlib'
import { PNG } from 'pngjs'
import { lookAtPicture } from './lookAtPicture'

/** A chunk of a PNG; nobody here looks at its checksum. */
const chunk = (type: string, data: Buffer) => {
  const head = Buffer.alloc(8)
  head.writeUInt32BE(data.length)
  head.write(type, 4, 'latin1')
  return Buffer.concat([head, data, Buffer.alloc(4)])
}
/** A PNG with these pixels and this much behind them. */
function pngOf({ width = 100, height = 100, interlace = 0 }, raw: Buffer): Buffer {
  const header = Buffer.alloc(13)
  header.writeUInt32BE(width)
  header.writeUInt32BE(height, 4)
  header.set([8, 6, 0, 0, interlace], 8)
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(raw, { level: 9 })),
    chunk('IEND', Buffer.alloc(0)),
  ])
}

test.each([0, 1])('pictures as any program saves them are taken, interlaced or not (%d)', async (interlace) => {
  const png = new PNG({ width: 64, height: 40 })
  png.data.fill(0x80)
  const bytes = interlace
    ? pngOf({ width: 8, height: 8, interlace: 1 }, Buffer.alloc(8 * 8 * 4 + 15))
    : PNG.sync.write(png)
  expect(await lookAtPicture(new Uint8Array(bytes))).toEqual({ type: 'image/png' })
})

test('a picture of 100 by 100 pixels that unpacks to 64 MB is refused before it is unpacked @long', async () => {
  const bytes = pngOf({}, Buffer.alloc(64 * 2 ** 20))
  expect(bytes.length).toBeLessThan(100_000)
  const before = process.memoryUsage().rss
  expect(await lookAtPicture(new Uint8Array(bytes))).toEqual({
    complaint: 'The picture unpacks to more than its pixels need; save it anew as PNG or JPEG.',
  })
  expect(process.memoryUsage().rss - before).toBeLessThan(48 * 2 ** 20)
})

test.each([
  ['no picture', Buffer.from('GIF89a'), 'A logo must be a PNG or JPEG picture'],
  ['a wide one', pngOf({ width: 3000, height: 2 }, Buffer.alloc(24_008)), '2000 pixels wide and high or less'],
  ['one that is cut', pngOf({}, Buffer.alloc(40_100)).subarray(0, 60), 'damaged'],
  [
    'one whose pixels are no deflate stream',
    Buffer.concat([pngOf({}, Buffer.alloc(9)).subarray(0, 41), Buffer.alloc(99, 7)]),
    'damaged',
  ],
  ['one without a size', pngOf({ width: 0, height: 0 }, Buffer.alloc(4)), 'damaged'],
  ['a JPEG of which only the beginning is there', Buffer.from([0xff, 0xd8, 0xff, 0xe0]), 'damaged'],
])('%s is refused with what would be right', async (_, bytes, words) => {
  expect(await lookAtPicture(new Uint8Array(bytes))).toEqual({ complaint: expect.stringContaining(words) })
})
