/** Constants of hybrid log-gamma. ITU-R BT.2100-2 table 5. */
const a = 0.17883277
const b = 1 - 4 * a
const c = 0.5 - a * Math.log(4 * a)

/** Scene light 0–1 of an HLG signal 0–1. ITU-R BT.2100-2 table 5, inverse OETF. */
export const decodeHlg = (signal: number): number =>
  signal <= 0.5 ? (signal * signal) / 3 : (Math.exp((signal - c) / a) + b) / 12

/** HLG signal 0–1 of scene light 0–1. Exact inverse of {@link decodeHlg}. */
export const encodeHlg = (light: number): number =>
  light <= 1 / 12 ? Math.sqrt(3 * light) : a * Math.log(12 * light - b) + c

/**
 * The system gamma of a display whose white has a luminance (cd/m²): 1.2 at 1,000, by the extended formula, which holds
 * from well below 400 to above 2,000. ITU-R BT.2390-8 §6.2; BT.2100-2 note 5f.
 */
export const hlgSystemGamma = (luminance: number): number => 1.2 * 1.111 ** Math.log2(luminance / 1000)
