// Everything that must hold before work lands, one step after another; ends with the line that counts.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromiumPath } from './chromium.mjs'
import { findProgram, installDebian } from './debian.mjs'
import { installPackages } from './install.mjs'

installPackages()
if (!chromiumPath({ install: true })) {
  console.error('Chromium could not be installed; the end-to-end tests need it.')
  process.exit(1)
}
// What tests open PDF reports with.
if (!findProgram('pdftotext')) installDebian('poppler-utils')
// What makes the certificates of tests.
if (!findProgram('openssl')) installDebian('openssl')

const results = mkdtempSync(join(tmpdir(), 'bichroma-results-'))
const total = { passed: 0, failed: 0 }

/** Runs a step; `count` reads how many tests it held, else it counts as one. */
function step(name, command, args, { count, env } = {}) {
  const started = Date.now()
  console.log(`\n— ${name}`)
  const { status } = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } })
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
  console.log(`— ${name}: ${status === 0 ? 'fine' : 'FAILED'}, ${((Date.now() - started) / 1000).toFixed(0)} s`)
}

const read = (file) => JSON.parse(readFileSync(join(results, file), 'utf8'))

/** Runs steps side by side, two at a time as there are cores; each one's output is shown once it has ended. */
async function sideBySide(steps) {
  const waiting = [...steps]
  const worker = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [name, command, args] = next
      const started = Date.now()
      const { status, output } = await new Promise((resolve) => {
        const child = spawn(command, args)
        let text = ''
        for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (text += chunk))
        child.on('close', (code) => resolve({ status: code, output: text }))
      })
      total[status === 0 ? 'passed' : 'failed'] += 1
      console.log(
        `\n— ${name}\n${output}— ${name}: ${status === 0 ? 'fine' : 'FAILED'}, ${((Date.now() - started) / 1000).toFixed(0)} s`,
      )
    }
  }
  await Promise.all([worker(), worker()])
}

const template = join(results, 'demo')
const isWhole = (studio) => existsSync(join(studio, 'made-7'))
await sideBySide([
  ['demo data', process.execPath, ['--import', 'tsx', 'scripts/makeDemo.ts', '--folder', template]],
  ['types', 'npm', ['run', '-s', 'types']],
  ['lint', 'npm', ['run', '-s', 'lint']],
  ['formatting', 'npx', ['oxfmt', '--check']],
  ['import rules', 'npm', ['run', '-s', 'imports']],
  ['web application', process.execPath, ['scripts/webBuild.mjs']],
  ['nothing unused', 'npm', ['run', '-s', 'unused']],
])
step(
  'unit and integration tests',
  'npx',
  ['jest', '--silent=false', '--json', '--outputFile', join(results, 'jest.json')],
  {
    count: () => {
      const { numPassedTests, numFailedTests, numFailedTestSuites } = read('jest.json')
      return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites) }
    },
  },
)
step('first paint', 'node', ['scripts/firstPaint.mjs'])
step('end-to-end tests', 'npx', ['playwright', 'test', '--reporter=list,json'], {
  // A studio that came to no end is made again there, for on half of one every test would fail for the same reason.
  env: {
    PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'e2e.json'),
    BICHROMA_DEMO_TEMPLATE: isWhole(template) ? template : '',
  },
  count: () => {
    const { expected, unexpected, flaky } = read('e2e.json').stats
    return { passed: expected, failed: unexpected + flaky }
  },
})

rmSync(results, { recursive: true, force: true })
console.log(`\n${total.passed} passed, ${total.failed} failed`)
process.exit(total.failed ? 1 : 0)
