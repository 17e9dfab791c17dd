/** Numbers from 0 to 1 for tests, the same at every run: a linear congruential generator (Numerical Recipes, 1992). */
export function uniformFrom(seed: number): () => number {
  let state = seed >>> 0
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32
}
