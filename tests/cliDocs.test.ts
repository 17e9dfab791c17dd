import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { runCli } from '../packages/cli/src/cli'

const document = 'docs/cli.md'
const prompt = '$ npm run -s bichroma -- '
const text = readFileSync(document, 'utf8')
const home = process.cwd()
let folder = ''

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-docs-'))
  cpSync('packages/cli/samples', join(folder, 'packages/cli/samples'), { recursive: true })
  process.chdir(folder)
})
afterAll(() => {
  process.chdir(home)
  rmSync(folder, { recursive: true, force: true })
  // UPDATE_DOCS=1 npx jest tests/cliDocs: writes what the commands print into the document.
  if (process.env.UPDATE_DOCS) writeFileSync(document, updated)
})

/** Words of a command line, with double quotes around those that hold spaces. */
const wordsOf = (line: string) => [...line.matchAll(/"([^"]*)"|(\S+)/g)].map((m) => m[1] ?? m[2])

const examples = [...text.matchAll(/```\n(\$ npm run -s bichroma -- .*)\n([\s\S]*?)```/g)]
let updated = text

test.each(examples.map(([block, command, printed]) => [command.slice(prompt.length), printed, block] as const))(
  '%s @long',
  (command, printed, block) => {
    const lines: string[] = []
    const io = {
      print: (t: string) => lines.push(t),
      complain: (t: string) => lines.push(t),
      now: () => Date.UTC(2026, 10, 24, 9, 30),
    }
    runCli(wordsOf(command), io)
    const now = `${lines.join('\n')}\n`
    updated = updated.replace(block, () => `\`\`\`\n${prompt}${command}\n${now}\`\`\``)
    if (!process.env.UPDATE_DOCS) expect(printed).toBe(now)
  },
)

test('there are examples', () => expect(examples.length).toBeGreaterThan(10))
