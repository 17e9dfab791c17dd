// Installs what is missing, builds, makes the demo studio when there is none, starts server and bench, says where.
import { existsSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { parseArgs } from 'node:util'
import { installPackages, must } from './install.mjs'
import { Processes } from './processes.mjs'
import { buildWeb, web } from './webBuild.mjs'

const { values } = parseArgs({
  options: {
    data: { type: 'string', default: '.demo' },
    port: { type: 'string', default: '4610' },
    // At this pace a full run of about four minutes takes about one.
    pace: { type: 'string', default: '4' },
    reset: { type: 'boolean', default: false },
  },
})

installPackages()
const { tsImport } = await import('tsx/esm/api')
const { demoAccounts } = await tsImport('./demoStudio.ts', import.meta.url)
buildWeb()

if (values.reset) rmSync(values.data, { recursive: true, force: true })
if (!existsSync(`${values.data}/made`)) {
  // A folder without its mark was left half made.
  rmSync(values.data, { recursive: true, force: true })
  console.log('Making the Fen & Lantern studio: four months of runs on the bench (about half a minute)…')
  must('npx', ['tsx', 'scripts/makeDemo.ts', '--folder', values.data])
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
const { url, control } = await processes.startDemo({ folder: values.data, port, pace: values.pace, web })

console.log(`
Bichroma runs at ${url}
Sign in as one of:
${demoAccounts.map((a) => `  ${a.login.padEnd(8)} ${a.password.padEnd(20)} ${a.role}`).join('\n')}
Sedge 2 is live on the bench, at ${values.pace} times real pace. The bench's own control: ${control}
Stop with Ctrl C. “npm run demo:reset” makes the studio anew.`)

function free(port) {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })
}
