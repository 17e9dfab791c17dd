import { InvalidInput, validate, type yup } from '@bichroma/contract'
import type { Request } from 'express'

/** What an address asks for after its question mark, as its schema wants it. Throws InvalidInput naming the field. */
export function queryOf<S extends yup.AnySchema>(request: Request, schema: S): yup.InferType<S> {
  const query = { ...request.query }
  const twice = Object.keys(query).find((field) => Array.isArray(query[field]))
  if (twice !== undefined)
    throw new InvalidInput(`“${twice}” stands in the address more than once. Give it once.`, twice)
  return validate(schema, query)
}
