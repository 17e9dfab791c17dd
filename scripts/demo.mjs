// Installs what is missing, builds, makes the demo studio when there is none, starts server and bench, says where.
import { existsSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { basename } from 'node:path'
import { parseArgs } from 'node:util'
import { installPackages, must } from './install.mjs'
import { Processes } from './processes.mjs'
import { buildWeb, web } from './webBuild.mjs'

const { values } = parseArgs({
  options: {
    data: { type: 'string' },
    port: { type: 'string', default: '4610' },
    // At this pace a full run of about four minutes takes about one.
    pace: { type: 'string', default: '4' },
    // A studio of one's own in place of Fen & Lantern.
    scenario: { type: 'string' },
    reset: { type: 'boolean', default: false },
  },
})

// Each studio has a folder of its own.
const folder = values.data ?? (values.scenario ? `.demo-${basename(values.scenario, '.json')}` : '.demo')

installPackages()
const { tsImport } = await import('tsx/esm/api')
const { demoAccounts } = await tsImport('./demoStudio.ts', import.meta.url)
buildWeb()

// A demo that runs on this folder is left alone: neither made anew under its hands, nor joined by a second.
const { ownFolder } = await tsImport('../packages/server/src/data/folderLock.ts', import.meta.url)
try {
  if (existsSync(folder)) ownFolder(`${folder}/data`, Date.now).release()
} catch (error) {
  console.error(error.sentence ?? error.message)
  process.exit(1)
}
if (values.reset) rmSync(folder, { recursive: true, force: true })
if (!existsSync(`${folder}/made-7`)) {
  // A folder without its mark was left half made, or made by an older version.
  rmSync(folder, { recursive: true, force: true })
  console.log(
    values.scenario
      ? `Making the studio of ${values.scenario}…`
      : 'Making the Fen & Lantern studio: eighteen months of runs on the bench (two minutes)…',
  )
  must('npx', [
    'tsx',
    'scripts/makeDemo.ts',
    ...['--folder', folder],
    ...(values.scenario ? ['--scenario', values.scenario] : []),
  ])
}

const processes = new Processes()
const stop = (code) => {
  processes.stop()
  process.exitCode = code
}
processes.onFailure = stop
process.once('SIGINT', () => stop(0))
process.once('SIGTERM', () => stop(0))

const port = (await free(Number(values.port))) ? values.port : '0'
const { url, control } = await processes
  .startDemo({ folder, port, pace: values.pace, web, scenario: values.scenario })
  .catch(() => {
    // What ended has said why.
    processes.stop()
    process.exit(1)
  })

console.log(`
Bichroma runs at ${url}
Sign in as one of:
${demoAccounts.map((a) => `  ${a.login.padEnd(8)} ${a.password.padEnd(20)} ${a.role}`).join('\n')}
The displays are simulated, at ${values.pace} times real pace. Hands for them, on the bench panel: ${control}
Stop with Ctrl C. “npm run demo:reset” makes the studio anew.`)

function free(port) {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })
}
