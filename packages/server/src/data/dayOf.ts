/** The day of an instant (ms since 1970), in UTC, as in 2026-11-24. */
export const dayOf = (at: number): string => new Date(at).toISOString().slice(0, 10)
