import { mkdirSync, rmSync } from 'node:fs'
import { fleetFolder } from '/work/main/scripts/bench/fleetReads.ts'
for (const [n, v] of [[10000, 600000]] as const) {
  const f = `/tmp/fleet-${n}`
  rmSync(f, { recursive: true, force: true }); mkdirSync(f)
  await fleetFolder(f, { displays: n, validations: v })
  console.log(f)
}
