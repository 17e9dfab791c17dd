import type { EntitySchemaColumnOptions } from 'typeorm'

/** Column kinds of the store. Times are UTC, ms since 1970. */
export const columns = {
  id: { type: 'integer', primary: true, generated: 'increment' },
  text: (name: string): EntitySchemaColumnOptions => ({ type: 'text', name }),
  textOrNull: (name: string): EntitySchemaColumnOptions => ({ type: 'text', name, nullable: true }),
  integer: (name: string): EntitySchemaColumnOptions => ({ type: 'integer', name }),
  integerOrNull: (name: string): EntitySchemaColumnOptions => ({ type: 'integer', name, nullable: true }),
  boolean: (name: string): EntitySchemaColumnOptions => ({ type: 'boolean', name }),
  real: (name: string): EntitySchemaColumnOptions => ({ type: 'real', name }),
  realOrNull: (name: string): EntitySchemaColumnOptions => ({ type: 'real', name, nullable: true }),
  json: (name: string): EntitySchemaColumnOptions => ({ type: 'simple-json', name }),
  jsonOrNull: (name: string): EntitySchemaColumnOptions => ({ type: 'simple-json', name, nullable: true }),
} as const satisfies Record<string, unknown>
