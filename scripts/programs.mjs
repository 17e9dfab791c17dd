import { existsSync, mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import { builtProgram } from './builtProgram.cjs'
import { newest } from './newest.mjs'

const root = join(import.meta.dirname, '..')

/** Programs that run for long or are started often, and the threads that they start. */
const programs = [
  'packages/server/src/app/main.ts',
  'packages/server/src/app/restore.ts',
  'packages/server/src/app/archive/main.ts',
  'packages/server/src/app/threadWorker.ts',
  'packages/server/src/runs/solverWorker.ts',
  'packages/bench/src/main.ts',
]

/** Whether a program is missing, or older than what it is made of. */
function areOld() {
  const sources = Math.max(
    statSync(fileURLToPath(import.meta.url)).mtimeMs,
    ...['core', 'contract', 'server', 'courier', 'bench'].map((of) => newest(join(root, 'packages', of, 'src'))),
  )
  return programs.map(builtProgram).some((file) => !existsSync(file) || statSync(file).mtimeMs < sources)
}

/** What a source finds beside itself it finds there from where it is built too, and its threads are the built ones. */
const whereSourcesLie = (outfile) => ({
  name: 'where sources lie',
  setup: (build) =>
    build.onLoad({ filter: /packages\/[a-z]+\/src\/.*\.ts$/ }, ({ path }) => {
      const text = readFileSync(path, 'utf8')
      if (!text.includes('import.meta.url')) return undefined
      const builtWorker = (name) => builtProgram(relative(root, join(dirname(path), name)))
      const contents = text
        .replaceAll(/'([^']+Worker\.ts)'/g, (_, name) => JSON.stringify(relative(dirname(path), builtWorker(name))))
        .replaceAll(
          'import.meta.url',
          `new URL(${JSON.stringify(relative(dirname(outfile), path))}, import.meta.url).href`,
        )
      return { contents, loader: 'ts' }
    }),
})

/** Packages of others stay where they are installed. */
const packagesOfOthers = {
  name: 'packages of others',
  setup: (build) =>
    build.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || path.startsWith('@bichroma/') ? undefined : { path, external: true },
    ),
}

/**
 * Builds the programs when one is missing or older than what it is made of: a start takes a second instead of three, a
 * thread nearly none. Each is there whole or not at all, whoever builds beside.
 */
export async function buildPrograms() {
  if (!areOld()) return
  const { build } = await import('esbuild')
  const built = await Promise.all(
    programs.map(async (source) => {
      const outfile = builtProgram(source)
      const { outputFiles } = await build({
        absWorkingDir: root,
        entryPoints: [source],
        outfile,
        write: false,
        bundle: true,
        platform: 'node',
        format: 'esm',
        target: 'node20',
        plugins: [whereSourcesLie(outfile), packagesOfOthers],
        logLevel: 'error',
      })
      return outputFiles
    }),
  )
  for (const { path, contents } of built.flat()) {
    mkdirSync(dirname(path), { recursive: true })
    writeFileSync(`${path}.${process.pid}`, contents)
    renameSync(`${path}.${process.pid}`, path)
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildPrograms()
