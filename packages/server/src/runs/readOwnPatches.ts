import { complaintOf, FormatError, readPatches } from '@bichroma/core/formats'
import { mostOwnPatches, ownCheckPatches, type Patch } from '@bichroma/core/runs'

/** The patches of a file, and those that a check adds to them; what is wrong with the file in a sentence that names it. */
export function readOwnPatches(fileName: string, text: string): Patch[] | { readonly complaint: string } {
  try {
    const own = readPatches(text)
    if (own.length > mostOwnPatches)
      throw new FormatError(`The file holds ${own.length} patches; a check takes ${mostOwnPatches} at most.`)
    return [...ownCheckPatches(own)]
  } catch (error) {
    if (!(error instanceof FormatError)) throw error
    return { complaint: complaintOf(fileName, error) }
  }
}
