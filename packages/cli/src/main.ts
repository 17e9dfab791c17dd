import { runCli } from './cli'
import { nodeIo } from './io'

process.exitCode = runCli(process.argv.slice(2), nodeIo)
