import { spawn, type ChildProcess } from 'node:child_process'
import { join } from 'node:path'
import { builtProgram, nodeFlags } from '../builtProgram.cjs'

/** What a server under ordeal tells of itself. The delay is that of its loop since it was last reset, ms. */
export interface Told {
  readonly residentMb: number
  /** Of the main thread, in use. */
  readonly heapMb: number
  readonly delayMs: { readonly p99: number; readonly p999: number; readonly max: number }
  /** How long each reading took from its arrival until it was on the disk, ms. */
  readonly storedMs: readonly number[]
}

/** The repository's root, where npm and Jest start. */
const root = process.cwd()

/** The server as people start it: whoever starts the ordeals has built it. */
const serverProgram = builtProgram('packages/server/src/app/main.ts')

/** A server in a process of its own, as people start it, with a probe inside. */
export class ServerChild {
  /** What it wrote to its log. */
  log = ''
  exited: { code: number | null; signal: string | null } | null = null

  private constructor(
    readonly process: ChildProcess,
    readonly url: string,
  ) {}

  static start(
    dataDir: string,
    {
      port = 0,
      env = {},
      probe = true,
      program = serverProgram,
    }: { port?: number; env?: NodeJS.ProcessEnv; probe?: boolean; program?: string } = {},
  ): Promise<ServerChild> {
    const preload = probe ? ['--expose-gc', '--import', join(root, 'scripts/ordeal/probe.mjs')] : []
    const child = spawn(
      process.execPath,
      [
        ...nodeFlags,
        ...preload,
        ...(program.endsWith('.ts') ? ['--import', 'tsx'] : []),
        program,
        '--data',
        dataDir,
        '--port',
        String(port),
      ],
      { cwd: root, stdio: ['ignore', 'pipe', 'pipe', 'ipc'], env: { ...process.env, ...env } },
    )
    return new Promise((resolve, reject) => {
      let said = ''
      let log = ''
      let started: ServerChild | null = null
      child.stderr!.on('data', (chunk: Buffer) => {
        log += chunk.toString()
        if (started) started.log += chunk.toString()
      })
      child.stdout!.on('data', (chunk: Buffer) => {
        said += chunk.toString()
        if (started || !said.includes('\n')) return
        started = new ServerChild(child, (JSON.parse(said) as { url: string }).url)
        started.log = log
        resolve(started)
      })
      child.once('exit', (code, signal) => {
        if (started) started.exited = { code, signal }
        // What it wrote last may still be on its way.
        else setImmediate(() => reject(new Error(log.trim() || `The server ended with ${code ?? signal}.`)))
      })
    })
  }

  /** Asks the probe; `reset` begins to watch the loop anew. */
  ask(word: 'tell' | 'reset' = 'tell'): Promise<Told> {
    return new Promise((resolve, reject) => {
      if (this.exited) return reject(new Error(`The server has ended: ${this.log}`))
      this.process.once('message', (told) => resolve(told as Told))
      this.process.send(word)
    })
  }

  end(signal: NodeJS.Signals): Promise<void> {
    if (this.exited) return Promise.resolve()
    return new Promise((resolve) => {
      this.process.once('exit', () => resolve())
      this.process.kill(signal)
    })
  }
}
