import { validate, type yup } from '@bichroma/contract'
import type { Request } from 'express'

/** What an address asks for after its question mark, as its schema wants it. Throws InvalidInput naming the field. */
export const queryOf = <T>(request: Request, schema: yup.Schema<T>): T => validate(schema, { ...request.query })
