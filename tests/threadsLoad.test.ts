import { readFileSync } from 'node:fs'
import { builtProgram } from '../scripts/builtProgram.cjs'

/** Packages that a built program loads as soon as it is started. */
const loadedBy = (source: string): string[] => [
  ...new Set(
    [
      ...readFileSync(builtProgram(source), 'utf8').matchAll(/^import [^;]*?from "([^"]+)";$|^import "([^"]+)";$/gm),
    ].map(([, named, bare]) => named ?? bare),
  ),
]

// They come and go with what there is to do, and whoever asked waits while they load.
test.each(['packages/server/src/app/threadWorker.ts', 'packages/server/src/runs/solverWorker.ts'])(
  'a thread of %s loads nothing that serves requests, and no library for PDF before it writes one',
  (source) => {
    const loaded = loadedBy(source)
    for (const heavy of ['typeorm', 'express', 'pino', 'ws', 'pdfkit', 'svg-to-pdfkit', 'archiver'])
      expect(loaded).not.toContain(heavy)
  },
)

test('what the server loads is seen in the same way', () => {
  expect(loadedBy('packages/server/src/app/main.ts')).toEqual(expect.arrayContaining(['typeorm', 'express']))
})
