import type { Chromaticity } from '../color/chromaticity'
import type { Primaries } from '../color/encodings'

/** What a display says of itself over its cable. VESA E-EDID release A, revisions 1.3 and 1.4; CTA-861 for extensions. */
export interface Edid {
  /** Three letters registered to the maker. */
  readonly maker: string
  readonly productCode: number
  /** Null when the display gives none. */
  readonly serialNumber: number | null
  readonly week: number | null
  /** Of manufacture, or of the model where `week` is null and `isModelYear`. */
  readonly year: number
  readonly isModelYear: boolean
  readonly version: '1.3' | '1.4'
  /** cm; null for projectors and others without a size. */
  readonly size: { readonly width: number; readonly height: number } | null
  /** Exponent; null when it is told elsewhere. */
  readonly gamma: number | null
  readonly primaries: Primaries
  readonly white: Chromaticity
  /** The model's name, and the serial number as text. */
  readonly name: string
  readonly serialText: string
  /** Pixels of the preferred timing; null when there is none. */
  readonly pixels: { readonly width: number; readonly height: number } | null
  /** Bits per colour; null when not told. */
  readonly bits: number | null
  readonly extension: CtaExtension | null
}

/** What the CTA-861 extension adds for colour. */
export interface CtaExtension {
  readonly revision: number
  /** Names of the colorimetries that the display takes. */
  readonly colorimetry: readonly string[]
  /** Transfer functions for high dynamic range, and the luminances in cd/m² that the display wants content to know. */
  readonly hdr: {
    readonly transfers: readonly string[]
    readonly peak: number | null
    readonly frameAverage: number | null
    readonly least: number | null
  } | null
}

/** How an EDID is laid out: bytes of a block, the mark it begins with, and the sum of its bytes, which is to be 0. */
export const blockSize = 128
export const mark = [0, 255, 255, 255, 255, 255, 255, 0]
export const sumOf = (block: Uint8Array) => block.reduce((a, b) => a + b, 0) & 255

/** Bits of the CTA-861 extension by what they mean, lowest first. */
export const colorimetries = [
  'xvYCC601',
  'xvYCC709',
  'sYCC601',
  'opYCC601',
  'opRGB',
  'BT.2020 cYCC',
  'BT.2020 YCC',
  'BT.2020 RGB',
]
export const transfers = ['SDR gamma', 'HDR gamma', 'PQ', 'HLG']
