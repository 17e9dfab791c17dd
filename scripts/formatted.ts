import { readFileSync } from 'node:fs'
import { format } from 'oxfmt'

/** A text as `npm run format` leaves it, by the kind of file that it is for. */
export async function formatted(file: string, text: string): Promise<string> {
  const { code, errors } = await format(file, text, JSON.parse(readFileSync('.oxfmtrc.json', 'utf8')))
  if (errors.length) throw new Error(`${file}: ${errors[0].message}`)
  return code
}
