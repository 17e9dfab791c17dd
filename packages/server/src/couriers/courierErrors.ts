import type { FaultKind } from '@bichroma/contract'

/** The courier hung up, was never there, or does not answer. */
export class CourierGone extends Error {
  constructor() {
    super('The courier is not connected.')
    this.name = 'CourierGone'
  }
}

/** A device refused, with the courier's sentence. */
export class DeviceRefusal extends Error {
  constructor(
    readonly kind: FaultKind,
    readonly sentence: string,
  ) {
    super(sentence)
    this.name = 'DeviceRefusal'
  }
}

/** A courier that is not taken in, with the sentence that it is told. */
export class CourierRefused extends Error {}
