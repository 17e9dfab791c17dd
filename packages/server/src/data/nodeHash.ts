import { createHash } from 'node:crypto'

/** SHA-256 in hexadecimal by Node's own code: tables of half a megabyte pass through here several times a run. */
export const nodeHash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')
