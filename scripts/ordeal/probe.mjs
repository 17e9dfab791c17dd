// Preloaded into a server under ordeal: tells how much memory it holds and how long its loop was held up, when asked.
import { subscribe } from 'node:diagnostics_channel'
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { isMainThread } from 'node:worker_threads'

if (isMainThread && process.send) {
  const delay = monitorEventLoopDelay({ resolution: 5 })
  delay.enable()
  let stored = []
  subscribe('bichroma:reading-stored', ({ ms }) => stored.push(ms))
  process.on('message', (word) => {
    if (word === 'reset') {
      delay.reset()
      stored = []
    }
    globalThis.gc?.()
    const ms = (value) => value / 1e6
    const { rss, heapUsed } = process.memoryUsage()
    process.send({
      residentMb: rss / 2 ** 20,
      heapMb: heapUsed / 2 ** 20,
      delayMs: { p99: ms(delay.percentile(99)), p999: ms(delay.percentile(99.9)), max: ms(delay.max) },
      storedMs: stored,
    })
  })
}
