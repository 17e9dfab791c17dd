/** Milliseconds of a day. */
export const day = 86_400_000
