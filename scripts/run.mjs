// Runs one of the programs that are built, by its source, with whatever follows it.
import { spawnSync } from 'node:child_process'
import { builtProgram } from './builtProgram.cjs'
import { buildPrograms } from './programs.mjs'

const [source, ...args] = process.argv.slice(2)
await buildPrograms()
process.exitCode = spawnSync(process.execPath, [builtProgram(source), ...args], { stdio: 'inherit' }).status ?? 1
