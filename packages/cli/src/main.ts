import { runCli } from './cli'
import { nodeIo } from './io'
import { runStudio } from './studio/studio'

const args = process.argv.slice(2)
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))
process.exitCode =
  args[0] === 'studio' ? await runStudio(args.slice(1), { ...nodeIo, env: process.env, pause }) : runCli(args, nodeIo)
