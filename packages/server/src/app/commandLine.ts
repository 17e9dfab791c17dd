import { parseArgs } from 'node:util'
import { StoreRefusal } from '../data/storeFault'

/**
 * Reads `--data DIR` and so many words of a command line; `usage` says how it is called. Prints that and ends for
 * `--help`; throws StoreRefusal with what was wrong and how it is called.
 */
export function readCommandLine(usage: string, most = 0): { data: string; words: string[] } {
  let read
  try {
    read = parseArgs({
      options: { data: { type: 'string', default: './data' }, help: { type: 'boolean', default: false } },
      allowPositionals: true,
    })
  } catch (error) {
    throw new StoreRefusal(`${(error as Error).message.split('. ')[0].replace(/\.$/, '')}. ${usage}`)
  }
  const { values, positionals } = read
  if (values.help) {
    process.stdout.write(`${usage}\n`)
    process.exit(0)
  }
  if (positionals.length > most) throw new StoreRefusal(`“${positionals[most]}” is one word too many. ${usage}`)
  return { data: values.data, words: positionals }
}
