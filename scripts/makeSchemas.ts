// Writes anew: the JSON Schemas of the bench's files, from the Yup schemas that read them; and those of the API's answers,
// from their types. `npm run schemas`.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { instrumentSchema, panelSchema, scenarioSchema } from '@bichroma/bench'
import { jsonSchemaFile } from '@bichroma/contract'
import { answerSchemas } from './answerSchemas'

const folder = 'packages/bench/schema'
mkdirSync(folder, { recursive: true })
for (const [name, schema, title] of [
  ['panel', panelSchema, 'Panel file of the Bichroma bench'],
  ['instrument', instrumentSchema, 'Instrument file of the Bichroma bench'],
  ['scenario', scenarioSchema, 'Scenario file of the Bichroma bench'],
] as const)
  writeFileSync(join(folder, `${name}.schema.json`), `${JSON.stringify(jsonSchemaFile(schema, title), null, 2)}\n`)

writeFileSync('packages/server/src/app/openapi/answers.json', `${JSON.stringify(answerSchemas())}\n`)
