const { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } = require('node:fs')
const { join } = require('node:path')

const root = join(__dirname, '..')
const folder = join(root, 'build/together')
/** What the files of a group come to at most, in characters of source. */
const most = 60_000

const testsBelow = (at) =>
  readdirSync(join(root, at), { recursive: true })
    .filter((name) => /\.test\.tsx?$/.test(name) && !name.includes('node_modules'))
    .map((name) => join(at, name))
    .sort()

function read(path) {
  const text = readFileSync(join(root, path), 'utf8')
  return {
    path,
    size: text.length,
    /** The line with which it asks for an environment of its own. */
    environment: /^\/\*\* @jest-environment .*/.exec(text)?.[0] ?? '',
    // What it puts in a module's place would be there for its neighbours too.
    alone: text.includes('jest.mock('),
  }
}

/** Neighbours together, as many as fit, for they use the same modules. */
function groupsOf(files) {
  const groups = []
  let size = most
  for (const file of files) {
    size += file.size
    if (size <= most) groups.at(-1).push(file)
    else {
      groups.push([file])
      size = file.size
    }
  }
  return groups
}

function textOf(files) {
  const { environment } = files[0]
  return [
    environment,
    // It cleans up after each test of who loads it first: here that is all of them.
    environment && "require('@testing-library/react')",
    ...files.map(({ path }) => `describe('${path}', () => void require('../../${path}'))`),
    '',
  ].join('\n')
}

/** Writes files of tests that load others one after the other, into build/together. */
module.exports = function writeGroups() {
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  // Those that wait for servers first: others fill their waits.
  const files = ['tests', 'packages'].flatMap(testsBelow).map(read)
  const shared = files.filter(({ alone }) => !alone)
  const groups = [
    ...groupsOf(shared.filter(({ path }) => path.startsWith('tests'))),
    ...groupsOf(shared.filter(({ environment }) => environment)),
    ...groupsOf(shared.filter(({ path, environment }) => !environment && path.startsWith('packages'))),
    ...files.filter(({ alone }) => alone).map((file) => [file]),
  ]
  for (const [at, group] of groups.entries())
    writeFileSync(join(folder, `${String(at + 1).padStart(2, '0')}.test.cjs`), textOf(group))
}
