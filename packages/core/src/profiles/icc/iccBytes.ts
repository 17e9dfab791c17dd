import { onOneLine } from '../../basics/plainText'

/** A growing run of big-endian numbers, as every ICC structure is laid out. ICC.1:2022 §4. */
export class IccWriter {
  #bytes = new Uint8Array(256)
  #length = 0

  u8(...values: number[]): this {
    if (this.#length + values.length > this.#bytes.length) {
      const larger = new Uint8Array(2 * (this.#length + values.length))
      larger.set(this.#bytes)
      this.#bytes = larger
    }
    for (const v of values) this.#bytes[this.#length++] = v
    return this
  }
  u16(v: number): this {
    return this.u8((v >> 8) & 255, v & 255)
  }
  u32(v: number): this {
    return this.u8((v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255)
  }
  /** Signed 15.16 fixed point. */
  fixed(v: number): this {
    return this.u32(Math.round(v * 65536) | 0)
  }
  /** A share 0–1 as 16 bits. */
  share(v: number): this {
    return this.u16(Math.round(Math.min(1, Math.max(0, v)) * 65535))
  }
  /** Characters below 256, one byte each. */
  text(s: string): this {
    for (let i = 0; i < s.length; i++) this.u8(s.charCodeAt(i) & 255)
    return this
  }
  utf16(s: string): this {
    for (let i = 0; i < s.length; i++) this.u16(s.charCodeAt(i))
    return this
  }
  bytes(b: Uint8Array): this {
    for (let i = 0; i < b.length; i += 4096) this.u8(...b.subarray(i, i + 4096))
    return this
  }
  /** Fills up to a multiple of four. */
  pad(): this {
    while (this.#length % 4) this.u8(0)
    return this
  }
  get length(): number {
    return this.#length
  }
  done(): Uint8Array {
    return this.#bytes.slice(0, this.#length)
  }
}

/** A profile that cannot be read, in one sentence that names the place. */
export class ProfileError extends Error {
  constructor(sentence: string) {
    super(onOneLine(sentence))
    this.name = 'ProfileError'
  }
}

/** Reads big-endian numbers from a stretch of a file; whatever lies outside the stretch throws {@link ProfileError}. */
export class IccReader {
  readonly #view: DataView

  constructor(
    bytes: Uint8Array,
    /** What the stretch is, as a sentence names it. */
    readonly name: string,
    offset = 0,
    readonly size = bytes.length - offset,
  ) {
    if (offset < 0 || size < 0 || offset + size > bytes.length)
      throw new ProfileError(`${name} reaches beyond the end of the file.`)
    this.#view = new DataView(bytes.buffer, bytes.byteOffset + offset, size)
  }

  /** Throws unless `count` bytes at `at` lie within. */
  need(at: number, count: number): void {
    if (!(at >= 0 && count >= 0 && at + count <= this.size))
      throw new ProfileError(`${this.name} is cut short: ${at + count} bytes are needed, ${this.size} are there.`)
  }
  u8(at: number): number {
    this.need(at, 1)
    return this.#view.getUint8(at)
  }
  u16(at: number): number {
    this.need(at, 2)
    return this.#view.getUint16(at)
  }
  u32(at: number): number {
    this.need(at, 4)
    return this.#view.getUint32(at)
  }
  fixed(at: number): number {
    this.need(at, 4)
    return this.#view.getInt32(at) / 65536
  }
  text(at: number, length: number): string {
    this.need(at, length)
    let s = ''
    for (let i = 0; i < length; i++) s += String.fromCharCode(this.#view.getUint8(at + i))
    return s
  }
  utf16(at: number, bytes: number): string {
    this.need(at, bytes)
    let s = ''
    for (let i = 0; i + 1 < bytes; i += 2) s += String.fromCharCode(this.#view.getUint16(at + i))
    return s
  }
  /** `count` numbers of 8 or 16 bits as shares 0–1. */
  shares(at: number, count: number, bytesEach: 1 | 2): Float64Array {
    this.need(at, count * bytesEach)
    const out = new Float64Array(count)
    for (let i = 0; i < count; i++)
      out[i] = bytesEach === 1 ? this.#view.getUint8(at + i) / 255 : this.#view.getUint16(at + 2 * i) / 65535
    return out
  }
  fixeds(at: number, count: number): number[] {
    this.need(at, 4 * count)
    return Array.from({ length: count }, (_, i) => this.fixed(at + 4 * i))
  }
}
