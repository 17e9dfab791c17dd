import type { Triple } from '../color/matrix3'

interface ColorJs {
  new (
    space: string,
    coords: readonly number[],
  ): { to(space: string): { coords: Triple }; deltaE(other: unknown, method: string): number }
  readonly WHITES: Readonly<Record<'D50' | 'D65', Triple>>
}

/** The library colorjs.io, by the little that tests ask of it. Its own types would bring those of the DOM into core. */
export const Color = (jest.requireActual('colorjs.io') as { default: ColorJs }).default
