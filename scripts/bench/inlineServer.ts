// The server with everything on its one loop: what it would be without threads. For `npm run bench loop` only.
import { parseArgs } from 'node:util'
import { startServer } from '@bichroma/server'

const { values } = parseArgs({ options: { data: { type: 'string' }, port: { type: 'string', default: '0' } } })
const { url } = await startServer({ dataDir: values.data!, port: Number(values.port) })
console.log(JSON.stringify({ url }))
