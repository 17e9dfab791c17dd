// Seeds mistakes into parts of core, one after another, and tells which of them the tests beside that code let pass.
import { spawnSync } from 'node:child_process'

const all = ['rollout', 'drift', 'aims']
const asked = process.argv.slice(2)
const wrong = asked.find((part) => !all.includes(part))
if (wrong) {
  console.error(`There is no part “${wrong}”; parts are ${all.join(', ')}.`)
  process.exit(2)
}
let worst = 0
for (const part of asked.length ? asked : all) {
  const files = [`packages/core/src/${part}/*.ts`, '!packages/core/src/**/index.ts', '!packages/core/src/**/*.test.ts']
  const { status } = spawnSync('npx', ['stryker', 'run', 'stryker.config.json', '--mutate', files.join()], {
    stdio: 'inherit',
    env: { ...process.env, MUTANTS_OF: part },
  })
  worst = Math.max(worst, status ?? 1)
}
process.exit(worst)
