/**
 * What an instrument can have read of a display, each of X, Y, Z in cd/m². A little below zero is noise near black; no
 * display, and no lamp of a projector read at its screen, comes near the upper end.
 */
export const readingBounds = { least: -1, most: 100_000 } as const
