/** Little CMS compiled for WebAssembly, by the little that the benchmarks ask of it. */
declare module 'lcms-wasm' {
  interface LittleCms {
    /** 0 when the bytes are no profile. */
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number
    cmsCreate_sRGBProfile(): number
    cmsCreateTransform(
      from: number,
      inFormat: number,
      to: number,
      outFormat: number,
      intent: number,
      flags: number,
    ): number
    cmsDoTransform(transform: number, source: Uint8Array, pixels: number): Uint8Array
  }
  export function instantiate(): Promise<LittleCms>
  export function FLOAT_SH(v: number): number
  export function COLORSPACE_SH(v: number): number
  export function CHANNELS_SH(v: number): number
  export function BYTES_SH(v: number): number
  export const PT_RGB: number
  export const cmsFLAGS_NOOPTIMIZE: number
}
