import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'

/** SHA-256 of bytes as 64 lower-case hexadecimal digits: the name under which a table, profile or report is kept. */
export const contentHash = (bytes: Uint8Array): string => bytesToHex(sha256(bytes))
