import { PNG } from 'pngjs'
import { readFileSync, writeFileSync } from 'node:fs'
const [out, cols, ...files] = process.argv.slice(2)
const pics = files.map((f) => PNG.sync.read(readFileSync(f)))
const n = +cols,
  w = Math.max(...pics.map((p) => p.width)),
  h = Math.max(...pics.map((p) => p.height))
const all = new PNG({ width: w * n, height: h * Math.ceil(pics.length / n) })
pics.forEach((p, i) => PNG.bitblt(p, all, 0, 0, p.width, p.height, (i % n) * w, Math.floor(i / n) * h))
writeFileSync(out, PNG.sync.write(all))
