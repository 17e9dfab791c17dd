/**
 * e to a power, at most e⁵⁰. Trends through readings of one minute are so steep that lines overflow within days: no light
 * grows as far, and no white is so far off that more than one light would be left in its u′v′.
 */
export const boundedExp = (power: number): number => Math.exp(Math.min(50, power))
