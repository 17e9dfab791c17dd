import type { Matrix3 } from '../../color/matrix3'
import { IccReader, ProfileError } from './iccBytes'
import { readDate, readTag, type TagValue } from './tags'

/** A place in the tag table. */
interface TagPlace {
  readonly signature: string
  /** The type signature of its data. */
  readonly type: string
  readonly offset: number
  readonly size: number
}

/** An ICC profile: its header, and its tags, read when asked for. */
export interface IccProfile {
  readonly size: number
  /** Major and minor, as in 4.4. */
  readonly version: string
  /** `mntr` for a display. */
  readonly profileClass: string
  readonly colorSpace: string
  readonly connectionSpace: 'XYZ' | 'Lab'
  /** ms since 1970, UTC; NaN when the profile does not say. */
  readonly createdAt: number
  readonly intent: number
  /** 32 hexadecimal digits; empty when the profile carries none. */
  readonly id: string
  readonly tags: readonly TagPlace[]
  /** What a tag says; null when there is none of that name. Throws ProfileError when it is broken. */
  readonly read: (signature: string) => TagValue | null
}

const headerSize = 128
const mostTags = 512

/**
 * Reads a display profile for RGB down to its tags. Strict about sizes, forgiving about tags it does not know. Throws
 * ProfileError with a sentence that names the place. ICC.1:2022 §7.
 */
export function readIccProfile(bytes: Uint8Array): IccProfile {
  const file = new IccReader(bytes, 'The profile')
  if (bytes.length < headerSize + 4 || file.text(36, 4) !== 'acsp')
    throw new ProfileError('This is not an ICC profile: the mark “acsp” at byte 36 is missing.')
  const size = file.u32(0)
  if (size > bytes.length || size < headerSize + 4)
    throw new ProfileError(`The profile says that it has ${size} bytes; the file has ${bytes.length}.`)
  const [major, minor] = [file.u8(8), file.u8(9)]
  if (major !== 2 && major !== 4)
    throw new ProfileError(`The profile is of version ${major}; versions 2 and 4 are understood.`)
  const colorSpace = file.text(16, 4).trim()
  if (colorSpace !== 'RGB')
    throw new ProfileError(`The profile is for ${colorSpace || 'an unnamed space'}; a display’s is for RGB.`)
  const connectionSpace = file.text(20, 4).trim()
  if (connectionSpace !== 'XYZ' && connectionSpace !== 'Lab')
    throw new ProfileError(`The profile connects through “${connectionSpace}”; XYZ or Lab are understood.`)
  const profileClass = file.text(12, 4)
  if (profileClass !== 'mntr')
    throw new ProfileError(`The profile is of the class “${profileClass}”; a display’s is “mntr”.`)

  const count = file.u32(headerSize)
  if (count > mostTags) throw new ProfileError(`The profile names ${count} tags; ${mostTags} is the most.`)
  const whole = bytes.subarray(0, size)
  const tags = Array.from({ length: count }, (_, i): TagPlace => {
    const at = headerSize + 4 + 12 * i
    const [signature, offset, length] = [file.text(at, 4), file.u32(at + 4), file.u32(at + 8)]
    if (offset + length > size || length < 8)
      throw new ProfileError(`The tag “${signature}” reaches beyond the end of the profile, or is too short.`)
    return { signature, type: file.text(offset, 4), offset, size: length }
  })
  const cache = new Map<string, TagValue>()
  const idBytes = [...bytes.subarray(84, 100)]
  return {
    size,
    version: `${major}.${minor >> 4}`,
    profileClass,
    colorSpace,
    connectionSpace,
    createdAt: readDate(file, 24),
    intent: file.u32(64),
    id: idBytes.some(Boolean) ? idBytes.map((b) => b.toString(16).padStart(2, '0')).join('') : '',
    tags,
    read: (signature) => {
      const tag = tags.find((t) => t.signature === signature)
      if (!tag) return null
      // Tags may share their data, which is then kept once.
      const key = `${tag.offset} ${tag.size} ${signature.startsWith('B2A')}`
      const known = cache.get(key)
      if (known) return known
      const reader = new IccReader(whole, `The tag “${signature}”`, tag.offset, tag.size)
      const value = readTag(reader, { pcsXyz: connectionSpace === 'XYZ', signature })
      cache.set(key, value)
      return value
    },
  }
}

/** The text of a tag; empty when there is none. */
export function textOf(profile: IccProfile, signature: string): string {
  const value = profile.read(signature)
  return value?.kind === 'text' ? value.text : ''
}

/** The adaptation that a profile tells, from the display's white to D50; null when it tells none. */
export function adaptationIn(profile: IccProfile): Matrix3 | null {
  const chad = profile.read('chad')
  if (chad?.kind !== 'numbers' || chad.values.length < 9) return null
  const [a, b, c, d, e, f, g, h, i] = chad.values
  return [
    [a, b, c],
    [d, e, f],
    [g, h, i],
  ]
}
