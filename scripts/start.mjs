// Installs and builds what is missing, then starts the server of a studio and says where it is and what to do first.
import { spawn } from 'node:child_process'
import { installPackages } from './install.mjs'
import { builtProgram, nodeFlags } from './builtProgram.cjs'
import { buildPrograms } from './programs.mjs'
import { buildWeb, web } from './webBuild.mjs'

const args = process.argv.slice(2)
const server = (more) =>
  spawn(process.execPath, [...nodeFlags, builtProgram('packages/server/src/app/main.ts'), ...args, ...more], {
    stdio: ['ignore', 'pipe', 'inherit'],
  })

installPackages()
await buildPrograms()
const onlyTells = args.includes('--check') || args.includes('--print-config')
if (!onlyTells) buildWeb()
const told = (flag) => args.includes(`--${flag}`) || process.env[`BICHROMA_${flag.toUpperCase()}`] !== undefined
const child = server([...(told('web') ? [] : ['--web', web]), ...(told('log') ? [] : ['--log', 'info'])])

let said = ''
child.stdout.on('data', (chunk) => {
  if (onlyTells) return process.stdout.write(chunk)
  if (said.includes('\n')) return
  said += chunk
  const end = said.indexOf('\n')
  if (end < 0) return
  const { url, first } = JSON.parse(said.slice(0, end))
  console.log(`Bichroma runs at ${url}`)
  if (first)
    console.log(`\nNobody has an account yet. Open that address and make the first administrator with this token:\n
    ${first}\n\nIt holds until the server is started again.`)
  console.log('Stop with Ctrl C.')
})
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill('SIGTERM'))
child.on('exit', (code) => (process.exitCode = code ?? 1))
