// Installs what is missing, builds, makes the demo studio when there is none, starts server and bench, says where.
import { spawn } from 'node:child_process'
import { existsSync, readdirSync, rmSync, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { installPackages, must } from './install.mjs'

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
const { demoAccounts } = await importTs('./demoStudio.ts')

const web = 'packages/web/dist'
const newest = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .reduce((latest, f) => Math.max(latest, statSync(join(f.parentPath, f.name)).mtimeMs), 0)
const sources = Math.max(...['packages/web/src', 'packages/core/src', 'packages/contract/src'].map(newest))
if (!existsSync(`${web}/index.html`) || statSync(`${web}/index.html`).mtimeMs < sources) {
  console.log('Building the web application…')
  must('npm', ['run', '-s', 'build'])
}

if (values.reset) rmSync(values.data, { recursive: true, force: true })
if (!existsSync(`${values.data}/made`)) {
  rmSync(values.data, { recursive: true, force: true })
  console.log('Making the Fen & Lantern studio: four months of runs on the bench (about half a minute)…')
  must('npx', ['tsx', 'scripts/makeDemo.ts', '--folder', values.data])
}

const children = []
const stop = (code) => {
  for (const child of children) child.kill('SIGTERM')
  process.exitCode = code
}
process.once('SIGINT', () => stop(0))
process.once('SIGTERM', () => stop(0))

const port = (await free(Number(values.port))) ? values.port : '0'
const server = await start([
  'packages/server/src/main.ts',
  '--data',
  `${values.data}/data`,
  '--port',
  port,
  '--web',
  web,
])
const bench = await start([
  'packages/bench/src/main.ts',
  ...['--server', server.url, '--keys', `${values.data}/bench/keys.json`, '--state', `${values.data}/bench`],
  ...['--live', 'sedge-02', '--instrument', 'TC-0417@sedge-02', '--pace', values.pace],
])

console.log(`
Bichroma runs at ${server.url}
Sign in as one of:
${demoAccounts.map((a) => `  ${a.login.padEnd(8)} ${a.password.padEnd(20)} ${a.role}`).join('\n')}
Sedge 2 is live on the bench, at ${values.pace} times real pace. The bench's own control: ${bench.control}
Stop with Ctrl C. “npm run demo:reset” makes the studio anew.`)

/** Starts a program and waits for the line of JSON that it prints first. */
function start(args) {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['--import', 'tsx', ...args], { stdio: ['ignore', 'pipe', 'inherit'] })
    children.push(child)
    let text = ''
    child.stdout.on('data', (chunk) => {
      text += chunk
      const end = text.indexOf('\n')
      if (end > 0) resolve(JSON.parse(text.slice(0, end)))
    })
    child.on('exit', (code) => {
      if (code) stop(code)
      reject(new Error(`${args[0]} ended.`))
    })
  })
}

function free(port) {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })
}

async function importTs(path) {
  const { tsImport } = await import('tsx/esm/api')
  return tsImport(path, import.meta.url)
}
