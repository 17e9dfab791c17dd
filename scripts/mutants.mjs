// Seeds mistakes into parts of the code, one after another, and tells which of them their tests let pass.
import { execFileSync, spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'

/** Rules of core are tried by the tests beside them without the long ones; the server's rollout by those that work it. */
const beside = (part) => ({
  files: `packages/core/src/${part}/*.ts`,
  tests: [`packages/core/src/${part}/**/*.test.ts`],
})
const parts = {
  rollout: beside('rollout'),
  drift: beside('drift'),
  aims: beside('aims'),
  // Each of these tests works couriers for seconds: a share of the lines has to do.
  'server-rollout': {
    files: 'packages/server/src/rollout/**/*.ts',
    tests: ['packages/server/src/rollout/**/*.test.ts', 'tests/rollout.test.ts', 'tests/handRollout.test.ts'],
    long: true,
    share: { lines: 6, of: 72 },
  },
}
const asked = process.argv.slice(2)
const wrong = asked.find((part) => !(part in parts))
if (wrong) {
  console.error(`There is no part “${wrong}”; parts are ${Object.keys(parts).join(', ')}.`)
  process.exit(2)
}

/** Files as Stryker takes them; of those of which a share has to do, so many lines of so many. */
function mutated({ files, share }) {
  const all = execFileSync('git', ['ls-files', `:(glob)${files}`], { encoding: 'utf8' })
    .split('\n')
    .filter((file) => file && !/(^|\/)index\.ts$|\.test\.ts$/.test(file))
  if (!share) return all
  return all.flatMap((file, n) => {
    const lines = readFileSync(file, 'utf8').split('\n').length
    // Not the imports of every file: each begins elsewhere.
    const first = 1 + ((n * 13) % share.of)
    const starts = Array.from({ length: Math.ceil((lines - first) / share.of) }, (_, i) => first + i * share.of)
    return starts.map((start) => `${file}:${start}-${Math.min(lines, start + share.lines - 1)}`)
  })
}

let worst = 0
for (const part of asked.length ? asked : Object.keys(parts)) {
  const { tests, long } = parts[part]
  const { status } = spawnSync(
    'npx',
    ['stryker', 'run', 'stryker.config.json', '--mutate', mutated(parts[part]).join()],
    {
      stdio: 'inherit',
      env: { ...process.env, MUTANTS_TESTS: tests.join(), MUTANTS_LONG: long ? '1' : '' },
    },
  )
  worst = Math.max(worst, status ?? 1)
}
process.exit(worst)
