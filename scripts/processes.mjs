import { spawn } from 'node:child_process'

/** Programs of this checkout, started with tsx; stopped together. */
export class Processes {
  #children = []
  /** Called when a program ends with an error. */
  onFailure = () => {}

  /** Starts a program and waits for the line of JSON that it prints first. */
  start(args) {
    return new Promise((resolve, reject) => {
      const child = spawn(process.execPath, ['--import', 'tsx', ...args], { stdio: ['ignore', 'pipe', 'inherit'] })
      this.#children.push(child)
      let text = ''
      child.stdout.on('data', (chunk) => {
        text += chunk
        const end = text.indexOf('\n')
        if (end > 0) resolve(JSON.parse(text.slice(0, end)))
      })
      child.on('exit', (code) => {
        if (code) this.onFailure(code)
        reject(new Error(`${args[0]} ended.`))
      })
    })
  }

  /** Starts server and bench on a demo folder; gives the address of the product and of the bench's control. */
  async startDemo({ folder, port, pace, web }) {
    const server = await this.start([
      'packages/server/src/main.ts',
      '--data',
      `${folder}/data`,
      '--port',
      port,
      '--web',
      web,
    ])
    const bench = await this.start([
      'packages/bench/src/main.ts',
      ...['--server', server.url, '--keys', `${folder}/bench/keys.json`, '--state', `${folder}/bench`],
      ...['--live', 'sedge-02', '--instrument', 'TC-0417@sedge-02', '--pace', pace],
    ])
    return { url: server.url, control: bench.control }
  }

  stop() {
    for (const child of this.#children) child.kill('SIGTERM')
  }
}
