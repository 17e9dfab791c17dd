import type { EntityManager, EntitySchema } from 'typeorm'

/** Stores a new row and gives its number. */
export async function insertRow<T extends { id: number }>(
  manager: EntityManager,
  entity: EntitySchema<T>,
  row: Omit<T, 'id'>,
): Promise<number> {
  const { identifiers } = await manager.insert(entity, row as never)
  return (identifiers[0] as { id: number }).id
}
