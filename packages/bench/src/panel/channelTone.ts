/** A channel's native tone: a power with an S laid over it. 0 stays 0, 1 stays 1, rising for bows within ±0.4. */
export function channelLight(drive: number, exponent: number, bow: number): number {
  const bent = drive + bow * drive * (1 - drive) * (2 * drive - 1)
  return bent <= 0 ? 0 : bent ** exponent
}
