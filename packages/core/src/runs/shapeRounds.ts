/** A round of Shape as it came out. */
export interface RoundSeen {
  /** What it missed the aim by, ΔE2000 on average. */
  readonly missed: number
  /** How far left-out colours are from what is foretold of them, ΔE2000 on average, before the round and after it; null where nothing tells. */
  readonly foretold: { readonly before: number | null; readonly after: number | null }
}

/** Why Shape reads no further round: `as planned` where nothing tells whether more would help. */
export type WhyNoMore = 'near enough' | 'no nearer' | 'still nearer' | 'as planned'

/** What a round may miss by, and left-out colours be apart from what is foretold, for nothing more to be worth its minutes; ΔE2000. */
const [nearEnough, foretoldEnough] = [0.15, 0.12]
/** Share by which a figure falls that counts as falling. */
const gain = 0.1

const falls = (before: number | null, after: number | null) =>
  before !== null && after !== null && after < before * (1 - gain)

/**
 * Whether Shape reads another round, after those that it has read, of `planned` that the sampling has and `most` that
 * there is room for: null to go on, else why not. `repeatability` of the instrument (ΔE2000) where it is known. It ends
 * early when the round came near the aim and the fit foretells colours that it was not given; it goes beyond what was
 * planned while each round still brings the fit nearer.
 */
export function whyNoMoreRounds(
  rounds: readonly RoundSeen[],
  { planned, most, repeatability }: { planned: number; most: number; repeatability: number | null },
): WhyNoMore | null {
  const last = rounds.at(-1)
  if (!last) return most > 0 ? null : 'as planned'
  const near = last.missed <= Math.max(nearEnough, repeatability ?? 0)
  if (near && last.foretold.after !== null && last.foretold.after <= foretoldEnough) return 'near enough'
  if (rounds.length < planned) return null
  const earlier = rounds.at(-2)?.missed ?? null
  if (falls(last.foretold.before, last.foretold.after) || falls(earlier, last.missed))
    return rounds.length < most ? null : 'still nearer'
  return last.foretold.before === null && earlier === null ? 'as planned' : 'no nearer'
}
