/** A store that cannot be opened or owned, with a sentence that says what to do. */
export class StoreRefusal extends Error {
  constructor(readonly sentence: string) {
    super(sentence)
    this.name = 'StoreRefusal'
  }
}

/** What can be wrong with the disk under the store. */
export interface StoreFault {
  readonly kind: 'full' | 'busy' | 'read-only' | 'io' | 'damaged'
  readonly sentence: string
}

const faults: readonly (readonly [begins: string, fault: StoreFault])[] = [
  ['SQLITE_FULL', { kind: 'full', sentence: 'The disk of the server is full. Make room on it.' }],
  ['ENOSPC', { kind: 'full', sentence: 'The disk of the server is full. Make room on it.' }],
  [
    'SQLITE_BUSY',
    { kind: 'busy', sentence: 'Another program holds the store’s file. Close whatever else has it open.' },
  ],
  [
    'SQLITE_LOCKED',
    { kind: 'busy', sentence: 'Another program holds the store’s file. Close whatever else has it open.' },
  ],
  [
    'SQLITE_READONLY',
    { kind: 'read-only', sentence: 'The store may not be written. See that this account may write into its folder.' },
  ],
  ['SQLITE_CANTOPEN', { kind: 'io', sentence: 'The store’s file cannot be opened. See that its folder is there.' }],
  ['SQLITE_IOERR', { kind: 'io', sentence: 'The disk of the server failed while the store was read or written.' }],
  ['SQLITE_CORRUPT', { kind: 'damaged', sentence: 'The store’s file is damaged. Put a copy of it back.' }],
  ['SQLITE_NOTADB', { kind: 'damaged', sentence: 'The store’s file is damaged. Put a copy of it back.' }],
]

/** What an error says of the disk under the store; null when it is about something else. Knows TypeORM's wrapping. */
export function storeFault(error: unknown): StoreFault | null {
  const { code, driverError } = (error ?? {}) as { code?: unknown; driverError?: { code?: unknown } }
  const told = typeof driverError?.code === 'string' ? driverError.code : code
  if (typeof told !== 'string') return null
  return faults.find(([begins]) => told.startsWith(begins))?.[1] ?? null
}
