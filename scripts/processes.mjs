import { spawn } from 'node:child_process'
import { createServer } from 'node:net'
import { builtProgram, nodeFlags } from './builtProgram.cjs'
import { buildPrograms } from './programs.mjs'

/** How the demo's studio stands: two workstations are switched off, and the instruments lie where they were last used. */
const fenLantern = [
  ...['--away', 'sedge-01,field-02'],
  ...[
    'TC-0417@sedge-02',
    'TC-0522@dome-02',
    'TC-0288@diorama-01',
    'HS-0031@plate-01',
    // It watches the light of its room.
    'TC-0119@diorama-03:diffuser',
  ].flatMap((place) => ['--instrument', place]),
]

/** A port that is free at this moment. */
const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', reject)
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address()
      probe.close(() => resolve(port))
    })
  })

/** Programs of this checkout, built as they are now; stopped together. */
export class Processes {
  #children = []
  /** Called when a program ends with an error. */
  onFailure = () => {}

  /** Starts a program, by its source, and waits for the line of JSON that it prints first. */
  async start([source, ...args]) {
    await buildPrograms()
    return new Promise((resolve, reject) => {
      const child = spawn(process.execPath, [...nodeFlags, builtProgram(source), ...args], {
        stdio: ['ignore', 'pipe', 'inherit'],
      })
      this.#children.push(child)
      let text = ''
      child.stdout.on('data', (chunk) => {
        text += chunk
        const end = text.indexOf('\n')
        if (end > 0) resolve(JSON.parse(text.slice(0, end)))
      })
      child.on('exit', (code) => {
        if (code) this.onFailure(code)
        reject(new Error(`${source} ended.`))
      })
    })
  }

  #startServer({ folder, port, web, mail }) {
    return this.start([
      'packages/server/src/app/main.ts',
      ...['--data', `${folder}/data`, '--port', port, '--web', web],
      ...['--smtp', `smtp://127.0.0.1:${mail}`, '--mail-from', 'rounds@fen-and-lantern.example'],
    ])
  }

  /**
   * Starts server and bench on a demo folder; gives the address of the product and of the bench's control, and a function
   * that kills the server and starts another on the same folder and port. `counted`: time on the bench passes by what is
   * done alone.
   */
  async startDemo({ folder, port, pace, web, scenario, counted }) {
    // The server is told before the bench is there where its mail will go.
    const mail = await freePort()
    const server = await this.#startServer({ folder, port, web, mail })
    let serverChild = this.#children.at(-1)
    const restartServer = async () => {
      const gone = new Promise((resolve) => serverChild.once('exit', resolve))
      serverChild.kill('SIGKILL')
      await gone
      await this.#startServer({ folder, port: new URL(server.url).port, web, mail })
      serverChild = this.#children.at(-1)
    }
    const bench = await this.start([
      'packages/bench/src/main.ts',
      ...['--server', server.url, '--keys', `${folder}/bench/keys.json`, '--state', `${folder}/bench`],
      ...['--pace', pace, '--mail', String(mail)],
      ...(counted ? ['--counted'] : []),
      ...(scenario ? ['--scenario', scenario] : fenLantern),
    ])
    return { url: server.url, control: bench.control, restartServer }
  }

  stop() {
    for (const child of this.#children) child.kill('SIGTERM')
  }
}
