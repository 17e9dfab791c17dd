import { centre, type Place } from '../panel/surface'

/** How an instrument sits on the glass, and what is in front of its lens. */
export interface Seat {
  readonly place: Place
  /** How far one edge is lifted: 0 flat, 1 upright. */
  readonly tilt: number
  readonly optics: 'open' | 'cover' | 'diffuser'
}

export const flat: Seat = { place: centre, tilt: 0, optics: 'open' }

/** Light of the display that a tilted instrument loses, and light of the room that its lifted edge lets in. */
export const seatLosses = ({ tilt }: Seat) => ({
  lost: 0.12 * tilt,
  /** Share of a white wall under the room's light that is let in. */
  roomShare: 0.05 * tilt,
})

/** How a knock leaves an instrument: lifted at an edge and slid aside. */
export const knocked: Seat = { place: { x: 0.16, y: -0.1 }, tilt: 0.25, optics: 'open' }
