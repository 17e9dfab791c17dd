// Preloaded into a server by a test: breaks a promise that nobody catches, when told to.
import { isMainThread } from 'node:worker_threads'

if (isMainThread && process.send)
  process.on('message', () => void Promise.reject(new Error('a promise that nobody caught')))
