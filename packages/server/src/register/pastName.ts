import { dayOf } from '../data/dayOf'

/** What a thing is called that is there no more, so that another may have its name: “loft-01, until 2026-11-26”. */
export const pastName = (name: string, at: number): string => `${name.slice(0, 42)}, until ${dayOf(at)}`
