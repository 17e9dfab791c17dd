/** An entry of the ledger as it is stored. */
export interface ChainedEntry {
  readonly id: number
  /** UTC, ms since 1970. */
  readonly at: number
  readonly accountId: number | null
  readonly by: string
  readonly act: string
  readonly thing: string
  readonly thingId: number | null
  readonly name: string
  /** Changes, reason and evidence as JSON. */
  readonly told: string
  /** The hash of the entry before it; {@link chainStart} for the first. */
  readonly previous: string
  readonly hash: string
}

/** SHA-256 of a text in UTF-8, hexadecimal; handed in, for programs have faster ones than there is here. */
export type Sha256 = (text: string) => string

/** What stands for the entry before the first. */
export const chainStart = ''

/** The hash of an entry: of the one before it and of its own contents, as JSON. */
export const entryHash = (
  sha256: Sha256,
  { previous, at, accountId, by, act, thing, thingId, name, told }: Omit<ChainedEntry, 'id' | 'hash'>,
): string => sha256(JSON.stringify([previous, at, accountId, by, act, thing, thingId, name, told]))

/** What looking through a ledger found. */
export interface ChainProof {
  readonly entries: number
  /** The last entry's hash; null for an empty ledger. */
  readonly head: string | null
  /** Entries that were changed, or stand where others were taken out or put in between. */
  readonly faults: readonly { readonly id: number; readonly what: string }[]
}

/** Looks entries through, one after another in their order. */
export class ChainCheck {
  private readonly faults: { id: number; what: string }[] = []
  private previous = chainStart
  private entries = 0
  private last = 0

  constructor(private readonly sha256: Sha256) {}

  take(entry: ChainedEntry): void {
    const { id } = entry
    if (id !== this.last + 1)
      this.faults.push({ id, what: `entries ${this.last + 1} to ${id - 1} are missing before it` })
    if (entry.previous !== this.previous) this.faults.push({ id, what: 'it does not follow the entry before it' })
    if (entry.hash !== entryHash(this.sha256, entry)) this.faults.push({ id, what: 'it was changed' })
    this.previous = entry.hash
    this.last = id
    this.entries++
  }

  /** `given`: the last number that the store gave out, which tells of entries that were cut off; undefined for none. */
  end(given: number | undefined): ChainProof {
    const { faults, last, entries } = this
    if (given !== undefined && given !== last)
      faults.push({ id: given, what: `entries ${last + 1} to ${given} are missing at the end` })
    return { entries, head: entries ? this.previous : null, faults }
  }
}
