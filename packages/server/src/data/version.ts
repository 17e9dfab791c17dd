import { readFileSync } from 'node:fs'

/** Version of the software, as every report says it. */
export const version = (
  JSON.parse(readFileSync(new URL('../../../../package.json', import.meta.url), 'utf8')) as { version: string }
).version
