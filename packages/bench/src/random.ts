/** Standard normal numbers from uniform ones. Box and Muller 1958. */
export function normalFrom(uniform: () => number): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform())
}
