/** Evenly spread numbers in 0–1 from a seed, the same everywhere: mulberry32 (T. Ettinger, 2017, public domain). */
export function uniformFrom(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32
  }
}

/** Standard normal numbers from uniform ones. G. E. P. Box, M. E. Muller, Ann. Math. Stat. 29, 1958. */
export function normalFrom(uniform: () => number): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform())
}
