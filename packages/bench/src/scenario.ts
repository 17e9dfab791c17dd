import type { CourierInstrument } from '@bichroma/contract'
import type { HostTraits } from './host/benchHost'
import type { DisplayTraits } from './panel/benchDisplay'

/** One workstation with the displays it drives. */
export interface WorkstationScenario {
  readonly host: HostTraits
  readonly room: string
  /** The display's name in the studio, besides what it says of itself. */
  readonly displays: readonly (DisplayTraits & { readonly name: string })[]
}

/** Everything that a bench stands in for. Deterministic from its seed at a given sequence of commands. */
export interface Scenario {
  readonly studio: string
  readonly seed: number
  readonly workstations: readonly WorkstationScenario[]
  readonly instruments: readonly CourierInstrument[]
}
