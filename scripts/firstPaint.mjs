// What a browser has to fetch before it can show signing in and Floor, packed: the entry, what it imports at once, their
// styles. Fails when that is more than the limit.
import { readFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { web } from './webBuild.mjs'

const mostBytes = 280_000

const manifest = JSON.parse(readFileSync(`${web}/.vite/manifest.json`, 'utf8'))
const entry = Object.keys(manifest).find((name) => manifest[name].isEntry)
const files = new Set()
const seen = new Set()
const visit = (name) => {
  if (seen.has(name)) return
  seen.add(name)
  const { file, imports = [], css = [] } = manifest[name]
  for (const needed of [file, ...css]) files.add(needed)
  imports.forEach(visit)
}
visit(entry)

const packed = [...files].map((file) => ({ file, bytes: gzipSync(readFileSync(`${web}/${file}`)).length }))
const total = packed.reduce((sum, { bytes }) => sum + bytes, 0)
for (const { file, bytes } of packed.sort((a, b) => b.bytes - a.bytes).slice(0, 6))
  console.log(`${(bytes / 1000).toFixed(1).padStart(7)} kB  ${file}`)
console.log(
  `${(total / 1000).toFixed(1).padStart(7)} kB packed in ${packed.length} files; at most ${mostBytes / 1000} kB`,
)
process.exit(total > mostBytes ? 1 : 0)
