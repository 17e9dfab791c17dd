import { execFileSync } from 'node:child_process'
import type { Triple } from '../color/matrix3'

/** Colours for Little CMS: signals 0–1, and CIELAB under D50. */
export interface ColorsForLittleCms {
  readonly rgb?: readonly Triple[]
  readonly lab?: readonly Triple[]
}

/** Attempts, each of which is given so long (ms): once in some hundred times a process of its kind never ends. */
const [attempts, patience] = [3, 60_000]

/** What Little CMS makes of colours through a profile, relative colorimetric; `program`: the path of littleCmsProcess.mjs. */
export function runLittleCms(
  program: string,
  profile: Uint8Array,
  colors: ColorsForLittleCms,
): { xyz: Triple[]; lab: Triple[]; signal: Triple[] } {
  const input = JSON.stringify({ profile: Buffer.from(profile).toString('base64'), ...colors })
  for (let attempt = 1; ; attempt++)
    try {
      // On one thread: WebAssembly that is still being compiled behind it can keep a process from ending.
      const told = execFileSync(process.execPath, ['--single-threaded', program], {
        input,
        maxBuffer: 1 << 26,
        timeout: patience,
      })
      return JSON.parse(told.toString())
    } catch (error) {
      if (attempt === attempts || (error as NodeJS.ErrnoException).code !== 'ETIMEDOUT') throw error
    }
}
