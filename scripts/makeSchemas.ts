// Writes the JSON Schemas of the bench's files anew, from the Yup schemas that read them. `npm run schemas`.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { instrumentSchema, jsonSchemaOf, panelSchema, scenarioSchema } from '@bichroma/bench'

const folder = 'packages/bench/schema'
mkdirSync(folder, { recursive: true })
for (const [name, schema, title] of [
  ['panel', panelSchema, 'Panel file of the Bichroma bench'],
  ['instrument', instrumentSchema, 'Instrument file of the Bichroma bench'],
  ['scenario', scenarioSchema, 'Scenario file of the Bichroma bench'],
] as const)
  writeFileSync(join(folder, `${name}.schema.json`), `${JSON.stringify(jsonSchemaOf(schema, title), null, 2)}\n`)
