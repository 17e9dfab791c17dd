// What must hold before work lands, and with --whole all that can be tried; ends with the line that counts.
import { spawn } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromiumPath } from './chromium.mjs'
import { findProgram, installDebian } from './debian.mjs'
import { installPackages } from './install.mjs'

/** Whether the long tests run too, those whose names end in “@long”. */
const whole = process.argv.includes('--whole')
/** Everything, each file in a sandbox of its own and its tests in any order; or what is not long, many files in one. */
const unitArgs = whole ? ['--randomize'] : ['--config', 'jest.together.cjs', '-t', '^(?!.*@long)']

installPackages()
if (!chromiumPath({ install: true })) {
  console.error('Chromium could not be installed; the end-to-end tests need it.')
  process.exit(1)
}
// What tests open PDF reports with.
if (!findProgram('pdftotext')) installDebian('poppler-utils')
// What makes the certificates of tests.
if (!findProgram('openssl')) installDebian('openssl')

const began = Date.now()
const results = mkdtempSync(join(tmpdir(), 'bichroma-results-'))
const total = { passed: 0, failed: 0 }

/** Runs a command to its end; with `held` its output is given back and not shown meanwhile. */
function run(command, args, { env, held = false } = {}) {
  const started = Date.now()
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: ['ignore', held ? 'pipe' : 'inherit', held ? 'pipe' : 'inherit'],
      env: { ...process.env, ...env },
    })
    let output = ''
    if (held) for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += chunk))
    child.on('error', (error) => resolve({ status: 1, output: `${error.message}\n`, seconds: 0 }))
    child.on('close', (status) => resolve({ status, output, seconds: (Date.now() - started) / 1000 }))
  })
}

const say = (name, { status, seconds }) =>
  console.log(`— ${name}: ${status === 0 ? 'fine' : 'FAILED'}, ${seconds.toFixed(0)} s`)

/** Adds what a step came to; `count` reads how many tests it held, else it counts as one. */
function add(status, count) {
  let counted = status === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
  if (count) {
    try {
      counted = count()
      if (status !== 0 && counted.failed === 0) counted.failed = 1
    } catch {
      counted = { passed: 0, failed: 1 }
    }
  }
  total.passed += counted.passed
  total.failed += counted.failed
}

/** Runs a step, its output shown as it comes. */
async function step(name, command, args, { count, env } = {}) {
  console.log(`\n— ${name}`)
  const ended = await run(command, args, { env })
  add(ended.status, count)
  say(name, ended)
}

/** Runs a step beside others; its output is shown once it has ended. */
async function beside(name, command, args) {
  const ended = await run(command, args, { held: true })
  add(ended.status)
  console.log(`\n— ${name}\n${ended.output}`.trimEnd())
  say(name, ended)
}

const read = (file) => JSON.parse(readFileSync(join(results, file), 'utf8'))

const template = join(results, 'demo')
const isWhole = (studio) => existsSync(join(studio, 'made-7'))
// The longest of all, and most of it waits for its couriers: it goes on beside the others until its studio is needed.
const demo = beside('demo data', process.execPath, ['--import', 'tsx', 'scripts/makeDemo.ts', '--folder', template])
await Promise.all([
  beside('types', 'npm', ['run', '-s', 'types']),
  beside('lint', 'npm', ['run', '-s', 'lint']),
  beside('formatting', 'npx', ['oxfmt', '--check']),
])
await Promise.all([
  beside('import rules', 'npm', ['run', '-s', 'imports']),
  beside('web application', process.execPath, ['scripts/webBuild.mjs']),
  beside('nothing unused', 'npm', ['run', '-s', 'unused']),
])
await step('first paint', 'node', ['scripts/firstPaint.mjs'])

let aside = 0
await step(
  'unit and integration tests',
  'npx',
  ['jest', '--silent=false', '--json', '--outputFile', join(results, 'jest.json'), ...unitArgs],
  {
    count: () => {
      const { numPassedTests, numFailedTests, numFailedTestSuites, numPendingTests } = read('jest.json')
      aside = numPendingTests
      return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites) }
    },
  },
)
await demo
await step(
  'end-to-end tests',
  'npx',
  ['playwright', 'test', '--reporter=list,json', ...(whole ? [] : ['--grep-invert', '@long'])],
  {
    // A studio that came to no end is made again there, for on half of one every test would fail for the same reason.
    env: {
      PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'e2e.json'),
      BICHROMA_DEMO_TEMPLATE: isWhole(template) ? template : '',
    },
    count: () => {
      const { expected, unexpected, flaky } = read('e2e.json').stats
      return { passed: expected, failed: unexpected + flaky }
    },
  },
)

rmSync(results, { recursive: true, force: true })
const minutes = ((Date.now() - began) / 60_000).toFixed(1)
console.log(
  `\n${minutes} min. ${whole ? 'Everything was tried.' : `${aside} long unit tests and those in the browser stood aside (“@long”): npm run test:whole tries them too.`}`,
)
console.log(`\n${total.passed} passed, ${total.failed} failed`)
process.exit(total.failed ? 1 : 0)
